/**
 * A press counts for what was under the finger as it went down, though an answer that came meanwhile moved it; and it
 * counts once: the second half of a double press, or of a key that is held, is none upon what came in its place.
 */
const PRESSED = 'button, summary, a[href], label, [role="tab"], input[type="checkbox"], input[type="radio"]';
/** A finger that stayed within this meant no drag [CSS px]. */
const STILL_PX = 8;
/** The click of a browser follows the finger's going up within this. */
const CLICK_WITHIN_MS = 400;

/** Two taps at one place within this are one hand that bounced; for a mouse the system counts its clicks. */
const BOUNCE_MS = 400;
const SAME_PLACE_PX = 24;

interface Down {
  at: HTMLElement;
  x: number;
  y: number;
  top: number;
  left: number;
}

/** Listens as long as the page is open. */
export function keepPresses(): void {
  let down: Down | null = null;
  let before: { at: HTMLElement; x: number; y: number; time: number } | null = null;
  let pressed: { at: HTMLElement; until: number } | null = null;
  addEventListener(
    "pointerdown",
    (event) => {
      const at = event.target instanceof Element ? event.target.closest<HTMLElement>(PRESSED) : null;
      const { clientX: x, clientY: y } = event;
      pressed = null;
      down = at === null || event.button !== 0 || !event.isPrimary ? null : { at, x, y, ...cornerOf(at) };
    },
    true,
  );
  addEventListener("pointercancel", () => (down = null), true);
  addEventListener(
    "pointerup",
    (event) => {
      const was = down;
      down = null;
      if (was === null || !was.at.isConnected) return;
      if (Math.hypot(event.clientX - was.x, event.clientY - was.y) > STILL_PX) return;
      const now = cornerOf(was.at);
      const under = document.elementFromPoint(event.clientX, event.clientY);
      if ((now.top === was.top && now.left === was.left) || under === null || was.at.contains(under)) return;
      // Whatever slid under the finger is not what was pressed.
      pressed = { at: was.at, until: event.timeStamp + CLICK_WITHIN_MS };
      before = { at: was.at, x: event.clientX, y: event.clientY, time: event.timeStamp };
      setTimeout(() => was.at.click());
    },
    true,
  );
  addEventListener(
    "click",
    (event) => {
      if (!event.isTrusted || !(event instanceof PointerEvent) || event.detail === 0) return;
      const at = event.target instanceof Element ? event.target.closest<HTMLElement>(PRESSED) : null;
      const { clientX: x, clientY: y, timeStamp: time } = event;
      const isBounce =
        before !== null &&
        at !== null &&
        !before.at.contains(at) &&
        !at.contains(before.at) &&
        Math.hypot(x - before.x, y - before.y) < SAME_PLACE_PX &&
        (event.detail > 1 || (event.pointerType === "touch" && time - before.time < BOUNCE_MS));
      if (isBounce) {
        event.preventDefault();
        event.stopImmediatePropagation();
      } else if (at !== null) {
        before = { at, x, y, time };
      }
    },
    true,
  );
  addEventListener(
    "keydown",
    (event) => {
      const isPress = event.key === "Enter" || event.key === " ";
      if (event.repeat && isPress && event.target instanceof HTMLButtonElement) event.preventDefault();
    },
    true,
  );
  addEventListener(
    "click",
    (event) => {
      if (pressed === null || !event.isTrusted || event.timeStamp > pressed.until) return;
      if (event.target instanceof Node && pressed.at.contains(event.target)) return;
      pressed = null;
      event.preventDefault();
      event.stopImmediatePropagation();
    },
    true,
  );
}

function cornerOf(at: HTMLElement) {
  const { top, left } = at.getBoundingClientRect();
  return { top, left };
}
