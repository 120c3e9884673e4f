/** What two people found at one box since one record, put together. */
import { isSame, part, rows } from "../together";
import type { Box, Conductor, SurveyDoc } from "./useSurveyDraft";

/** What both changed and not alike: one's own stands, and a conductor that one took away and the other changed stays. */
export type Clash =
  | { what: "name" | "enquiry" | "box" | "control" }
  | { what: "conductor"; id: string; theirs: Conductor | null };

const CONTROL = ["control_body", "spacers_m"] as const;
const OF_BOX = ["travellers_m", "other_circuits"] as const;
const idsOf = (conductors: readonly Conductor[]): string =>
  JSON.stringify(conductors.map((one) => one.id).sort());

/**
 * A conductor is what one of them saw: it is of one or the other as a whole, never half of each. After another practice
 * was chosen the box is another one, and is of one of them as a whole too. Null where both listed another conductor
 * under one name: what the one read of it would be told of the other's.
 */
export function putTogether(
  base: SurveyDoc,
  mine: SurveyDoc,
  theirs: SurveyDoc,
): [SurveyDoc, Clash[]] | null {
  const known = new Set(base.box.conductors.map((one) => one.id));
  const isOneName = mine.box.conductors.some(
    (one) =>
      !known.has(one.id) && theirs.box.conductors.some((other) => other.id === one.id && !isSame(other, one)),
  );
  if (isOneName) return null;
  const clashes: Clash[] = [];
  const once = (clash: Clash) => {
    if (!clashes.some((one) => JSON.stringify(one) === JSON.stringify(clash))) clashes.push(clash);
  };
  const parts = <T extends object>(was: T, own: T, other: T, names: readonly string[], clash: Clash): T => {
    const of = (one: T) => one as Record<string, unknown>;
    return Object.fromEntries(
      names.map((name) => [name, part(of(was)[name], of(own)[name], of(other)[name], () => once(clash))]),
    ) as T;
  };
  const keys = (...of: object[]) => [...new Set(of.flatMap((one) => Object.keys(one)))];
  const boxOf = (was: Box, own: Box, other: Box): Box => {
    const names = keys(other, own).filter((name) => name !== "conductors" && name !== "all_listed");
    const conductors = rows<Conductor>(
      [was.conductors, own.conductors, other.conductors],
      (one) => one.id,
      (before, ours, their) =>
        before === undefined
          ? ours
          : part(before, ours, their, () => once({ what: "conductor", id: ours.id, theirs: their })),
      (id) => once({ what: "conductor", id, theirs: null }),
    );
    const listed = idsOf(conductors);
    return {
      ...parts(was, own, other, names, { what: "box" }),
      conductors,
      // That every conductor is listed was said of one list: of another one nobody has said it, and who took it back has.
      all_listed:
        !(was.all_listed === true && [own, other].some((one) => one.all_listed !== true)) &&
        [own, other].some((one) => one.all_listed === true && idsOf(one.conductors) === listed),
    };
  };
  const whole = ({ practice, box }: SurveyDoc) => ({ practice, box });
  const isOnePractice = base.practice === mine.practice && base.practice === theirs.practice;
  const enquiry = parts(base.enquiry, mine.enquiry, theirs.enquiry, keys(theirs.enquiry, mine.enquiry), {
    what: "enquiry",
  });
  const doc: SurveyDoc = {
    ...mine,
    ...parts<SurveyDoc>(base, mine, theirs, ["name"], { what: "name" }),
    ...parts<SurveyDoc>(base, mine, theirs, CONTROL, { what: "control" }),
    ...parts<SurveyDoc>(base, mine, theirs, OF_BOX, { what: "box" }),
    // What one of them took back is not said any more.
    enquiry: Object.fromEntries(Object.entries(enquiry).filter(([, value]) => value !== undefined)),
    ...(isOnePractice
      ? { box: boxOf(base.box, mine.box, theirs.box) }
      : part(whole(base), whole(mine), whole(theirs), () => once({ what: "box" }))),
  };
  return [doc, clashes];
}
