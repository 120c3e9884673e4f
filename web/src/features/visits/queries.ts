/** Plans of a site, what they ask for, how they stand, what is taken along. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { answered, api, type Schemas } from "../../api/client";
import { putAnswer } from "../../api/putAnswer";
import { keep, kept } from "../../app/person";
import { type Progress, streamed } from "../../api/stream";

export type Plan = Schemas["Plan"];
export type PlannedVisit = Schemas["PlannedVisit"];
export type Stop = Schemas["PlanStop"];
export type PlanSave = Omit<Schemas["PlanChangeRequest"], "version">;
export type Material = Schemas["Material"];
export type PlanDefaults = Schemas["PlanDefaults"];

export function usePlans(site: string | null) {
  return useQuery({
    queryKey: ["plan", "list", site],
    queryFn: () => answered(api.GET("/api/v1/plans/", { params: { query: { site: site ?? "" } } })),
    enabled: site !== null,
  });
}

export function useDefaults(site: string) {
  return useQuery({
    queryKey: ["plan", "defaults", site],
    queryFn: () => answered(api.GET("/api/v1/plans/defaults/", { params: { query: { site } } })),
  });
}

export function usePlan(id: string | null) {
  return useQuery({
    queryKey: ["plan", id],
    queryFn: () => answered(api.GET("/api/v1/plans/{id}/", { params: { path: { id: id ?? "" } } })),
    enabled: id !== null,
  });
}

/** Every loop of a site, for choosing. */
export function useLoopsOf(site: string) {
  return useQuery({
    queryKey: ["loops", "of", site],
    queryFn: () => answered(api.GET("/api/v1/loops/", { params: { query: { site, page_size: 200 } } })),
  });
}

function usePlanWrite<Given>(write: (given: Given) => Promise<Plan>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSuccess: (plan) => {
      putAnswer(client, ["plan", plan.id], plan);
      // A new one stands in the list before it is shown: what comes later would move what is pressed next.
      client.setQueryData<Schemas["PlanRow"][]>(["plan", "list", plan.site], (rows) =>
        rows && !rows.some((row) => row.id === plan.id) ? [plan, ...rows] : rows,
      );
      void client.invalidateQueries({ queryKey: ["plan", "list"] });
      void client.invalidateQueries({ queryKey: ["plan", "materials"] });
    },
    // What was refused was made on something older: what stands there now is fetched.
    onError: () => client.invalidateQueries({ queryKey: ["plan"] }),
  });
}

export function useMakePlan() {
  return usePlanWrite((body: Schemas["PlanMakeRequest"]) => answered(api.POST("/api/v1/plans/", { body })));
}

export function useChangePlan(id: string) {
  return usePlanWrite((body: Schemas["PlanChangeRequest"]) =>
    answered(api.PUT("/api/v1/plans/{id}/", { params: { path: { id } }, body })),
  );
}

export function usePutVisits(id: string) {
  return usePlanWrite((body: Schemas["VisitsSaveRequest"]) =>
    answered(api.PUT("/api/v1/plans/{id}/visits/", { params: { path: { id } }, body })),
  );
}

/** Compute the best plan, told how far it is, and put it on record; it can be stopped before that. */
export function useCompute(id: string) {
  const [progress, setProgress] = useState<Progress | null>(null);
  const stopper = useRef<AbortController | null>(null);
  const write = usePlanWrite(async () => {
    const control = new AbortController();
    stopper.current = control;
    setProgress(null);
    const told = await streamed<Schemas["Computed"]>(
      `/api/v1/plans/${id}/compute/`,
      {},
      control.signal,
      setProgress,
    );
    return answered(
      api.POST("/api/v1/plans/{id}/take/", { params: { path: { id } }, body: { token: told.token } }),
    );
  });
  return { ...write, progress, stop: () => stopper.current?.abort() };
}

export function useMaterials(id: string, visit: number | null) {
  return useQuery({
    queryKey: ["plan", "materials", id, visit],
    queryFn: () =>
      answered(
        api.GET("/api/v1/plans/{id}/materials/", {
          params: { path: { id }, query: { visit: visit ?? undefined } },
        }),
      ),
  });
}

export type TaskRow = Schemas["TaskMinutes"];

export function useTaskMinutes() {
  return useQuery({
    queryKey: ["task-minutes"],
    queryFn: () => answered(api.GET("/api/v1/task-minutes/")),
  });
}

export function useSetMinutes() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["TaskMinutesSaveRequest"]) =>
      answered(api.PUT("/api/v1/task-minutes/", { body })),
    onSuccess: (rows) => {
      putAnswer(client, ["task-minutes"], rows);
      // Every estimate rests on it.
      for (const queryKey of [["plan"], ["work"], ["fit"]]) void client.invalidateQueries({ queryKey });
    },
  });
}

/** Under which name a count that did not arrive waits on this device. */
export const vanName = (key: string) => `van:${key}`;

export function useSetVan() {
  const client = useQueryClient();
  // The versions that one's own counts led through, one after the other: the next one may be typed while the page shows
  // any of them, and is no late write.
  const own = useRef(new Map<string, number[]>());
  return useMutation({
    scope: { id: "van" },
    mutationFn: async (body: Schemas["VanSaveRequest"]) => {
      const led = own.current.get(body.key);
      const versions = led?.includes(body.version) ? led : [body.version];
      const version = versions[versions.length - 1] ?? body.version;
      const made = await answered(api.PUT("/api/v1/van/", { body: { ...body, version } }));
      own.current.set(body.key, [...versions, made.version]);
      return made;
    },
    onSuccess: (_, body) => {
      // One that was typed since still waits.
      const waiting = kept<string>(vanName(body.key));
      if (waiting !== null && Number(waiting.replace(",", ".")) === body.count) keep(vanName(body.key), null);
    },
    // A refused count is stale: what the van holds now is fetched.
    onSettled: () => client.invalidateQueries({ queryKey: ["plan", "materials"] }),
  });
}
