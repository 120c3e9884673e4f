/** How far long work is, with a way to stop it; shown once it takes longer than a blink. */
import { useEffect, useState } from "react";
import type { Progress } from "../api/stream";
import { texts } from "../texts";

// Shorter work shows nothing: a flash of progress only disturbs.
const SHOWN_AFTER_MS = 300;

interface Props {
  label: string;
  progress: Progress | null;
  onStop: () => void;
}

export function ProgressLine({ label, progress, onStop }: Props) {
  const [isShown, setShown] = useState(false);
  useEffect(() => {
    const timer = setTimeout(() => setShown(true), SHOWN_AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  if (!isShown) return null;
  return (
    <div className="progress-line" role="status">
      <progress aria-label={label} max={progress?.of ?? 1} {...(progress ? { value: progress.done } : {})} />
      <span className="figure">{progress ? `${progress.done} / ${progress.of}` : label}</span>
      <button type="button" className="outlined" onClick={onStop}>
        {texts.spread.stop}
      </button>
    </div>
  );
}
