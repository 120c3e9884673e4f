/** The radio of a site, joining, programs, and what still works. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, api, type Schemas } from "../../api/client";
import { putAnswer } from "../../api/putAnswer";
import type { Entry } from "../../device/entry";
import { send } from "../../device/tray";
import { useTray } from "../../device/useTray";

export type House = Schemas["House"];
export type HubFits = Schemas["HubFits"];
export type Reached = Schemas["ReachedDevice"];
/** The plan of joining what is open, and what was left out of it on demand. */
export type Pairing = Schemas["Pairing"] & { without: readonly string[] };
export type PairStep = Schemas["PairStep"];
export type PlanStep = Schemas["PlanStep"];
export type Rehearsal = Schemas["Rehearsal"];
export type Programs = Schemas["Programs"];
export type WorksTable = Schemas["WorksTable"];

const ASK_EVERY_MS = 15_000;

export function useHouse(site: string) {
  return useQuery({
    queryKey: ["house", site],
    queryFn: () => answered(api.GET("/api/v1/sites/{id}/house/", { params: { path: { id: site } } })),
  });
}

export function useKeepHouse(site: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { version: number; document: Record<string, unknown> }) =>
      answered(api.PUT("/api/v1/sites/{id}/house/", { params: { path: { id: site } }, body })),
    onSuccess: (house) => {
      putAnswer(client, ["house", site], house);
      void client.invalidateQueries({ queryKey: ["pairing", site] });
      void client.invalidateQueries({ queryKey: ["works", site] });
      void client.invalidateQueries({ queryKey: ["programs"] });
    },
    onError: () => client.invalidateQueries({ queryKey: ["house", site] }),
  });
}

export function usePairing(site: string, hub: string, without: readonly string[]) {
  return useQuery({
    queryKey: ["pairing", site, hub, [...without]],
    queryFn: async () => {
      const params = { path: { id: site }, query: { hub, without: [...without] } };
      return { ...(await answered(api.GET("/api/v1/sites/{id}/pairing/", { params }))), without };
    },
    placeholderData: (before) => before,
    refetchInterval: ASK_EVERY_MS,
    refetchIntervalInBackground: false,
  });
}

export function useRehearse(site: string, hub: string, without: readonly string[]) {
  return useMutation({
    mutationFn: () =>
      answered(
        api.POST("/api/v1/sites/{id}/pairing/rehearse/", {
          params: { path: { id: site } },
          body: { hub, without: [...without], late: {} },
        }),
      ),
  });
}

export type TryAct = { act: Schemas["TryActEnum"]; name: string; level: number };

/** Everything that is tried, from the beginning: the stand-in keeps nothing. */
export function useTryOut(site: string, hub: string, without: readonly string[]) {
  return useMutation({
    mutationFn: (acts: TryAct[]) =>
      answered(
        api.POST("/api/v1/sites/{id}/pairing/try/", {
          params: { path: { id: site } },
          body: { hub, without: [...without], acts },
        }),
      ),
  });
}

export interface Marked {
  step: string;
  came: Schemas["CameEnum"];
  note?: string;
  label: string;
}

/** What came of a step: it waits on this device where there is no server. */
export function sendPairMark(
  site: string,
  siteName: string,
  hub: string,
  loop: string,
  marked: Marked,
): void {
  const { label, ...rest } = marked;
  send({
    label,
    where: siteName,
    page: `/loops/${loop}?step=setup&tab=join`,
    loop,
    path: `/api/v1/sites/${site}/pairing/marks/`,
    body: { id: crypto.randomUUID(), hub, made_at: new Date().toISOString(), note: "", ...rest },
    fields: [],
  });
}

/** Marks of this device that the server has not seen. */
export function usePairEntries(site: string): readonly Entry[] {
  const { mine } = useTray();
  return useMemo(
    () => mine.filter((entry) => entry.path === `/api/v1/sites/${site}/pairing/marks/`),
    [mine, site],
  );
}

export function useWorks(site: string) {
  return useQuery({
    queryKey: ["works", site],
    queryFn: () => answered(api.GET("/api/v1/sites/{id}/works/", { params: { path: { id: site } } })),
  });
}

export function usePrograms(gang: string) {
  return useQuery({
    queryKey: ["programs", gang],
    queryFn: () => answered(api.GET("/api/v1/gangs/{id}/programs/", { params: { path: { id: gang } } })),
  });
}

export type Outage = { from: string; seconds: number };

/** What is on the screen, tried: nothing is kept. */
export function useTried(
  gang: string,
  first: string,
  document: Record<string, unknown>,
  outages: Outage[],
  isAsked: boolean,
) {
  return useQuery({
    enabled: isAsked,
    retry: false,
    queryKey: ["programs", gang, "try", first, JSON.stringify(document), JSON.stringify(outages)],
    queryFn: () =>
      answered(
        api.POST("/api/v1/gangs/{id}/programs/try/", {
          params: { path: { id: gang } },
          body: { first, document, outages },
        }),
      ),
    placeholderData: (before) => before,
  });
}

export function useKeepPrograms(gang: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: { version: number; document: Record<string, unknown> }) =>
      answered(api.PUT("/api/v1/gangs/{id}/programs/", { params: { path: { id: gang } }, body })),
    onSuccess: (kept) => putAnswer(client, ["programs", gang], kept),
    onError: () => client.invalidateQueries({ queryKey: ["programs", gang], exact: true }),
  });
}
