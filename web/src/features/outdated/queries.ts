/** Judgements that no longer hold, and judging one of them again. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api } from "../../api/client";

export function useOutdated() {
  return useQuery({
    queryKey: ["outdated"],
    queryFn: ({ signal }) => answered(api.GET("/api/v1/outdated/", { signal })),
  });
}

/** One gang, at once; all there are is work for the server. */
export function useJudgeAgain(gang: string) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answered(api.POST("/api/v1/gangs/{id}/judge-again/", { params: { path: { id: gang } } })),
    onSettled: () =>
      Promise.all(
        [["outdated"], ["loops"], ["loop"], ["judgements"], ["changes"]].map((queryKey) =>
          client.invalidateQueries({ queryKey }),
        ),
      ),
  });
}
