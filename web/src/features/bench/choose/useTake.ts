/** What is chosen goes onto the bench, in place of the bypass that was there. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useLatest } from "../../../app/useLatest";
import { texts } from "../../../texts";
import type { Draft, Fit } from "../draft";
import { newFit } from "../editors/kinds";
import { shelfQuery, useShelf } from "../queries";
import type { Choice } from "./queries";

export interface Take {
  take: (choice: Choice) => void;
  /** Why the last one is not on the bench. */
  error: Error | null;
}

export function useTake(draft: Draft, change: (draft: Draft) => void): Take {
  const shelf = useShelf();
  const client = useQueryClient();
  const latest = useLatest(draft);
  const put = (bypasses: Fit[]) => change({ ...latest.current, bypasses });
  const fetching = useMutation({
    // A part that is not on the shelf as it is known here: never nothing in its place.
    mutationFn: async (id: string) => {
      const parts = await client.fetchQuery({ ...shelfQuery, staleTime: 0 });
      const part = parts.find((entry) => entry.id === id);
      if (part === undefined) throw new Error(texts.choose.noLonger);
      return part;
    },
  });
  return {
    take: (choice) => {
      fetching.reset();
      if (choice.part === null)
        return put(choice.figures ? [{ ...newFit(choice.figures), label: choice.name }] : []);
      const part = shelf.data?.find((entry) => entry.id === choice.part);
      // Whoever has left this step meanwhile works on: what comes then is not put over it.
      return part
        ? put([fitOf(part)])
        : fetching.mutate(choice.part, { onSuccess: (came) => put([fitOf(came)]) });
    },
    error: fetching.error,
  };
}

function fitOf(part: { id: string; maker: string; name: string; figures: Fit["figures"] }): Fit {
  return { ...newFit(part.figures), part: part.id, label: `${part.maker} ${part.name}` };
}
