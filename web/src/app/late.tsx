/** A part of the application that is fetched when it is wanted, or before that. */
import { type ComponentType, type ReactNode, useEffect, useState } from "react";

interface Late<P> {
  (props: P): ReactNode;
  /** Have it here before it is wanted: it is drawn at once then. */
  fetch: () => void;
}

/**
 * It is drawn in the moment it is here: what stood in its place is not held for a while lest it flicker, and what
 * stands beside it keeps its place and focus. Where it did not come, the next that want it fetch it anew.
 */
export function late<P extends object>(
  load: () => Promise<ComponentType<P>>,
  waiting: (props: P) => ReactNode = () => null,
): Late<P> {
  let here: ComponentType<P> | null = null;
  const fetched = async () => (here ??= await load());
  function Part(props: P) {
    const [Drawn, draw] = useState(() => here);
    useEffect(() => {
      if (Drawn !== null) return;
      let isGone = false;
      const put = (next: () => ComponentType<P>) => {
        if (!isGone) draw(next);
      };
      fetched().then(
        (part) => put(() => part),
        // Told where parts that break are told.
        (error: unknown) =>
          put(() => {
            throw error;
          }),
      );
      return () => {
        isGone = true;
      };
    }, [Drawn]);
    return Drawn === null ? waiting(props) : <Drawn {...props} />;
  }
  return Object.assign(Part, { fetch: () => void fetched().catch(() => undefined) });
}
