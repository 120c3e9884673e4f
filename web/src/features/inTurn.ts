/** Changes of one record that are made faster than they are answered: one after the other, each upon the answer before. */
import { useMutation, useMutationState } from "@tanstack/react-query";
import { useRef, useState } from "react";

interface Sent<Change> {
  change: Change;
  version: number;
}

/**
 * What keeps a field from being shut while what was put in before it is on its way: whoever types goes on in the next.
 *
 * `send` sends one change upon a version and tells the version that it made; `waiting` is what has not been answered,
 * all of it together; `error` is that of any of them, until something is changed after all were answered.
 */
export function useInTurn<Change extends object>(
  record: string,
  send: (change: Change, version: number) => Promise<number>,
  onSettled: () => Promise<unknown>,
) {
  const newest = useRef(0);
  const [error, setError] = useState<Error | null>(null);
  const mutationKey = ["in-turn", record];
  const mutation = useMutation({
    mutationKey,
    scope: { id: record },
    mutationFn: async ({ change, version }: Sent<Change>) => {
      newest.current = await send(change, Math.max(version, newest.current));
    },
    onError: setError,
    onSettled,
  });
  const waiting = useMutationState({
    filters: { mutationKey, status: "pending" },
    select: (one) => (one.state.variables as Sent<Change>).change,
  });
  const change = (next: Change, version: number) => {
    if (waiting.length === 0) setError(null);
    mutation.mutate({ change: next, version });
  };
  return { change, waiting: Object.assign({}, ...waiting) as Partial<Change>, error };
}
