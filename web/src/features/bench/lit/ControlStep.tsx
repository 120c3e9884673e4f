/** The control step: the part itself, and what it does with the light on. */
import { lazy, Suspense, useState } from "react";
import { texts } from "../../../texts/en";
import { Tabs } from "../../Tabs";
import type { Gang } from "../draft";
import { ControlEditor } from "../editors/ControlEditor";
import type { EditorProps } from "../editors/kinds";

const WithLightOn = lazy(() => import("./WithLightOn").then((m) => ({ default: m.WithLightOn })));
const words = texts.lit;
const TABS = ["control", "lit"] as const;

export function ControlStep({ gang, ...editor }: EditorProps & { gang: Gang }) {
  const [tab, setTab] = useState<(typeof TABS)[number]>("control");
  const isWhole = editor.draft.control !== null && editor.draft.lamps.length > 0;
  if (!isWhole) return <ControlEditor {...editor} />;
  return (
    <Tabs id="control" label={words.looks} names={TABS} words={words.tabs} chosen={tab} onChoose={setTab}>
      {tab === "lit" ? (
        <Suspense fallback={<p className="quiet">{words.computing}</p>}>
          <WithLightOn gang={gang} draft={editor.draft} change={editor.change} errors={editor.errors} />
        </Suspense>
      ) : (
        <ControlEditor {...editor} />
      )}
    </Tabs>
  );
}
