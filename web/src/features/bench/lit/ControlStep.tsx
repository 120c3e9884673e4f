/** The control step: the part itself, and what it does with the light on. */
import { lazy, Suspense, useState } from "react";
import { texts } from "../../../texts/en";
import type { Gang } from "../draft";
import { ControlEditor } from "../editors/ControlEditor";
import type { EditorProps } from "../editors/kinds";

const WithLightOn = lazy(() => import("./WithLightOn").then((m) => ({ default: m.WithLightOn })));
const words = texts.lit;
const TABS = ["control", "lit"] as const;

export function ControlStep({ gang, ...editor }: EditorProps & { gang: Gang }) {
  const [tab, setTab] = useState<(typeof TABS)[number]>("control");
  const isWhole = editor.draft.control !== null && editor.draft.lamps.length > 0;
  return (
    <>
      {isWhole && (
        <div className="tabs" role="tablist" aria-label={words.looks}>
          {TABS.map((name) => (
            <button
              key={name}
              type="button"
              role="tab"
              id={`control-${name}`}
              aria-selected={name === tab}
              aria-controls="control-panel"
              onClick={() => setTab(name)}
            >
              {words.tabs[name]}
            </button>
          ))}
        </div>
      )}
      <div id="control-panel" role={isWhole ? "tabpanel" : undefined} aria-labelledby={`control-${tab}`}>
        {tab === "lit" && isWhole ? (
          <Suspense fallback={<p className="quiet">{words.computing}</p>}>
            <WithLightOn gang={gang} draft={editor.draft} />
          </Suspense>
        ) : (
          <ControlEditor {...editor} />
        )}
      </div>
    </>
  );
}
