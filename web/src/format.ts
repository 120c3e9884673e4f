/** SI values as people read and type them; the only place where figures are scaled. */

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
const ZERO_CELSIUS_K = 273.15;
const UNPREFIXED = new Set(["K", "1/K", "K/W", "1", "s"]);

/** Three significant digits without exponent. */
export function significant(value: number, digits = 3): string {
  if (value === 0) return "0";
  const rounded = Number(value.toPrecision(digits));
  const decimals = Math.max(0, digits - 1 - Math.floor(Math.log10(Math.abs(rounded))));
  return rounded.toFixed(Math.min(decimals, 12));
}

/** A value with prefix and unit, as in "2.35 mA". */
export function engineering(value: number, unit: string): string {
  if (unit === "K") return `${significant(value - ZERO_CELSIUS_K)} °C`;
  if (unit === "1") return significant(value);
  if (UNPREFIXED.has(unit)) return `${significant(value)} ${unit}`;
  const size = Math.abs(value);
  if (size === 0) return `0 ${unit}`;
  const [factor, prefix] = PREFIXES.find(([f]) => size >= 0.9995 * f) ?? [1e-12, "p"];
  return `${significant(value / factor)} ${prefix}${unit}`;
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
  if (unit === "K") return `${Number((value - ZERO_CELSIUS_K).toFixed(2))} °C`;
  if (unit === "1" || UNPREFIXED.has(unit)) return String(Number(value.toPrecision(6)));
  const size = Math.abs(value);
  if (size === 0) return "0";
  const [factor, prefix] = PREFIXES.find(([f]) => size >= 0.9995 * f) ?? [1e-12, "p"];
  return `${Number((value / factor).toPrecision(6))} ${prefix}${unit}`;
}

/** Reads "100 n", "0.1µF", "22k", "4,7 uF" as an SI value; null when it is no number. */
export function readQuantity(text: string, unit: string): number | null {
  const match = /^\s*([-+]?\d*[.,]?\d+(?:e[-+]?\d+)?)\s*(.*?)\s*$/i.exec(text);
  if (!match) return null;
  const value = Number((match[1] ?? "").replace(",", "."));
  if (!Number.isFinite(value)) return null;
  if (unit === "K") {
    const words = (match[2] ?? "").replace("°", "").toUpperCase();
    if (words !== "" && words !== "C" && words !== "K") return null;
    // To a hundredth of a degree, or the sum of two decimals would not come back as it was typed.
    return words === "K" ? value : Number((value + ZERO_CELSIUS_K).toFixed(2));
  }
  let rest = (match[2] ?? "").replace("Ohm", "Ω").replace("ohm", "Ω");
  if (rest === unit || rest === "") return value;
  if (rest.endsWith(unit)) rest = rest.slice(0, -unit.length);
  const prefix = rest === "u" || rest === "μ" ? "µ" : rest === "K" ? "k" : rest;
  const factor = PREFIXES.find(([, p]) => p === prefix)?.[0];
  return factor === undefined || UNPREFIXED.has(unit) ? null : value * factor;
}
