/** The control, or the ordinary switch. */
import { useRef, useState } from "react";
import { TO_ADD, useFocusNext } from "./useFocusNext";
import { Arrived } from "../../Arrived";
import { texts, wordOf } from "../../../texts";
import type { ControlFit, Figures, Fit } from "../draft";
import { useKinds } from "../queries";
import { FigureGrid } from "./FigureGrid";
import { FitHead } from "./FitHead";
import { changedKind, type EditorProps, kindOf } from "./kinds";
import { NewFit } from "./NewFit";
import { useParts } from "./ShelfSelect";
import { TypicalControl } from "./TypicalControl";

const NO_FEED = "none";
const WIRINGS: readonly ControlFit["wired"][] = ["loop", "straight", "pair"];

export function ControlEditor({ draft, change, errors, v_rms, f_hz }: EditorProps) {
  const kinds = useKinds();
  const [isAdding, setAdding] = useState(draft.control === null);
  const replace = (control: ControlFit | null) => change({ ...draft, control });
  const parts = useParts("control", v_rms);
  const wiringsOf = (part: string | null | undefined) =>
    parts.find((entry) => entry.id === part)?.wirings ?? WIRINGS;
  // Another control hangs there as its leaflet has it, or by two wires, until somebody says otherwise.
  const another = (made: Fit) => replace({ ...made, wired: wiringsOf(made.part)[0] ?? "loop" });
  const fit = draft.control;
  const editor = useRef<HTMLDivElement>(null);
  const focusNext = useFocusNext(editor, fit === null ? 0 : 1, isAdding);
  if (fit === null) {
    return (
      <div className="editor" ref={editor}>
        <p className="empty">{texts.parts.noControl}</p>
        {isAdding ? (
          <NewFit
            category="control"
            v_rms={v_rms}
            f_hz={f_hz}
            blank={{ c_snubber_f: 0 }}
            onTake={(made) => {
              setAdding(false);
              focusNext(0);
              another(made);
            }}
            onCancel={() => {
              setAdding(false);
              focusNext(TO_ADD);
            }}
          />
        ) : (
          <button type="button" className="solid add" onClick={() => setAdding(true)}>
            {texts.parts.addControl}
          </button>
        )}
      </div>
    );
  }
  const standby = (fit.figures["standby"] ?? null) as Figures | null;
  const feedKinds = kinds.data?.filter((kind) => kind.category === "standby") ?? [];
  const changeFeed = (next: Figures | null) => {
    const figures = { ...fit.figures };
    if (next === null) delete figures["standby"];
    else figures["standby"] = next;
    replace({ ...fit, figures });
  };
  return (
    <Arrived of={[kinds]}>
      <div className="editor" ref={editor}>
        <div className="part">
          <FitHead
            category="control"
            v_rms={v_rms}
            fit={fit}
            onChange={(next) => (next.part === fit.part ? replace({ ...fit, ...next }) : another(next))}
            onRemove={() => {
              focusNext(0);
              replace(null);
            }}
          />
          <TypicalControl
            v_rms={v_rms}
            onTake={(figures, label) => another({ ...fit, part: null, label, figures })}
          />
          <FigureGrid
            kind={kindOf(kinds.data, "control", "control")}
            figures={fit.figures}
            path="control"
            errors={errors}
            onChange={(figures) => replace({ ...fit, figures })}
          />
          <label className="kind-choice">
            {texts.parts.feedKind}
            <select
              value={standby ? String(standby["kind"]) : NO_FEED}
              onChange={(event) => {
                const next = kindOf(kinds.data, "standby", event.target.value);
                changeFeed(next ? changedKind(standby ?? {}, next) : null);
              }}
            >
              <option value={NO_FEED}>{texts.parts.noFeed}</option>
              {feedKinds.map((entry) => (
                <option key={entry.kind} value={entry.kind}>
                  {wordOf(texts.kinds, entry.kind) ?? entry.kind}
                </option>
              ))}
            </select>
          </label>
          {(standby || fit.part || fit.wired !== "loop") && (
            <label className="kind-choice">
              {texts.parts.wired}
              <select
                value={fit.wired}
                onChange={(event) => replace({ ...fit, wired: event.target.value as ControlFit["wired"] })}
              >
                {WIRINGS.filter((one) => one === fit.wired || wiringsOf(fit.part).includes(one)).map(
                  (wired) => (
                    <option key={wired} value={wired}>
                      {texts.parts.wirings[wired]}
                    </option>
                  ),
                )}
              </select>
            </label>
          )}
          {standby && (
            <FigureGrid
              kind={kindOf(kinds.data, "standby", standby["kind"])}
              figures={standby}
              path="control.standby"
              errors={errors}
              onChange={changeFeed}
            />
          )}
        </div>
      </div>
    </Arrived>
  );
}
