/** The cable of the gang. */
import { Arrived } from "../../Arrived";
import { texts } from "../../../texts";
import { TextInput } from "../../quantity/TextInput";
import { useKinds } from "../queries";
import { FigureGrid } from "./FigureGrid";
import { CableLength } from "./CableLength";
import { type EditorProps, kindOf } from "./kinds";

export function CableEditor({ draft, change, errors, region }: EditorProps) {
  const kinds = useKinds();
  return (
    <div className="editor">
      <div className="part">
        <label className="kind-choice">
          {texts.parts.gangName}
          <TextInput value={draft.name} maxLength={120} onChange={(name) => change({ ...draft, name })} />
        </label>
        <h2>{texts.parts.cable}</h2>
        <p className="quiet">{texts.parts.cableHint}</p>
        <CableLength draft={draft} change={change} region={region} />
        <Arrived of={[kinds]}>
          <FigureGrid
            kind={kindOf(kinds.data, "cable", "cable")}
            figures={draft.cable}
            path="cable"
            errors={errors}
            onChange={(cable) => change({ ...draft, cable })}
          />
        </Arrived>
      </div>
    </div>
  );
}
