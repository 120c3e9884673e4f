/** Words of the field for a figure. */
export const quantity = {
  needed: "needed",
  wrong: {
    number: "Write a number, as in 4.7 or 4.7 µ",
    unit: (unit: string) => `This is not a unit of this figure. A bare number here is ${unit}`,
    noUnit: "Write the number alone: this figure has no unit",
    comma: "A comma with three digits can be read both ways. Write 1500, or 1.5",
    whole: "Write a whole number",
    negative: "Write a number of zero or more",
    needed: "A value is needed here",
  },
  doubt: (value: string, low: string, high: string) =>
    `${value} is far from what is usual here, ${low} to ${high}. It does not count yet.`,
  meant: (value: string) => `I meant ${value}`,
  asTyped: (value: string) => `It is ${value}`,
  source: "where from?",
  sourceOfAll: "Where these figures are from",
  choose: "choose …",
  range: "range",
  between: (low: string, high: string) => `${low} to ${high}`,
  low: "at least",
  high: "at most",
};
