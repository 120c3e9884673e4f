/** An isolation in one line. */
import { texts } from "../../texts/en";
import type { Isolation } from "./queries";

const words = texts.isolation;

export function timeOf(at: string): string {
  const date = new Date(at);
  const isToday = date.toDateString() === new Date().toDateString();
  return date.toLocaleString([], {
    hour: "2-digit",
    minute: "2-digit",
    ...(isToday ? {} : { day: "numeric", month: "short" }),
  });
}

export function whatOf(isolation: Pick<Isolation, "scope" | "breakers">): string {
  return isolation.scope === "whole_installation"
    ? words.whole
    : words.breaker(isolation.breakers.join(", "));
}

/** "breaker 6 off since 09:12, Wren, Cellar steps" */
export function lineOf(isolation: Isolation): string {
  return words.since(
    whatOf(isolation),
    timeOf(isolation.opened_at),
    isolation.opened_by,
    isolation.loop_name,
  );
}
