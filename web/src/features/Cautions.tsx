/** The usual cautions that apply, behind an opener that tells how many there are. */
import { say, texts } from "../texts";

export function Cautions({ cautions }: { cautions: readonly { code: string; text: string }[] }) {
  return (
    <details className="caution-opener">
      <summary>{say(texts.bench.cautionsOpen, { count: cautions.length })}</summary>
      <ul className="cautions">
        {cautions.map((caution) => (
          <li key={caution.code}>{caution.text}</li>
        ))}
      </ul>
    </details>
  );
}
