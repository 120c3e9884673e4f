/** What is to be proved of a loop, its cases, and what was entered here and has not arrived yet. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo } from "react";
import { answered, api, type Schemas } from "../../api/client";
import type { Entry } from "../../device/entry";
import { send } from "../../device/tray";
import { useTray } from "../../device/useTray";
import { texts } from "../../texts";

export type Proving = Schemas["Proving"];
export type ProveItem = Schemas["ProveItem"];
export type Worth = Schemas["Worth"];
export type Case = Schemas["Case"];
export type Cases = Schemas["Cases"];
export type Diagnosis = Schemas["Diagnosis"];
export type NextTest = Schemas["NextTest"];

const ASK_EVERY_MS = 15_000;

export function useProving(loop: string) {
  return useQuery({
    queryKey: ["prove", loop],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/prove/", { params: { path: { id: loop } } })),
    refetchInterval: ASK_EVERY_MS,
    refetchIntervalInBackground: false,
  });
}

export function useWorth(gang: string, isAsked = true) {
  return useQuery({
    enabled: isAsked,
    queryKey: ["worth", gang],
    queryFn: () => answered(api.GET("/api/v1/gangs/{id}/worth/", { params: { path: { id: gang } } })),
  });
}

export function useCases(loop: string) {
  return useQuery({
    queryKey: ["cases", loop],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/cases/", { params: { path: { id: loop } } })),
    refetchInterval: ASK_EVERY_MS,
    refetchIntervalInBackground: false,
  });
}

/** What a case may come from, computed anew whenever something was found out; the remedies take longer. */
export function useDiagnosis(one: Case, remedies: boolean) {
  const known = one.evidence.filter((row) => row.struck_reason === "").map((row) => row.id);
  return useQuery({
    queryKey: ["diagnosis", one.id, known.join(), one.is_open, remedies],
    queryFn: () =>
      answered(
        api.GET("/api/v1/cases/{id}/diagnosis/", { params: { path: { id: one.id }, query: { remedies } } }),
      ),
    placeholderData: (before) => before,
  });
}

/** Entries of this device that are about proving a loop, or its cases. */
export function useProveEntries(loop: string): readonly Entry[] {
  const { mine } = useTray();
  const client = useQueryClient();
  const found = useMemo(
    () =>
      mine.filter(
        (entry) => entry.loop === loop && /\/(prove\/marks|cases(\/[^/]+\/evidence)?)\/$/.test(entry.path),
      ),
    [loop, mine],
  );
  const refused = found.filter((entry) => entry.state === "refused").length;
  useEffect(() => {
    // What stands against it, of somebody else perhaps, is to be seen beside the refusal.
    if (refused > 0) void client.invalidateQueries({ queryKey: ["prove", loop] });
  }, [client, loop, refused]);
  return found;
}

export interface Found {
  /** Of the parts that it was found on. */
  basis: string;
  result: string;
  reason?: string;
  watched_s?: number;
  taps_s?: number[];
}

/** What was found of an item. */
export function sendMark(loop: string, loopName: string, item: ProveItem, found: Found): void {
  const text = item.results.find((one) => one.code === found.result)?.text ?? found.result;
  send({
    label: `${item.title}: ${text}`,
    where: loopName,
    page: `/loops/${loop}?step=prove`,
    loop,
    path: `/api/v1/loops/${loop}/prove/marks/`,
    body: {
      id: crypto.randomUUID(),
      made_at: new Date().toISOString(),
      item: item.key,
      // What was seen of it: a pass is put over nothing that somebody else found meanwhile.
      seen: item.mark,
      reason: "",
      watched_s: null,
      taps_s: [],
      ...found,
    },
    fields: found.reason === undefined ? [] : [["reason", texts.prove.whyExcused]],
  });
}

export interface NewCase {
  gang: string;
  told: { code: string; period_s: number | null }[];
  heard: "told" | "seen";
  since: string;
  note: string;
}

/** Opens a case; its identity is known at once. */
export function sendCase(loop: string, loopName: string, wanted: NewCase): string {
  const id = crypto.randomUUID();
  send({
    label: texts.prove.cases.new,
    where: loopName,
    page: `/loops/${loop}?step=prove&tab=wrong&case=${id}`,
    loop,
    path: `/api/v1/loops/${loop}/cases/`,
    body: { id, made_at: new Date().toISOString(), ...wanted },
    fields: [["note", texts.prove.cases.note]],
  });
  return id;
}

export interface NewEvidence {
  outcome?: string;
  value?: number;
  meter_r_ohm?: number | null;
}

export function sendEvidence(one: Case, loopName: string, test: NextTest, found: NewEvidence): void {
  send({
    label: test.title,
    where: loopName,
    page: `/loops/${one.loop}?step=prove&tab=wrong&case=${one.id}`,
    loop: one.loop,
    path: `/api/v1/cases/${one.id}/evidence/`,
    body: {
      id: crypto.randomUUID(),
      made_at: new Date().toISOString(),
      test: test.code,
      outcome: null,
      value: null,
      meter_r_ohm: null,
      ...found,
    },
  });
}

function useChange<T>(one: Case, change: (wanted: T) => Promise<Case>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: change,
    onSettled: () =>
      Promise.all(
        [["cases", one.loop], ["prove", one.loop], ["loops"], ["loop", one.loop]].map((queryKey) =>
          client.invalidateQueries({ queryKey }),
        ),
      ),
  });
}

export function useStrike(one: Case) {
  return useChange(one, ({ id, reason }: { id: string; reason: string }) =>
    answered(api.POST("/api/v1/evidence/{id}/strike/", { params: { path: { id } }, body: { reason } })),
  );
}

export function useClose(one: Case) {
  const seen = one.evidence.filter((entry) => entry.struck_reason === "").map((entry) => entry.id);
  return useChange(one, (body: { cause: string; remedy: string; note: string }) =>
    answered(
      api.POST("/api/v1/cases/{id}/close/", { params: { path: { id: one.id } }, body: { ...body, seen } }),
    ),
  );
}

export function useReopen(one: Case) {
  return useChange(one, (note: string) =>
    answered(api.POST("/api/v1/cases/{id}/reopen/", { params: { path: { id: one.id } }, body: { note } })),
  );
}
