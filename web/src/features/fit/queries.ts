/** The fitting of a loop, with what was pressed here and has not arrived yet. */
import { useQuery } from "@tanstack/react-query";
import { useMemo } from "react";
import { answered, api, type Schemas } from "../../api/client";
import type { Entry } from "../../device/entry";
import { send } from "../../device/tray";
import { useTray } from "../../device/useTray";
import { texts } from "../../texts";
import type { Waiting } from "./overlay";

export type Fitting = Schemas["Fitting"];
export type FitStep = Schemas["FitStep"];
export type Outcome = Schemas["OutcomeEnum"];

const ASK_EVERY_MS = 5_000;

/** Asked again while it is open: what it says of power and proofs must not be old. */
export function useFitting(loop: string) {
  return useQuery({
    queryKey: ["fit", loop],
    queryFn: () => answered(api.GET("/api/v1/loops/{id}/fit/", { params: { path: { id: loop } } })),
    refetchInterval: ASK_EVERY_MS,
    refetchIntervalInBackground: false,
  });
}

/** What was entered about the fitting of a loop and is still on this device. */
export function useFitEntries(loop: string): readonly Entry[] {
  const { mine } = useTray();
  return useMemo(
    () => mine.filter((entry) => entry.loop === loop && /\/(fit\/(marks|left)|kit)\/$/.test(entry.path)),
    [loop, mine],
  );
}

/** What was entered here, other than presses, that may settle a step once it has arrived. */
export function useWaiting(loop: string): Waiting {
  const { mine } = useTray();
  return useMemo(() => {
    const waiting = mine.filter((entry) => entry.state === "waiting");
    const pictures = waiting.filter((entry) => entry.loop === loop && entry.body["moment"] === "before");
    return {
      pictures: new Set(pictures.map((entry) => Number(entry.body["place"]))),
      // An isolation is of a site: it may have been entered at another loop.
      isPower: waiting.some((entry) => /\/(isolations|locks|off|energise|proof-events)\//.test(entry.path)),
    };
  }, [loop, mine]);
}

export interface FitEntries {
  mark: (step: FitStep, outcome: Outcome, reason?: string) => void;
  leave: (leaving: Schemas["LeavingEnum"], note: string, title: string) => void;
  kit: (part: string, found: Record<string, boolean>) => void;
  photo: (step: FitStep, file: Blob) => void;
}

export function useFitSend(loop: string, loopName: string, choice: string): FitEntries {
  return useMemo(() => {
    const words = texts.fit;
    const base = { loop, where: loopName, page: `/loops/${loop}?step=fit` };
    const made = () => ({ id: crypto.randomUUID(), made_at: new Date().toISOString() });
    return {
      mark: (step, outcome, reason = "") => {
        send({
          ...base,
          place: step.place_number,
          label: `${words.outcomes[outcome]}: ${step.title}`,
          path: `/api/v1/loops/${loop}/fit/marks/`,
          body: { ...made(), choice, step: step.key, outcome, reason },
          fields: reason === "" ? [] : [["reason", words.reason]],
        });
      },
      leave: (leaving, note, title) => {
        send({
          ...base,
          label: title,
          path: `/api/v1/loops/${loop}/fit/left/`,
          body: { ...made(), choice, leaving, note },
        });
      },
      kit: (part, found) => {
        send({
          ...base,
          label: words.kitTitle,
          path: `/api/v1/loops/${loop}/kit/`,
          body: { ...made(), part, found },
        });
      },
      photo: (step, file) => {
        const moment = step.act === "photograph" ? "before" : "during";
        send({
          ...base,
          place: step.place_number,
          label: `${texts.device.picture}: ${step.title}`,
          path: `/api/v1/loops/${loop}/photos/`,
          body: {
            id: crypto.randomUUID(),
            place: step.place_number,
            moment,
            caption: step.title.slice(0, 200),
          },
          file,
        });
      },
    };
  }, [choice, loop, loopName]);
}
