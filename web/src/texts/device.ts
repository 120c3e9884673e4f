/** Words of what is kept on the device, the session, and what a person must be told. */
export const device = {
  sent: "all sent",
  waiting: (count: number) => (count === 1 ? "1 entry waits" : `${count} entries wait`),
  refused: (count: number) => (count === 1 ? "1 entry was refused" : `${count} entries were refused`),
  away: "the server does not answer",
  title: "Entries on this device",
  lead: "An entry stays here until the server has it. A refused one waits for you: correct it, try again, or discard it.",
  empty: "Nothing waits: the server has everything that was entered here.",
  others: (who: string, count: number) =>
    count === 1
      ? `1 entry of ${who} waits on this device. It is sent when ${who} signs in, never under another name.`
      : `${count} entries of ${who} wait on this device. They are sent when ${who} signs in, never under another name.`,
  made: "made",
  why: "refused",
  waits: "waits",
  goThere: "Go there",
  again: "Try again",
  discard: "Discard",
  discardSure: "Really discard? It is then nowhere.",
  discardYes: "Yes, discard",
  discardNo: "Keep it",
  picture: "photograph",
  close: "Close",
  door: {
    lapsed: "Your session has ended",
    another: "Somebody else signed in here",
    lapsedLead:
      "Sign in again: this page stays as it is, and what waits on this device is sent under your name.",
    anotherLead:
      "Nothing of yours was sent under their name. Sign in as yourself to go on, or as the other person to begin anew.",
  },
  notices: { title: "You must know", seen: "I have read this" },
  broken: {
    title: "This part of the page has failed",
    lead: "What you entered is kept on this device. Load the page again; if it fails once more, tell whoever runs the application.",
    missing:
      "A part of the application could not be fetched: it may have been renewed, or the connection is gone.",
    reload: "Load again",
  },
  old: "For what stood here before, not for what stands here now.",
  oldAway: "Not for what stands here now: the server does not answer.",
} as const;
