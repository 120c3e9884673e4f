/** How colours of conductors are drawn. */
const TONES: Record<string, string> = {
  brown: "#7a4a21",
  black: "#1c1a19",
  grey: "#8b8a88",
  blue: "#2f6fb5",
  red: "#c0342b",
  white: "#f7f5f0",
  yellow: "#e4c32f",
  orange: "#df7d1f",
  violet: "#7a4c9e",
  green: "#3c8a3f",
  green_yellow: "#3c8a3f",
  bare: "#b9793c",
};

/** The tone of a colour by either of its spellings; nothing for one that is not drawn. */
export function toneOf(colour: string): string | undefined {
  return TONES[colour.replace("-", "_")];
}
