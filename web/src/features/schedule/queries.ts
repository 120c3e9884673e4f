/** Breakers of a site and the corrections of their labels. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";

export function useCorrections(circuit: string, isWanted: boolean) {
  return useQuery({
    queryKey: ["corrections", circuit],
    queryFn: () =>
      answered(api.GET("/api/v1/circuits/{id}/corrections/", { params: { path: { id: circuit } } })),
    enabled: isWanted,
  });
}

function useScheduleWrite<T, R>(write: (given: T) => Promise<R>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    // What was refused was made on something older: what stands there now is fetched.
    onSettled: () =>
      Promise.all(
        [["circuits"], ["corrections"], ["loop"], ["loops"], ["survey"]].map((queryKey) =>
          client.invalidateQueries({ queryKey }),
        ),
      ),
  });
}

export function useCorrectLabel(circuit: string) {
  return useScheduleWrite((body: Schemas["CorrectionMakeRequest"]) =>
    answered(api.POST("/api/v1/circuits/{id}/corrections/", { params: { path: { id: circuit } }, body })),
  );
}

export function useAddCircuit() {
  return useScheduleWrite((body: Schemas["CircuitRequest"]) =>
    answered(api.POST("/api/v1/circuits/", { body })),
  );
}

export function useChangeSite(site: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["PatchedSiteChangeRequest"]) =>
      answered(api.PATCH("/api/v1/sites/{id}/", { params: { path: { id: site } }, body })),
    // Every judgement hangs on the supply, those on the bench too.
    onSettled: () => client.invalidateQueries(),
  });
}
