/** Several parts of one sort on the gang: lamp groups or bypasses. */
import { useRef, useState } from "react";
import { TO_ADD, useFocusNext } from "./useFocusNext";
import { Arrived } from "../../Arrived";
import { useKeys } from "../../../app/useKeys";
import { texts, wordOf } from "../../../texts";
import type { Fit } from "../draft";
import { useKinds } from "../queries";
import { FigureGrid } from "./FigureGrid";
import { FitHead } from "./FitHead";
import { TypicalLamp } from "./TypicalLamp";
import { changedKind, type EditorProps, kindOf } from "./kinds";
import { NewFit } from "./NewFit";

const SORTS = {
  lamp: {
    list: "lamps",
    path: "lamps",
    empty: texts.parts.noLamps,
    add: texts.parts.addLamps,
    kind: texts.parts.kind,
  },
  bypass: {
    list: "bypasses",
    path: "bypass",
    empty: texts.parts.noBypass,
    add: texts.parts.addBypass,
    kind: texts.parts.bypassKind,
  },
} as const;

export function FitListEditor({
  sort,
  draft,
  change,
  errors,
  v_rms,
  f_hz,
}: EditorProps & { sort: "lamp" | "bypass" }) {
  const { list, path, empty, add, kind: kindLabel } = SORTS[sort];
  const fits: Fit[] = draft[list];
  const kinds = useKinds();
  const choices = kinds.data?.filter((kind) => kind.category === sort) ?? [];
  const put = (next: Fit[]) => change({ ...draft, [list]: next });
  const replace = (index: number, fit: Fit) => put(fits.map((old, k) => (k === index ? fit : old)));
  const [keys, forget] = useKeys(fits.length);
  const editor = useRef<HTMLDivElement>(null);
  // Without lamps there is nothing to look at: what they are is asked at once.
  const [isAdding, setAdding] = useState(sort === "lamp" && fits.length === 0);
  const focusNext = useFocusNext(editor, fits.length, isAdding);
  return (
    <Arrived of={[kinds]}>
      <div className="editor" ref={editor}>
        {fits.length === 0 && <p className="empty">{empty}</p>}
        {fits.map((fit, index) => {
          const kind = kindOf(kinds.data, sort, fit.figures["kind"]);
          return (
            <div className="part" key={keys[index]}>
              <FitHead
                category={sort}
                v_rms={v_rms}
                fit={fit}
                onChange={(next) => replace(index, next)}
                onRemove={() => {
                  focusNext(index);
                  forget(index);
                  put(fits.filter((_, k) => k !== index));
                }}
              />
              <label className="kind-choice">
                {kindLabel}
                <select
                  value={kind?.kind}
                  onChange={(event) => {
                    const next = kindOf(kinds.data, sort, event.target.value);
                    if (next) replace(index, { ...fit, part: null, figures: changedKind(fit.figures, next) });
                  }}
                >
                  {choices.map((entry) => (
                    <option key={entry.kind} value={entry.kind}>
                      {wordOf(texts.kinds, entry.kind) ?? entry.kind}
                    </option>
                  ))}
                </select>
              </label>
              {sort === "lamp" && (
                <TypicalLamp
                  v_rms={v_rms}
                  f_hz={f_hz}
                  onTake={(figures, name) =>
                    replace(index, {
                      ...fit,
                      part: null,
                      // Another lamp's name on figures of a class would be a lie.
                      label: name,
                      figures: { ...figures, count: fit.figures["count"] ?? 1 },
                    })
                  }
                />
              )}
              <FigureGrid
                kind={kind}
                figures={fit.figures}
                path={`${path}[${index}]`}
                errors={errors}
                onChange={(figures) => replace(index, { ...fit, figures })}
              />
            </div>
          );
        })}
        {isAdding ? (
          <NewFit
            category={sort}
            v_rms={v_rms}
            f_hz={f_hz}
            blank={{ kind: choices[0]?.kind }}
            onTake={(fit) => {
              setAdding(false);
              focusNext(fits.length);
              put([...fits, fit]);
            }}
            onCancel={() => {
              setAdding(false);
              focusNext(TO_ADD);
            }}
          />
        ) : (
          <button type="button" className="solid add" onClick={() => setAdding(true)}>
            {add}
          </button>
        )}
      </div>
    </Arrived>
  );
}
