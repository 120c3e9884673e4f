/** Tapping along with what blinks: the times go to the server, which tells the rhythm. */
import { useRef } from "react";
import { say, texts } from "../../texts";

const words = texts.prove;

interface Props {
  taps: readonly number[];
  onTaps: (taps: number[]) => void;
}

export function Taps({ taps, onTaps }: Props) {
  const begun = useRef<number | null>(null);
  const tap = () => {
    const now = performance.now();
    if (taps.length === 0 || begun.current === null) begun.current = now;
    onTaps([...taps, Math.round(now - begun.current) / 1000]);
  };
  return (
    <div className="taps">
      <button
        type="button"
        className="outlined tap"
        onPointerDown={tap}
        onKeyDown={(event) => {
          if (event.key === " " || event.key === "Enter") {
            event.preventDefault();
            if (!event.repeat) tap();
          }
        }}
      >
        {words.taps}
      </button>
      <span role="status">{say(words.tapped, { count: taps.length })}</span>
      {taps.length > 0 && (
        <button type="button" className="plain" onClick={() => onTaps([])}>
          {words.clearTaps}
        </button>
      )}
    </div>
  );
}
