/** Loop, judgement, kinds and shelf for the bench. */
import { useRef } from "react";
import { keepPreviousData, queryOptions, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, Refusal, type Schemas } from "../../api/client";
import type { Draft } from "./draft";
import { useRested } from "./useRested";

export type Judgement = Schemas["Judgement"];
export type Loop = Schemas["Loop"];

const loopQuery = (id: string) =>
  queryOptions({
    queryKey: ["loop", id],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/", { params: { path: { id } } })),
  });

export function useLoop(id: string) {
  return useQuery(loopQuery(id));
}

export function useKinds() {
  return useQuery({
    queryKey: ["kinds"],
    queryFn: () => answered(api.GET("/api/v1/kinds/")),
    staleTime: Infinity,
  });
}

/** The input stages of lamps whose figures a class gives. */
export function useStages(v_rms: number, enabled = true) {
  return useQuery({
    queryKey: ["stages", v_rms],
    queryFn: () => answered(api.GET("/api/v1/stages/", { params: { query: { v_rms } } })),
    staleTime: Infinity,
    enabled,
  });
}

/** The classes of controls whose figures a class gives. */
export function useControlClasses(enabled = true) {
  return useQuery({
    queryKey: ["control-classes"],
    queryFn: () => answered(api.GET("/api/v1/control-classes/")),
    staleTime: Infinity,
    enabled,
  });
}

export const shelfQuery = queryOptions({
  queryKey: ["parts"],
  queryFn: () => answered(api.GET("/api/v1/parts/")),
});

export function useShelf() {
  return useQuery(shelfQuery);
}

// A value that is being typed is judged when the fingers rest this long.
const REST_MS = 50;

/** The judgement of what is on the bench; while a new one is computed the last one stays. */
export function useJudgement(gang: string, draft: Draft) {
  const rested = useRested(draft, REST_MS);
  const query = useQuery({
    queryKey: ["judge", gang, rested],
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/judge/", { params: { path: { id: gang } }, body: rested, signal }),
      ),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
    // Heals by itself when the server is back.
    refetchInterval: (state) => (isAway(state.state.error) ? AWAY_MS : false),
  });
  // What was answered last stays while the server is away, and so does the word that it is.
  const last = useRef<Judgement | undefined>(undefined);
  const away = useRef(false);
  if (query.data !== undefined) last.current = query.data;
  if (query.isSuccess && !query.isPlaceholderData) away.current = false;
  else if (isAway(query.error) || isAway(query.failureReason) || query.fetchStatus === "paused")
    away.current = true;
  return {
    ...query,
    data: query.data ?? last.current,
    /** Of exactly what is on the bench now, not of what stood there before. */
    isCurrent: rested === draft && query.isSuccess && !query.isPlaceholderData,
    isAway: away.current,
  };
}

const AWAY_MS = 4000;

function isAway(error: unknown): boolean {
  return error instanceof Refusal && error.status === 0;
}

/** The one verdict on what is on the bench; it draws many loops, so it follows the judgement a moment later. */
export function useOverall(gang: string, draft: Draft) {
  const body = useRested(draft, OVERALL_REST_MS);
  const query = useQuery({
    queryKey: ["overall", gang, body],
    queryFn: ({ signal }) =>
      answered(api.POST("/api/v1/gangs/{id}/overall/", { params: { path: { id: gang } }, body, signal })),
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 60_000,
    retry: false,
  });
  return {
    data: query.isError ? undefined : query.data,
    isCurrent: body === draft && query.isSuccess && !query.isPlaceholderData,
    error: body === draft ? query.error : null,
  };
}

const OVERALL_REST_MS = 300;

export function useKeepGang(loop: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: ({ id, version, draft }: { id: string; version: number; draft: Draft }) =>
      answered(api.PUT("/api/v1/gangs/{id}/", { params: { path: { id } }, body: { version, ...draft } })),
    onSuccess: (gang) => {
      // What hangs there from now on is known without asking again.
      client.setQueryData<Loop>(
        ["loop", loop],
        (held) => held && { ...held, gangs: held.gangs.map((one) => (one.id === gang.id ? gang : one)) },
      );
      return Promise.all(
        [["loop", loop], ["loops"], ["judgements"], ["changes"], ["work", loop]].map((queryKey) =>
          client.invalidateQueries({ queryKey }),
        ),
      );
    },
    // What was refused was made on something older: what stands there now is fetched.
    onError: () => client.invalidateQueries({ queryKey: ["loop", loop] }),
  });
}

/** Name, note and breaker of a loop. */
export function useChangeLoop(loop: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PatchedLoopChangeRequest"]) =>
      answered(api.PATCH("/api/v1/loops/{id}/", { params: { path: { id: loop } }, body })),
    // A refusal was made on something older: what stands there now is fetched.
    onSettled: () =>
      Promise.all([["loop", loop], ["loops"]].map((queryKey) => client.invalidateQueries({ queryKey }))),
  });
}

export function useAddGang(loop: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (id: string) =>
      answered(api.POST("/api/v1/loops/{id}/gangs/", { params: { path: { id: loop } }, body: { id } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["loop", loop] }),
  });
}

export function useStoredJudgements(gang: string) {
  return useQuery({
    queryKey: ["judgements", gang],
    queryFn: () => answered(api.GET("/api/v1/gangs/{id}/judgements/", { params: { path: { id: gang } } })),
  });
}

export function useChanges(subject: string) {
  return useQuery({
    queryKey: ["changes", subject],
    queryFn: () => answered(api.GET("/api/v1/changes/", { params: { query: { subject } } })),
  });
}
