/** A draft while the light is on, and the compatibility matrix. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../../api/client";
import type { Draft } from "../draft";
import { useRested } from "../useRested";

export type Lit = Schemas["Lit"];
export type Edge = Schemas["EdgeEnum"];

const REST_MS = 250;

/** What is looked at: which edge, at which level, and the headroom of the control's peak. */
export interface Look {
  edge: Edge | "";
  level_deg: number | null;
  headroom_ratio: number | null;
}

export function useLit(gang: string, draft: Draft, look: Look) {
  const rested = useRested({ ...draft, ...look }, REST_MS);
  return useQuery({
    queryKey: ["lit", gang, rested],
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/gangs/{id}/lit/", { params: { path: { id: gang } }, body: rested, signal })),
    enabled: rested.control !== null && rested.lamps.length > 0,
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

export function useMatrix(isOpen: boolean) {
  return useQuery({
    queryKey: ["compatibility"],
    queryFn: ({ signal }) => answered(api.GET("/api/v1/compatibility/", { signal })),
    enabled: isOpen,
    staleTime: Infinity,
  });
}
