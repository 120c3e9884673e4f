/** The colour of a conductor as a short piece of it; its name always stands beside. */
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

export function Swatch({ colour }: { colour: string }) {
  const tone = TONES[colour];
  return (
    <svg className="swatch" viewBox="0 0 34 14" aria-hidden="true">
      <rect
        x="1"
        y="2"
        width="32"
        height="10"
        rx="5"
        fill={tone ?? "none"}
        className={tone ? "" : "is-empty"}
      />
      {colour === "green_yellow" && <path d="M5 4l24 6M15 4l14 3" className="stripe" />}
      {colour === "bare" && <path d="M5 4l4 6M11 4l4 6M17 4l4 6M23 4l4 6" className="strand" />}
    </svg>
  );
}
