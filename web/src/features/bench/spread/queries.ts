/** A draft judged over its ranges, narrowed by readings, and its least load. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../../api/client";
import { useStreamed } from "../../../api/useStreamed";
import type { Draft } from "../draft";
import { useRested } from "../useRested";

export type Spread = Schemas["Spread"];
export type Measurement = Schemas["MeasurementRequest"];

// Dozens of samples are drawn: wait until the figures rest.
const REST_MS = 400;

export function useSpread(gang: string, draft: Draft) {
  const rested = useRested(draft, REST_MS);
  const isWhole = rested.control !== null && rested.lamps.length > 0;
  return useStreamed<Spread>(["spread", gang, rested], `/api/v1/gangs/${gang}/spread/`, rested, isWhole);
}

export function useNarrow(gang: string) {
  return useMutation({
    mutationFn: ({ draft, readings }: { draft: Draft; readings: Measurement[] }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/narrow/", {
          params: { path: { id: gang } },
          body: { ...draft, readings },
        }),
      ),
  });
}

export function useLeastLoad(gang: string) {
  return useMutation({
    mutationFn: (draft: Draft) =>
      answered(api.POST("/api/v1/gangs/{id}/least-load/", { params: { path: { id: gang } }, body: draft })),
  });
}

export type Measured = Schemas["Measured"];
export type Occasion = Schemas["OccasionEnum"];

/** What was measured of a gang, struck values too. */
export function useMeasured(gang: string) {
  return useQuery({
    queryKey: ["measured", gang],
    queryFn: () => answered(api.GET("/api/v1/gangs/{id}/measured/", { params: { path: { id: gang } } })),
  });
}
