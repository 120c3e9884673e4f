/** A query whose work tells how far it is; it starts anew when its key changes, and can be stopped. */
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Progress, streamed } from "./stream";

export function useStreamed<T>(queryKey: readonly unknown[], path: string, body: unknown, enabled: boolean) {
  const [progress, setProgress] = useState<Progress | null>(null);
  // What is known before the work is done, kept with the question it answers.
  const [early, setEarly] = useState<{ key: string; answer: T } | null>(null);
  const client = useQueryClient();
  const key = JSON.stringify(queryKey);
  const query = useQuery({
    queryKey,
    queryFn: ({ signal }) => {
      setProgress(null);
      return streamed<T>(path, body, signal, (told) => {
        setProgress({ done: told.done, of: told.of });
        if (told.so_far !== undefined) setEarly({ key, answer: told.so_far });
      });
    },
    enabled,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
  });
  const soFar = early?.key === key ? early.answer : undefined;
  return {
    ...query,
    data: query.isPlaceholderData || query.data === undefined ? (soFar ?? query.data) : query.data,
    /** What is shown is not of the question as it stands now. */
    isOld: query.data !== undefined && query.isPlaceholderData && soFar === undefined,
    progress: query.isFetching ? progress : null,
    stop: () => void client.cancelQueries({ queryKey }),
  };
}
