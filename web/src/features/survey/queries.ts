/** The survey of a loop, what its forms choose from, and the meter. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../api/client";

export type Survey = Schemas["Survey"];
export type Choices = Schemas["SurveyChoices"];
export type Choice = Schemas["Choice"];
export type Isolation = Schemas["Isolation"];
export type Proposal = Schemas["Proposal"];
export type Note = Schemas["Note"];

export const surveyKey = (loop: string) => ["survey", loop];

export function useSurvey(loop: string) {
  return useQuery({
    queryKey: surveyKey(loop),
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/survey/", { params: { path: { id: loop } } })),
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
  return useMutation({
    mutationFn: (fault: Schemas["MeterFaultEnum"]) =>
      answered(api.PUT("/api/v1/meter/", { body: { fault } })),
    onSuccess: (meter) => client.setQueryData(["meter"], meter),
  });
}

export function useReadMeter(loop: string) {
  return useMutation({
    mutationFn: (body: Schemas["MeterReadRequest"]) =>
      answered(api.POST("/api/v1/loops/{id}/meter/", { params: { path: { id: loop } }, body })),
  });
}

/** Something that answers with the whole survey: it goes straight to the screen. */
export function useSurveyWrite<T>(loop: string, write: (given: T) => Promise<Survey>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: write,
    onSuccess: (survey) => {
      client.setQueryData(surveyKey(loop), survey);
      void client.invalidateQueries({ queryKey: ["loops"] });
    },
  });
}

export function useStrike(loop: string) {
  return useSurveyWrite(loop, ({ id, reason }: { id: string; reason: string }) =>
    answered(api.POST("/api/v1/readings/{id}/strike/", { params: { path: { id } }, body: { reason } })),
  );
}

interface PhotoToSend {
  id: string;
  file: Blob;
  moment: Schemas["MomentEnum"];
  caption: string;
}

export function useAddPhoto(loop: string) {
  return useSurveyWrite(loop, ({ id, file, moment, caption }: PhotoToSend) => {
    const form = new FormData();
    form.set("id", id);
    form.set("moment", moment);
    form.set("caption", caption);
    form.set("file", file, "photo");
    return answered(
      api.POST("/api/v1/loops/{id}/photos/", {
        params: { path: { id: loop } },
        // The generated type is the form's fields; the browser sends the form itself.
        body: form as never,
        bodySerializer: (body: unknown) => body as FormData,
      }),
    );
  });
}
