/** SI values as people read and type them; the only place where figures are scaled. */
import { language } from "./texts";

/** What stands before the tenths in this language: a point or a comma. */
export const DECIMAL =
  new Intl.NumberFormat(language).formatToParts(0.5).find((part) => part.type === "decimal")?.value ?? ".";

/** A number as written in this language; no thousands are marked off. */
export function localNumber(value: number | string): string {
  return String(value).replace(".", DECIMAL);
}

const PREFIXES: ReadonlyArray<readonly [number, string]> = [
  [1e6, "M"],
  [1e3, "k"],
  [1, ""],
  [1e-3, "m"],
  [1e-6, "µ"],
  [1e-9, "n"],
  [1e-12, "p"],
];
// Temperatures are kelvin inside and degrees Celsius for people.
export const ZERO_CELSIUS_K = 273.15;
const UNPREFIXED = new Set(["K", "1/K", "K/W", "1", "s"]);

/** Three significant digits without exponent. */
export function significant(value: number, digits = 3): string {
  if (value === 0) return "0";
  const rounded = Number(value.toPrecision(digits));
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(Math.abs(rounded))));
  return localNumber(rounded.toFixed(Math.min(decimals, 12)));
}

/** A value with prefix and unit, as in "2.35 mA". */
export function engineering(value: number, unit: string): string {
  if (unit === "K") return `${significant(value - ZERO_CELSIUS_K)} °C`;
  if (unit === "1") return significant(value);
  if (unit === "m²") return `${significant(value * 1e6)} mm²`;
  if (UNPREFIXED.has(unit)) return `${significant(value)} ${unit}`;
  const size = Math.abs(value);
  if (size === 0) return `0 ${unit}`;
  const [factor, prefix] = PREFIXES.find(([f]) => size >= 0.9995 * f) ?? [1e-12, "p"];
  return `${significant(value / factor)} ${prefix}${unit}`;
}

/** The same without zeros behind the decimal sign that tell nothing: for the scale of a drawing. */
export function scaleText(value: number, unit: string): string {
  const [digits = "", ...rest] = engineering(value, unit).split(" ");
  const bare = digits.includes(DECIMAL) ? digits.replace(/0+$/, "") : digits;
  return [bare.endsWith(DECIMAL) ? bare.slice(0, -DECIMAL.length) : bare, ...rest].join(" ");
}

/** A figure as text: one of its words, or a value with prefix and unit. */
export function figureText(
  value: number,
  field: { unit: string; words: readonly { label: string }[] },
): string {
  return field.words[value]?.label ?? engineering(value, field.unit);
}

/** A value for an input field: as many digits as it has, up to six. */
export function editable(value: number, unit: string): string {
  if (unit === "K") return `${localNumber(Number((value - ZERO_CELSIUS_K).toFixed(2)))} °C`;
  if (unit === "m²") return `${localNumber(Number((value * 1e6).toPrecision(6)))} mm²`;
  if (unit === "1" || UNPREFIXED.has(unit)) {
    return localNumber(Number(value.toPrecision(6)));
  }
  const size = Math.abs(value);
  if (size === 0) return "0";
  const [factor, prefix] = PREFIXES.find(([f]) => size >= 0.9995 * f) ?? [1e-12, "p"];
  return `${localNumber(Number((value / factor).toPrecision(6)))} ${prefix}${unit}`;
}
