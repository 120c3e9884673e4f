/** What is entered at a box, as entries of the tray. */
import { useMemo } from "react";
import type { Schemas } from "../../api/client";
import { send } from "../../device/tray";
import { texts } from "../../texts";
import type { At } from "../isolation/useIsolationEntries";

export type ReadingBody = Omit<Schemas["ReadingTakeRequest"], "id" | "place" | "made_at">;
export type ProofEventBody = Omit<Schemas["ProofEventAddRequest"], "id" | "place" | "made_at">;

export interface SurveyEntries {
  reading: (body: ReadingBody, label: string) => string;
  proofEvent: (body: ProofEventBody, label: string) => string;
  step: (step: Schemas["SurveyStepEnum"], isDone: boolean, label: string, reason?: string) => string;
  photo: (file: Blob, moment: Schemas["MomentEnum"], caption: string) => string;
  strike: (reading: string, reason: string, label: string) => string;
}

export function useSurveyEntries({ loop, loopName, place, page }: At): SurveyEntries {
  return useMemo(() => {
    const base = { loop, place, where: loopName, page };
    const made = () => ({ id: crypto.randomUUID(), place, made_at: new Date().toISOString() });
    return {
      reading: (body, label) => {
        const given = { ...made(), ...body };
        send({
          ...base,
          label,
          path: `/api/v1/loops/${loop}/readings/`,
          body: given,
          fields: body.is_open ? [] : typeof body.v !== "number" ? [["r_ohm", "Ω"]] : [["v", "V"]],
        });
        return given.id;
      },
      proofEvent: (body, label) =>
        send({
          ...base,
          label,
          path: `/api/v1/loops/${loop}/proof-events/`,
          body: { ...made(), ...body },
          fields: body.kind === "reading" ? [["v", "V"]] : [],
        }),
      step: (step, isDone, label, reason = "") =>
        send({
          ...base,
          label,
          path: `/api/v1/loops/${loop}/steps/`,
          body: { id: crypto.randomUUID(), place, step, is_done: isDone, override_reason: reason },
        }),
      photo: (file, moment, caption) =>
        send({
          ...base,
          label: `${texts.device.picture}: ${caption || texts.survey.box.moments[moment]}`,
          path: `/api/v1/loops/${loop}/photos/`,
          body: { id: crypto.randomUUID(), place, moment, caption },
          file,
        }),
      strike: (reading, reason, label) =>
        send({
          ...base,
          label,
          path: `/api/v1/readings/${reading}/strike/`,
          body: { reason },
          fields: [["reason", texts.survey.conductors.strikeWhy]],
        }),
    };
  }, [loop, loopName, place, page]);
}
