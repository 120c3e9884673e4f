/** The ways through a loop: compared, looked at one by one, chosen; drawings that are checked. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";
import { useStreamed } from "../../api/useStreamed";
import { useInTurn } from "../inTurn";

export type Work = Schemas["Work"];
export type WayRow = Schemas["WayRow"];
export type Way = Schemas["WayEnum"];
export type WireMap = Schemas["WireMap"];
export type Comparison = Schemas["Comparison"];
export type Ceiling = Schemas["Ceiling"];
export type CheckedDrawing = Schemas["CheckedDrawing"];
export type Verdict = Schemas["DrawingVerdict"];
export type WiringState = Schemas["WiringState"];

export function useWork(loop: string) {
  return useQuery({
    queryKey: ["work", loop],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/ways/", { params: { path: { id: loop } } })),
    // Survey, bench and ceiling point may have changed a moment ago.
    staleTime: 0,
  });
}

/** Every way, told as they come. What it stands on is in its key, so that a change compares anew. */
export function useComparison(loop: string, basis: unknown, enabled: boolean) {
  return useStreamed<Comparison>(
    ["work", loop, "compare", basis],
    `/api/v1/loops/${loop}/ways/compare/`,
    {},
    enabled,
  );
}

export function useWay(loop: string, way: Way | null, control: string | null, basis: unknown) {
  return useQuery({
    queryKey: ["work", loop, "way", way, control, basis],
    queryFn: () =>
      answered(
        api.POST("/api/v1/loops/{id}/ways/one/", {
          params: { path: { id: loop } },
          body: { way: way ?? "leave", control },
        }),
      ),
    enabled: way !== null,
    staleTime: Infinity,
  });
}

function useWorkWrite<Given>(loop: string, send: (given: Given) => Promise<unknown>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: send,
    onSuccess: () => client.invalidateQueries({ queryKey: ["work", loop] }),
  });
}

export function useChooseWay(loop: string) {
  return useWorkWrite(loop, (body: Schemas["WayChoiceMakeRequest"]) =>
    answered(api.POST("/api/v1/loops/{id}/ways/choices/", { params: { path: { id: loop } }, body })),
  );
}

export function useSeeCeiling(loop: string, gang: string) {
  const client = useQueryClient();
  return useInTurn<Ceiling["seen"]>(
    `ceiling ${gang}`,
    async (seen, version) => {
      const at = { params: { path: { id: gang } }, body: { version, seen } };
      const points = await answered(api.PUT("/api/v1/gangs/{id}/ceiling/", at));
      return points.find((point) => point.gang === gang)?.version ?? version;
    },
    () => client.invalidateQueries({ queryKey: ["work", loop] }),
  );
}

export function useOrder() {
  return useQuery({ queryKey: ["way-order"], queryFn: () => answered(api.GET("/api/v1/way-order/")) });
}

export function useSetOrder(loop: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["WayOrderSaveRequest"]) => answered(api.PUT("/api/v1/way-order/", { body })),
    onSuccess: () =>
      Promise.all([["way-order"], ["work", loop]].map((queryKey) => client.invalidateQueries({ queryKey }))),
  });
}

export function useDrawings(loop: string) {
  return useQuery({
    queryKey: ["work", loop, "drawings"],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/drawings/", { params: { path: { id: loop } } })),
  });
}

export function useCheckDrawing(loop: string, document: unknown) {
  return useQuery({
    queryKey: ["work", loop, "check", document],
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/loops/{id}/drawings/check/", {
          params: { path: { id: loop } },
          body: { document },
          signal,
        }),
      ),
    enabled: document !== null,
    retry: false,
    staleTime: Infinity,
  });
}

export function useKeepDrawing(loop: string) {
  return useWorkWrite(loop, (body: Schemas["DrawingMakeRequest"]) =>
    answered(api.POST("/api/v1/loops/{id}/drawings/", { params: { path: { id: loop } }, body })),
  );
}
