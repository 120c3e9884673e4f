/** The plan that somebody is in the middle of: kept on this device, so that a reload or a lost connection ends nothing. */
import { useState } from "react";
import { keep, kept } from "../../app/person";
import type { Pairing, PairStep, PlanStep } from "./queries";

export interface Run {
  steps: PlanStep[];
  at: number;
  /** Devices that are left out of it; a plan that was begun before this was kept does not say. */
  without?: readonly string[];
  /** When the network was opened, and when the device that is to join was asked [ms of the clock]. */
  openedAt: number | null;
  askedAt: number | null;
  /** What is repeated after a miss, before the plan goes on. */
  again: PairStep[];
  againAt: number;
}

export function freshRun({ steps, without }: Pairing): Run {
  return { steps, without, at: 0, openedAt: null, askedAt: null, again: [], againAt: 0 };
}

const nameOf = (site: string, hub: string) => `pairing:${site}:${hub}`;

/** What this person is in the middle of at a hub, on this device. */
export function keptRun(site: string, hub: string): Run | null {
  return kept<Run>(nameOf(site, hub));
}

/** The step that hands are at: of what is repeated, or of the plan. */
export function stepOf(run: Run): PairStep | undefined {
  return run.again[run.againAt] ?? run.steps[run.at];
}

export function useRun(site: string, hub: string): [Run | null, (next: Run | null) => void] {
  const [run, setRun] = useState<Run | null>(() => keptRun(site, hub));
  return [
    run,
    (next) => {
      keep(nameOf(site, hub), next);
      setRun(next);
    },
  ];
}

const ASKS = new Set(["enter", "power", "cycle"]);

/** After a step was done. */
export function stepped(run: Run, step: PairStep, now_ms: number): Run {
  const inAgain = run.again.length > run.againAt;
  const next: Run = inAgain ? { ...run, againAt: run.againAt + 1 } : { ...run, at: run.at + 1 };
  const opened = step.do === "open" ? now_ms : step.do === "close" ? null : run.openedAt;
  const askedAt = ASKS.has(step.do) ? now_ms : run.askedAt;
  const isOver = inAgain && next.againAt >= run.again.length;
  return {
    ...next,
    openedAt: opened,
    askedAt,
    // What was repeated stood for the step of the plan that failed.
    ...(isOver ? { again: [], againAt: 0, at: run.at + 1 } : {}),
  };
}

/** How long network and device are still open [s]; null where they are not. */
export function leftOf(run: Run, now_ms: number): { network: number | null; device: number | null } {
  const step = stepOf(run);
  const all = [...run.steps, ...run.again];
  const network_s = all.find((one) => one.do === "open")?.window_s ?? null;
  const device_s = step?.window_s ?? null;
  const left = (at: number | null, window_s: number | null) =>
    at === null || window_s === null ? null : window_s - (now_ms - at) / 1000;
  return { network: left(run.openedAt, network_s), device: left(run.askedAt, device_s) };
}

/** What to repeat after a miss: nothing more than what has closed. It came with the plan, so it needs no connection. */
export function againOf(run: Run, now_ms: number): PairStep[] {
  const left = leftOf(run, now_ms);
  const serves = (needs: number | null, is: number | null) => needs === null || (is !== null && is >= needs);
  const ways = run.steps[run.at]?.again ?? [];
  return (
    ways.find((way) => serves(way.network_s, left.network) && serves(way.window_s, left.device))?.steps ?? []
  );
}
