/** Where a loop stands, its issues and signatures, and what waits for whom. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";
import { putAnswer } from "../../api/putAnswer";
import { useInTurn } from "../inTurn";

export type Handover = Schemas["Handover"];
export type Issue = Schemas["Issue"];
export type Signer = Schemas["SignerEnum"];
export type Stage = Schemas["StageEnum"];

const ASK_EVERY_MS = 15_000;

export function useHandover(loop: string) {
  return useQuery({
    queryKey: ["handover", loop],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/handover/", { params: { path: { id: loop } } })),
    refetchInterval: ASK_EVERY_MS,
  });
}

export function useIssue(id: string) {
  return useQuery({
    queryKey: ["issue", id],
    queryFn: () => answered(api.GET("/api/v1/issues/{id}/", { params: { path: { id } } })),
    refetchInterval: ASK_EVERY_MS,
  });
}

export function useHistory(loop: string) {
  return useQuery({
    queryKey: ["handover", loop, "history"],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/history/", { params: { path: { id: loop } } })),
  });
}

export function useBoard() {
  return useQuery({
    queryKey: ["handover", "board"],
    queryFn: () => answered(api.GET("/api/v1/handover/board/")),
    refetchInterval: ASK_EVERY_MS,
  });
}

/** What follows from a signature or an issue stands in many places. */
function useForget() {
  const client = useQueryClient();
  return () =>
    Promise.all(
      ["handover", "issue", "loops", "loop", "notices"].map((name) =>
        client.invalidateQueries({ queryKey: [name] }),
      ),
    );
}

export function useMakeIssue(loop: string) {
  const forget = useForget();
  return useMutation({
    mutationFn: (body: Schemas["IssueMakeRequest"]) =>
      answered(api.POST("/api/v1/loops/{id}/issues/", { params: { path: { id: loop } }, body })),
    onSettled: forget,
  });
}

export function useSign(issue: string) {
  const forget = useForget();
  return useMutation({
    mutationFn: (body: Schemas["SignRequest"]) =>
      answered(api.POST("/api/v1/issues/{id}/sign/", { params: { path: { id: issue } }, body })),
    onSettled: forget,
  });
}

export function useAskBack(issue: string) {
  const forget = useForget();
  return useMutation({
    mutationFn: (body: Schemas["AskBackRequest"]) =>
      answered(api.POST("/api/v1/issues/{id}/ask-back/", { params: { path: { id: issue } }, body })),
    onSettled: forget,
  });
}

export function useRules() {
  return useQuery({
    queryKey: ["handover", "rules"],
    queryFn: () => answered(api.GET("/api/v1/handover/rules/")),
  });
}

export function useKeepRules() {
  const client = useQueryClient();
  return useInTurn<Omit<Schemas["RulesRequest"], "version">>(
    "rules",
    async (rules, version) => {
      const kept = await answered(api.PUT("/api/v1/handover/rules/", { body: { ...rules, version } }));
      putAnswer(client, ["handover", "rules"], kept);
      return kept.version ?? version;
    },
    useForget(),
  );
}

/** What the record of all loops says, or of those of one site. */
export function useStatistics(site: string | null) {
  return useQuery({
    queryKey: ["statistics", site],
    queryFn: ({ signal }) =>
      answered(api.GET("/api/v1/statistics/", { params: { query: { site: site ?? undefined } }, signal })),
  });
}
