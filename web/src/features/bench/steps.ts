/** The ten steps of a job in working order, their parts, and where one is: it stands in the address. */
import { useCallback } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../../api/client";

/** In working order, on the keys 1 to 9 and 0. */
export const STEPS = [
  "visit",
  "safe",
  "box",
  "parts",
  "judge",
  "route",
  "fit",
  "prove",
  "setup",
  "handover",
] as const;
export type Step = (typeof STEPS)[number];

/** A step shows when it can do something. */
export const READY: readonly Step[] = STEPS;

export const TABS = {
  box: ["found", "which"],
  parts: ["lamps", "control", "bypass", "cable"],
  judge: ["light_off", "light_on", "loads"],
  route: ["ways", "map", "bypass_choice", "drawing"],
  prove: ["list", "readings", "wrong"],
  setup: ["radio", "join", "programs", "fails"],
  handover: ["papers", "sign", "history"],
} as const;
export type Tab = (typeof TABS)[keyof typeof TABS][number];

export interface At {
  step: Step;
  /** The part of the step that is looked at; null where it has none. */
  tab: Tab | null;
}

export function tabsOf(step: Step): readonly Tab[] {
  return step in TABS ? TABS[step as keyof typeof TABS] : [];
}

/** The key of a step: its place among the ten, the tenth on 0. */
export function keyOf(step: Step): string {
  return String((STEPS.indexOf(step) + 1) % 10);
}

/** The steps that belong to the box as a whole, not to one gang. */
export function isSurveyStep(step: Step): boolean {
  return step === "visit" || step === "safe" || step === "box";
}

/** Where parts are put on the thread; elsewhere it is a line, and the step has the height. */
export function editsThread({ step, tab }: At): boolean {
  return step === "parts" || tab === "bypass_choice";
}

/** Where the next thing is done. */
const NEXT: Record<Schemas["NextStepEnum"], At> = {
  survey: { step: "box", tab: "which" },
  lamps: { step: "parts", tab: "lamps" },
  control: { step: "parts", tab: "control" },
  remedy: { step: "route", tab: "bypass_choice" },
  measure: { step: "judge", tab: "light_off" },
  light_on: { step: "judge", tab: "light_on" },
  loads: { step: "judge", tab: "loads" },
  route: { step: "route", tab: "ways" },
  fit: { step: "fit", tab: null },
  prove: { step: "prove", tab: "list" },
  case: { step: "prove", tab: "wrong" },
  setup: { step: "setup", tab: "join" },
  hand_over: { step: "handover", tab: "sign" },
  check: { step: "handover", tab: "sign" },
  done: { step: "handover", tab: "sign" },
  sheet: { step: "handover", tab: "papers" },
};

export function placeOf(next: Schemas["NextStepEnum"]): At {
  return NEXT[next];
}

/** The address of a step of a gang. */
export function addressOf(loop: string, position: number, at: At): string {
  const tab = at.tab === null ? "" : `&tab=${at.tab}`;
  return `/loops/${loop}/${position}?step=${at.step}${tab}`;
}

/** Where one is by the address; where that says nothing, where one begins. */
export function useAt(first: At): [At, (step: Step, tab?: Tab | null) => void] {
  const [params, setParams] = useSearchParams();
  const named = READY.find((step) => step === params.get("step"));
  const step = named ?? first.step;
  const tabs = tabsOf(step);
  const wanted = named === undefined ? first.tab : params.get("tab");
  const tab = tabs.find((name) => name === wanted) ?? tabs[0] ?? null;
  const go = useCallback(
    (next: Step, nextTab: Tab | null = null) =>
      setParams((now) => {
        const changed = new URLSearchParams(now);
        changed.set("step", next);
        if (nextTab === null) changed.delete("tab");
        else changed.set("tab", nextTab);
        return changed;
      }),
    [setParams],
  );
  return [{ step, tab }, go];
}
