/** What is usual of each figure: the unit a bare number has in its field, and where a typed value is asked about. */
import table from "../../api/generated/usual.json";

export interface Usual {
  unit: string;
  prefix: string;
  low: number;
  high: number;
}

export type QuantityName = keyof typeof table.quantities;

export const PREFIXES: Readonly<Record<string, number>> = table.prefixes;

type Row = [unit: string, prefix: string, low: number, high: number];

export function usualOf(name: QuantityName): Usual {
  const [unit, prefix, low, high] = (table.quantities as unknown as Record<QuantityName, Row>)[name];
  return { unit, prefix, low, high };
}

/** The name of a figure as the server lists it; each has its line in the table, which a test holds. */
export function quantityName(field: string): QuantityName {
  return (field.split(".").at(-1) ?? field) as QuantityName;
}

/** The unit that the field says, as in "nF"; empty for a count. */
export function fieldUnit(usual: Usual): string {
  if (usual.unit === "1") return "";
  return usual.unit === "K" ? "°C" : `${usual.prefix}${usual.unit}`;
}
