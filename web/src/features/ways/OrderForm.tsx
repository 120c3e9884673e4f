/** What the firm weighs first, and what another order would favour. */
import { useState } from "react";
import { say, texts } from "../../texts";
import { useOrder, useSetOrder } from "./queries";

const words = texts.ways;

export function OrderForm({ loop, elsewhere }: { loop: string; elsewhere: string[] }) {
  const order = useOrder();
  const set = useSetOrder(loop);
  const [turned, turn] = useState<string[] | null>(null);
  if (order.data === undefined) return null;
  const { values, version, may_set } = order.data;
  const names = turned ?? values.map((entry) => entry.value);
  const textOf = (name: string) => values.find((entry) => entry.value === name)?.text ?? name;
  const raise = (at: number) => {
    const next = [...names];
    const [moved] = next.splice(at, 1);
    if (moved !== undefined) next.splice(at - 1, 0, moved);
    turn(next);
  };
  return (
    <section aria-label={words.orderTitle}>
      <h3>{words.orderTitle}</h3>
      <ol className="way-order">
        {names.map((name, at) => (
          <li key={name}>
            {textOf(name)}{" "}
            {may_set && turned !== null && at > 0 && (
              <button
                type="button"
                className="outlined"
                aria-label={say(words.up, { what: textOf(name) })}
                onClick={() => raise(at)}
              >
                ↑
              </button>
            )}
          </li>
        ))}
      </ol>
      {elsewhere.map((text) => (
        <p key={text} className="quiet">
          {text}
        </p>
      ))}
      {set.isError && (
        <p className="wrong" role="alert">
          {set.error.message}
        </p>
      )}
      {may_set &&
        (turned === null ? (
          <button type="button" className="outlined" onClick={() => turn(names)}>
            {words.orderEdit}
          </button>
        ) : (
          <button
            type="button"
            className="solid"
            disabled={set.isPending}
            onClick={() => set.mutate({ version, values: names }, { onSuccess: () => turn(null) })}
          >
            {words.orderSave}
          </button>
        ))}
    </section>
  );
}
