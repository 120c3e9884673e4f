/** What a hand does is told before the next thing that it does; what comes in of itself, a moment later. */
const BY_HAND = new Set([
  "beforeinput",
  "blur",
  "change",
  "click",
  "drop",
  "focusin",
  "focusout",
  "input",
  "keydown",
  "keyup",
  "pointerdown",
  "pointerup",
  "submit",
]);

/**
 * The query library tells its watchers by a timer of 0 s. On a busy device that comes after the next key or press: a
 * choice goes back to what it was, a button is pressed twice. What comes in by an answer keeps its timer, so that who
 * asked hears of it before what it changes takes their place on the page.
 */
export function tellAtOnce(callback: () => void): void {
  const { event } = window;
  if (event !== undefined && BY_HAND.has(event.type)) queueMicrotask(callback);
  else setTimeout(callback, 0);
}
