/** What is chosen goes onto the bench, in place of the bypass that was there. */
import type { Draft, Fit } from "../draft";
import { newFit } from "../editors/kinds";
import { useShelf } from "../queries";
import type { Choice } from "./queries";

export function useTake(draft: Draft, change: (draft: Draft) => void): (choice: Choice) => void {
  const shelf = useShelf();
  return (choice) => {
    const part = shelf.data?.find((entry) => entry.id === choice.part);
    const bypasses: Fit[] = part
      ? [{ ...newFit(part.figures), part: part.id, label: `${part.maker} ${part.name}` }]
      : choice.figures
        ? [{ ...newFit(choice.figures), label: choice.name }]
        : [];
    change({ ...draft, bypasses });
  };
}
