/** What two people changed at one gang since one record, put together. */
import { part } from "../together";
import type { Draft } from "./draft";

/** A part of the gang that both changed and not alike: one's own stands. */
export type Clash = keyof Draft;

/**
 * A part is as one of them left it, never half of each: lamps that one counted are not told with the figures that the
 * other gave them, nor one's control in the place of the other's.
 */
export function putTogether(base: Draft, mine: Draft, theirs: Draft): [Draft, Clash[]] {
  const clashes: Clash[] = [];
  const names = Object.keys(theirs) as Clash[];
  const draft = Object.fromEntries(
    names.map((name) => [
      name,
      part<unknown>(base[name], mine[name], theirs[name], () => clashes.push(name)),
    ]),
  ) as unknown as Draft;
  return [draft, clashes];
}
