/** A draft while the light is on, its band, its loads, and the compatibility matrix. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, api, type Schemas } from "../../../api/client";
import type { Draft } from "../draft";
import { useRested } from "../useRested";

export type Lit = Schemas["Lit"];
export type Band = Schemas["CycleBand"];
export type MatrixRow = Schemas["MatrixRow"];
export type Edge = Schemas["EdgeEnum"];

const REST_MS = 250;
// The band takes a few marches: it waits until nothing moves any more.
const BAND_REST_MS = 600;

/** What is looked at: which edge, at which level, the headroom of the control's peak, and what is drawn of a relay. */
export interface Look {
  edge: Edge | "";
  level_deg: number | null;
  headroom_ratio: number | null;
  view: Schemas["LitViewEnum"] | "";
}

const isWhole = (draft: Draft) => draft.control !== null && draft.lamps.length > 0;

export function useLit(gang: string, draft: Draft, look: Look) {
  // The same object while nothing changes: a new one at each render would never rest.
  const wish = useMemo(() => ({ ...draft, ...look }), [draft, look]);
  const rested = useRested(wish, REST_MS);
  return useQuery({
    queryKey: ["lit", gang, rested],
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/gangs/{id}/lit/", { params: { path: { id: gang } }, body: rested, signal })),
    enabled: isWhole(rested),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

export function useBand(gang: string, draft: Draft, look: Look, edge: Edge | undefined) {
  const wish = useMemo(() => ({ ...draft, ...look, edge: edge ?? look.edge }), [draft, look, edge]);
  const rested = useRested(wish, BAND_REST_MS);
  return useQuery({
    queryKey: ["lit-band", gang, rested],
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/lit-band/", { params: { path: { id: gang } }, body: rested, signal }),
      ),
    enabled: edge !== undefined && isWhole(rested),
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

export function useLoads(gang: string, draft: Draft) {
  const rested = useRested(draft, REST_MS);
  return useQuery({
    queryKey: ["loads", gang, rested],
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/loads/", { params: { path: { id: gang } }, body: rested, signal }),
      ),
    enabled: isWhole(rested),
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
