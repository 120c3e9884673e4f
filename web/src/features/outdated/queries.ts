/** Judgements that no longer hold, and judging them again one after the other. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answered, api, type Schemas } from "../../api/client";

export function useOutdated() {
  return useQuery({
    queryKey: ["outdated"],
    queryFn: ({ signal }) => answered(api.GET("/api/v1/outdated/", { signal })),
  });
}

export interface Again {
  /** How far it is; null while nothing runs. */
  progress: { done: number; of: number } | null;
  /** What could not be judged again, and why. */
  failed: { name: string; why: string }[];
  start: (gangs: readonly Schemas["Outdated"][]) => void;
  stop: () => void;
}

export function useJudgeAgain(): Again {
  const client = useQueryClient();
  const [progress, setProgress] = useState<Again["progress"]>(null);
  const [failed, setFailed] = useState<Again["failed"]>([]);
  const isStopped = useRef(false);
  const run = async (gangs: readonly Schemas["Outdated"][]) => {
    isStopped.current = false;
    setFailed([]);
    for (const [done, gang] of gangs.entries()) {
      if (isStopped.current) break;
      setProgress({ done, of: gangs.length });
      try {
        await answered(api.POST("/api/v1/gangs/{id}/judge-again/", { params: { path: { id: gang.gang } } }));
      } catch (error) {
        // One that cannot be judged keeps none of the others waiting.
        const why = error instanceof Error ? error.message : String(error);
        setFailed((now) => [...now, { name: gang.loop_name, why }]);
      }
    }
    setProgress(null);
    await Promise.all(
      [["outdated"], ["loops"], ["loop"], ["judgements"], ["changes"]].map((queryKey) =>
        client.invalidateQueries({ queryKey }),
      ),
    );
  };
  return {
    progress,
    failed,
    start: (gangs) => void run(gangs),
    stop: () => {
      isStopped.current = true;
    },
  };
}
