/** The survey of a loop, what its forms choose from, and the meter. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";
import { putAnswer } from "../../api/putAnswer";
import { useInTurn } from "../inTurn";

export type Survey = Schemas["Survey"];
export type Choices = Schemas["SurveyChoices"];

/** The words of what was chosen; empty where that is none of the choices. */
export function chosenWord(choices: readonly Schemas["Choice"][], value: string | undefined): string {
  return choices.find((one) => one.value === value)?.text ?? "";
}

export type Choice = Schemas["Choice"];
export type Proposal = Schemas["Proposal"];
export type Note = Schemas["Note"];

/** The survey of one box, asked for again and again while it is open: what it says of power must not be old. */
export function useSurvey(loop: string, place: number, every_ms: number | false) {
  return useQuery({
    queryKey: ["survey", loop, place],
    queryFn: () =>
      answered(api.GET("/api/v1/loops/{id}/survey/", { params: { path: { id: loop }, query: { place } } })),
    refetchInterval: every_ms,
    refetchIntervalInBackground: false,
  });
}

export function useChoices(region: string) {
  return useQuery({
    queryKey: ["survey-choices", region],
    queryFn: () =>
      answered(
        api.GET("/api/v1/survey-choices/", { params: { query: { region: region === "na" ? "na" : "eu" } } }),
      ),
    staleTime: Infinity,
  });
}

export function useMeter() {
  return useQuery({ queryKey: ["meter"], queryFn: () => answered(api.GET("/api/v1/meter/")) });
}

export function useMeterFault() {
  const client = useQueryClient();
  return useInTurn<Schemas["MeterFaultRequest"]>(
    "meter",
    async (body, version) => {
      putAnswer(client, ["meter"], await answered(api.PUT("/api/v1/meter/", { body })));
      return version;
    },
    () => Promise.resolve(),
  );
}

export function useReadMeter(loop: string) {
  return useMutation({
    mutationFn: (body: Schemas["MeterReadRequest"]) =>
      answered(api.POST("/api/v1/loops/{id}/meter/", { params: { path: { id: loop } }, body })),
  });
}
