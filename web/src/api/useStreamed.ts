/** A query whose work tells how far it is; it starts anew when its key changes, and can be stopped. */
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { type Progress, streamed } from "./stream";

export function useStreamed<T>(queryKey: readonly unknown[], path: string, body: unknown, enabled: boolean) {
  const [progress, setProgress] = useState<Progress | null>(null);
  const client = useQueryClient();
  const query = useQuery({
    queryKey,
    queryFn: ({ signal }) => {
      setProgress(null);
      return streamed<T>(path, body, signal, setProgress);
    },
    enabled,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
  });
  return {
    ...query,
    progress: query.isFetching ? progress : null,
    stop: () => void client.cancelQueries({ queryKey }),
  };
}
