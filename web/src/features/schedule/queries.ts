/** Breakers of a site and the corrections of their labels. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";
import { useInTurn } from "../inTurn";

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

export type SiteChange = Omit<Schemas["PatchedSiteChangeRequest"], "version">;

export function useChangeSite(site: string) {
  const client = useQueryClient();
  return useInTurn<SiteChange>(
    `site ${site}`,
    async (change, version) => {
      const at = { params: { path: { id: site } }, body: { ...change, version } };
      return (await answered(api.PATCH("/api/v1/sites/{id}/", at))).version;
    },
    // Every judgement hangs on the supply, those on the bench too.
    () => client.invalidateQueries(),
  );
}
