/** Looks at a draft beyond its judgement. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../../api/client";
import { useStreamed } from "../../../api/useStreamed";
import type { Draft } from "../draft";
import { useRested } from "../useRested";

export type Prediction = Schemas["Prediction"];
export type Sweep = Schemas["Sweep"];

// These draw dozens of samples: wait until the figures rest.
const REST_MS = 400;
const KEPT = { placeholderData: keepPreviousData, staleTime: Infinity, gcTime: 60_000 } as const;

export function usePredictions(gang: string, draft: Draft, enabled: boolean) {
  const body = useRested(draft, REST_MS);
  return useQuery({
    queryKey: ["predict", gang, body],
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/gangs/{id}/predict/", { params: { path: { id: gang } }, body, signal })),
    enabled,
    ...KEPT,
  });
}

/** Of a box of many lamps it takes seconds: it tells how far it is, and can be stopped. */
export function useSweep(gang: string, draft: Draft, path: string | null) {
  const rested = useRested(draft, REST_MS);
  const body = { ...rested, path: path ?? "" };
  return useStreamed<Sweep>(
    ["sweep", gang, path, rested],
    `/api/v1/gangs/${gang}/sweep/`,
    body,
    path !== null,
  );
}

export function useTogether(gang: string, draft: Draft, enabled: boolean) {
  const body = useRested(draft, REST_MS);
  return useQuery({
    queryKey: ["together", gang, body],
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/gangs/{id}/together/", { params: { path: { id: gang } }, body, signal })),
    enabled,
    ...KEPT,
  });
}

export function useCures(gang: string, draft: Draft) {
  const body = useRested(draft, REST_MS);
  return useQuery({
    queryKey: ["cures", gang, body],
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/gangs/{id}/cures/", { params: { path: { id: gang } }, body, signal })),
    ...KEPT,
  });
}

export function useThresholds() {
  return useQuery({
    queryKey: ["thresholds"],
    queryFn: () => answered(api.GET("/api/v1/thresholds/")),
    staleTime: Infinity,
  });
}
