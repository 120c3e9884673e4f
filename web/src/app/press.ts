/** A press counts for what was under the finger as it went down, though an answer that came meanwhile moved it. */
const PRESSED = 'button, summary, a[href], label, [role="tab"], input[type="checkbox"], input[type="radio"]';
/** A finger that stayed within this meant no drag [CSS px]. */
const STILL_PX = 8;
/** The click of a browser follows the finger's going up within this. */
const CLICK_WITHIN_MS = 400;

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
      setTimeout(() => was.at.click());
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
