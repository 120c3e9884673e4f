/** Which of several looks at one thing is shown, as it stands in the address: a reload and a link show the same. */
import { useSearchParams } from "react-router";

/** The look that is shown, the first where none was chosen, and how to show another. */
export function useLook<T extends string>(names: readonly [T, ...T[]]): [T, (name: T) => void] {
  const [params, setParams] = useSearchParams();
  const look = names.find((name) => name === params.get("look")) ?? names[0];
  const show = (name: T) =>
    setParams(
      (now) => {
        const changed = new URLSearchParams(now);
        changed.set("look", name);
        return changed;
      },
      { replace: true },
    );
  return [look, show];
}
