/** Choosing the bypass: the ranked shelf, and readings with a bypass in. */
import { useMutation } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../../api/client";
import { useStreamed } from "../../../api/useStreamed";
import type { Draft } from "../draft";
import type { Measurement } from "../spread/queries";
import { useRested } from "../useRested";

export type Choosing = Schemas["Choosing"];
export type Choice = Schemas["BypassChoice"];
export type Window = Schemas["BypassWindow"];

const REST_MS = 400;

/** How a year is reckoned. */
export interface Year {
  hours: number;
  price: number | null;
}

/** A thousand hours on, at no price: until somebody says otherwise. */
export const USUAL_YEAR: Year = { hours: 1000, price: null };

export function useChoosing(gang: string, draft: Draft, year: Year) {
  const rested = useRested(draft, REST_MS);
  const body = { ...rested, bypasses: [], hours_a_year: year.hours, price_per_kwh: year.price };
  const isWhole = rested.control !== null && rested.lamps.length > 0;
  return useStreamed<Choosing>(["choose", gang, body], `/api/v1/gangs/${gang}/choose/`, body, isWhole);
}

export function useAfterFitting(gang: string) {
  return useMutation({
    mutationFn: ({ draft, readings }: { draft: Draft; readings: Measurement[] }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/after-fitting/", {
          params: { path: { id: gang } },
          body: { ...draft, readings },
        }),
      ),
  });
}
