/** Shares of the samples in each state: a bar with its own pattern for each, and the same in words. */
import { say, texts, wordOf } from "../../../texts";

interface Props {
  name: string;
  shares: Record<string, number>;
  /** How many samples; without it, shares of the weight are told in per cent. */
  samples?: number | undefined;
  more?: string;
}

// Less than this is not worth a word beside the rest.
const LEAST_SHARE = 0.002;

export function ShareBar({ name, shares, samples, more }: Props) {
  const present = Object.entries(shares).filter(([, share]) => share > LEAST_SHARE);
  const told = (share: number) =>
    samples === undefined
      ? `${Math.round(share * 100)} %`
      : say(texts.spread.ofSamples, { count: Math.round(share * samples), samples });
  const words = present
    .map(([state, share]) => `${wordOf(texts.spread.states, state) ?? state} ${told(share)}`)
    .join(", ");
  return (
    <div className="share-row">
      <span className="share-name">{name}</span>
      <span className="share-bar" role="img" aria-label={`${name}: ${words}`}>
        {present.map(([state, share]) => (
          <span key={state} className={`share share-${state}`} style={{ flexGrow: share }}>
            {share > 0.12 && <b>{wordOf(texts.spread.states, state) ?? state}</b>}
          </span>
        ))}
      </span>
      <span className="share-words">
        {words}
        {more && <small>{more}</small>}
      </span>
    </div>
  );
}
