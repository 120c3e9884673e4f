/** Several words to tick, folded behind one button. */
import { useEffect, useRef } from "react";
import { say, texts } from "../../texts";

interface Props<Word extends string> {
  name: string;
  all: string;
  words: Readonly<Record<Word, string>>;
  chosen: readonly Word[];
  onChoose: (chosen: Word[]) => void;
}

export function TickMenu<Word extends string>({ name, all, words, chosen, onChoose }: Props<Word>) {
  const ref = useRef<HTMLDetailsElement>(null);
  // A click elsewhere or Escape folds it away again.
  useEffect(() => {
    const close = (event: Event) => {
      const isInside = event.target instanceof Node && ref.current?.contains(event.target);
      const isEscape = event instanceof KeyboardEvent && event.key === "Escape";
      if (ref.current && (isEscape || (event.type === "pointerdown" && !isInside))) ref.current.open = false;
    };
    addEventListener("pointerdown", close);
    addEventListener("keydown", close);
    return () => {
      removeEventListener("pointerdown", close);
      removeEventListener("keydown", close);
    };
  }, []);
  const [first] = chosen;
  const said =
    first === undefined
      ? all
      : chosen.length === 1
        ? words[first]
        : say(texts.list.chosen, { name, count: chosen.length });
  return (
    <details className="tick-menu" ref={ref}>
      <summary aria-label={`${name}: ${said}`}>{said}</summary>
      <fieldset>
        <legend className="unseen">{name}</legend>
        {(Object.keys(words) as Word[]).map((word) => (
          <label key={word} className="tick">
            <input
              type="checkbox"
              checked={chosen.includes(word)}
              onChange={(event) =>
                onChoose(event.target.checked ? [...chosen, word] : chosen.filter((entry) => entry !== word))
              }
            />
            {words[word]}
          </label>
        ))}
      </fieldset>
    </details>
  );
}
