/** Words typed into a search whose question stands in the address. */
import { useLayoutEffect, useState } from "react";

// Typing pauses longer than this are a wish to see the answer.
const PAUSE_MS = 200;

/**
 * What stands in the field, and how to change it; `ask` is called once the typing pauses.
 *
 * What the address asks wins when something else changed it (a link, the way back).
 */
export function useTyped(asked: string, ask: (words: string) => void) {
  const [typed, setTyped] = useState(asked);
  const [mine, setMine] = useState(asked);
  if (asked !== mine) {
    setMine(asked);
    setTyped(asked);
  }
  // A layout effect: it ends as soon as the page is hidden. A page that waits for the code of the next one is
  // hidden, not gone; its late question would call back whoever pressed a link within the pause.
  useLayoutEffect(() => {
    if (typed === asked) return;
    const timer = setTimeout(() => {
      setMine(typed);
      ask(typed);
    }, PAUSE_MS);
    return () => clearTimeout(timer);
  });
  return [typed, setTyped] as const;
}
