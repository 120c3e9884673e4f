/** Long work over many gangs: asked for once, done by the server whether this page stays or not. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api, type Schemas } from "../../api/client";

export type Job = Schemas["Job"];

// As often as somebody who looks on wants to know, while anything is under way.
const ASKED_EVERY_MS = 700;

/** Waiting or under way. */
export function isOpen(job: Job): boolean {
  return job.state === "waiting" || job.state === "running";
}

// What may show other figures once gangs were judged anew.
const CHANGED = [["outdated"], ["loops"], ["loop"], ["judgements"], ["changes"], ["parts"], ["part"]];

export interface Work {
  /** The one that is under way, whoever of this person's devices asked for it. */
  open: Job | null;
  /** One that ended while this page looked on. */
  ended: Job | null;
  error: Error | null;
  isAsking: boolean;
  ask: () => void;
  stop: () => void;
}

export function useJob(kind: Schemas["JobKindEnum"], part: string | null = null): Work {
  const client = useQueryClient();
  const [seen, setSeen] = useState<string | null>(null);
  const jobs = useQuery({
    queryKey: ["jobs"],
    queryFn: ({ signal }) => answered(api.GET("/api/v1/jobs/", { signal })),
    refetchInterval: (query) => (query.state.data?.some(isOpen) ? ASKED_EVERY_MS : false),
  });
  const own = (jobs.data ?? []).filter((job) => job.kind === kind && job.part === part);
  const open = own.find(isOpen) ?? null;
  const openId = open?.id ?? null;
  if (openId !== null && openId !== seen) setSeen(openId);
  const ended = own.find((job) => job.id === seen && !isOpen(job)) ?? null;
  const done = open?.done ?? 0;
  const endedId = ended?.id ?? null;
  useEffect(() => {
    if (endedId === null && done === 0) return;
    for (const queryKey of CHANGED) void client.invalidateQueries({ queryKey });
  }, [client, endedId, done]);
  const asked = (job: Job) => {
    setSeen(job.id);
    client.setQueryData<Job[]>(["jobs"], (now) => [job, ...(now ?? []).filter((one) => one.id !== job.id)]);
  };
  const asking = useMutation({
    mutationFn: () => answered(api.POST("/api/v1/jobs/", { body: { id: crypto.randomUUID(), kind, part } })),
    onSuccess: asked,
    onSettled: () => client.invalidateQueries({ queryKey: ["jobs"] }),
  });
  // An answer that was lost on the way, or that it is under way already, is no error once the work is seen.
  const { isError, reset } = asking;
  useEffect(() => {
    if (openId !== null && isError) reset();
  }, [openId, isError, reset]);
  const stopping = useMutation({
    mutationFn: (id: string) => answered(api.POST("/api/v1/jobs/{id}/stop/", { params: { path: { id } } })),
    onSettled: () => client.invalidateQueries({ queryKey: ["jobs"] }),
  });
  return {
    open,
    ended,
    error: asking.error ?? stopping.error,
    isAsking: asking.isPending,
    ask: () => asking.mutate(),
    stop: () => open && stopping.mutate(open.id),
  };
}
