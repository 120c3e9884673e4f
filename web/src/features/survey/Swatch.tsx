/** The colour of a conductor as a short piece of it; its name always stands beside. */
import { toneOf } from "./tones";

export function Swatch({ colour }: { colour: string }) {
  const tone = toneOf(colour);
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
