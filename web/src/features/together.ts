/** Two versions of one record, put together: each part is of whoever changed it. */
import { hashKey } from "@tanstack/react-query";

export function isSame(one: unknown, other: unknown): boolean {
  return hashKey([one]) === hashKey([other]);
}

/** A part as a whole: of whoever changed it, and one's own where both did, which is told. */
export function part<T>(was: T, own: T, other: T, onClash: () => void): T {
  if (isSame(own, was)) return other;
  if (!isSame(other, was) && !isSame(own, other)) onClash();
  return own;
}

/** Rows by their key: those that are in both are put together by `row`; one that only one took away goes. */
export function rows<T>(
  [was, own, other]: readonly [readonly T[], readonly T[], readonly T[]],
  keyOf: (row: T) => string,
  row: (was: T | undefined, own: T, other: T) => T,
  onClash: (key: string) => void,
): T[] {
  const by = (of: readonly T[]) => new Map(of.map((one) => [keyOf(one), one]));
  const [before, ours, theirs] = [by(was), by(own), by(other)];
  return [...new Set([...theirs.keys(), ...ours.keys()])].flatMap((key) => {
    const [old, mine, their] = [before.get(key), ours.get(key), theirs.get(key)];
    if (mine !== undefined && their !== undefined) return [row(old, mine, their)];
    const left = mine ?? their;
    if (left === undefined || (old !== undefined && isSame(old, left))) return [];
    // One took it away and the other changed it: it stays, and is told.
    if (old !== undefined) onClash(key);
    return [left];
  });
}
