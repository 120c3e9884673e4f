/** What a person typed, read as a quantity. Nothing here rewrites what stands in the field. */
import { DECIMAL, ZERO_CELSIUS_K } from "../../format";
import { PREFIXES, type Usual } from "./usual";

export type Reading =
  | { is: "empty" }
  | { is: "value"; value: number }
  | { is: "wrong"; why: "number" | "unit" | "comma" | "whole" | "negative" | "needed" }
  /** Far from what is usual here: taken once it is confirmed; `instead` is what may have been meant. */
  | { is: "doubt"; value: number; instead: number | null };

// As written on the bodies of parts: 4k7, 2n2.
const LETTER_FOR_POINT = /^(\d+)([pnuµμmkKMR])(\d+)\s*(.*)$/;
const NUMBER = /^([-+]?(?:\d{1,3}(?: \d{3})+|\d+)?(?:[.,]\d*)?(?:e[-+]?\d+)?)\s*(.*)$/i;
// What does not stand before the tenths here can mark off thousands: "1,500" is fifteen hundred to one
// reader and one and a half to the next.
const MARKS_THOUSANDS = DECIMAL === "," ? "." : ",";
const TWO_MEANINGS = /^[-+]?[1-9]\d{0,2}[.,]\d{3}(?:[.,]\d+)?$/;

/** A square millimetre is a millionth of a square metre. */
function factor(letter: string, usual: Usual): number | null {
  const plain = { u: "µ", μ: "µ", K: "k", R: "" }[letter] ?? letter;
  const found = PREFIXES[plain];
  return found === undefined ? null : usual.unit === "m²" ? found ** 2 : found;
}

/** Factor to SI of what stands behind the number; null where it is no unit of this quantity. */
function factorOf(rest: string, usual: Usual): number | null {
  const unit = usual.unit;
  if (rest === "") return factor(usual.prefix, usual);
  if (unit === "1") return null;
  let text = rest
    .replace(/ohms?$/i, "Ω")
    .replace(/s(ec(onds?)?)$/, "s")
    .replace(/^deg(rees?)?$/i, "°")
    // As makers write the steepness of a capacitor.
    .replace(/^V\/[uµμ]s$/, "MV/s");
  if (unit === "m" && text === "cm") return 0.01;
  if (text === unit) return 1;
  if (text.toLowerCase().endsWith(unit.toLowerCase())) text = text.slice(0, text.length - unit.length).trim();
  return text === "" ? 1 : factor(text, usual);
}

function celsius(value: number, rest: string): number | null {
  const word = rest.replace("°", "").toUpperCase();
  if (word === "K") return value;
  // To a hundredth of a degree, or the sum of two decimals would not come back as it was typed.
  return word === "" || word === "C" ? Number((value + ZERO_CELSIUS_K).toFixed(2)) : null;
}

function split(text: string): { digits: string; rest: string } | null {
  const letter = LETTER_FOR_POINT.exec(text);
  if (letter) {
    const [, whole = "", prefix = "", part = "", unit = ""] = letter;
    return { digits: `${whole}.${part}`, rest: `${prefix === "R" ? "" : prefix}${unit}` };
  }
  const match = NUMBER.exec(text);
  return match && /\d/.test(match[1] ?? "") ? { digits: match[1] ?? "", rest: match[2] ?? "" } : null;
}

export function readTyped(typed: string, usual: Usual, isWhole = false): Reading {
  const text = typed
    .replace(/[\u00a0\u202f]/g, " ")
    .replace("\u2212", "-")
    .trim();
  if (text === "") return { is: "empty" };
  const parts = split(text);
  if (parts === null) return { is: "wrong", why: "number" };
  if (TWO_MEANINGS.test(parts.digits) && parts.digits.includes(MARKS_THOUSANDS))
    return { is: "wrong", why: "comma" };
  const number = Number(parts.digits.replaceAll(" ", "").replace(",", "."));
  if (!Number.isFinite(number)) return { is: "wrong", why: "number" };
  const scaled = usual.unit === "K" ? celsius(number, parts.rest) : factorOf(parts.rest, usual);
  if (scaled === null) return { is: "wrong", why: "unit" };
  // Twelve digits, or 22 n would be 2.2000000000000002e-8.
  const value = usual.unit === "K" ? scaled : Number((number * scaled).toPrecision(12));
  if (isWhole && !Number.isInteger(value)) return { is: "wrong", why: "whole" };
  if (value < 0 && usual.low >= 0) return { is: "wrong", why: "negative" };
  if (value >= usual.low && value <= usual.high) return { is: "value", value };
  return { is: "doubt", value, instead: usual.unit === "K" ? null : meant(number, usual) };
}

/** The same digits with the prefix of the field, or else another, where that is usual; null where none is. */
function meant(number: number, usual: Usual): number | null {
  if (usual.unit === "1") return null;
  const factors = [usual.prefix, ...Object.keys(PREFIXES)].map((prefix) => factor(prefix, usual) ?? 1);
  const found = factors.find((size) => number * size >= usual.low && number * size <= usual.high);
  return found === undefined ? null : Number((number * found).toPrecision(12));
}
