/** Figures of the control that matter only with the light on: what nobody types is assumed. */
import type { ErrorEntry } from "../../../api/client";
import { texts } from "../../../texts";
import type { Draft } from "../draft";
import { FigureGrid } from "../editors/FigureGrid";
import { kindOf } from "../editors/kinds";
import { useKinds } from "../queries";

interface Props {
  draft: Draft;
  change: (draft: Draft) => void;
  errors: ErrorEntry[];
}

export function LitFigures({ draft, change, errors }: Props) {
  const kinds = useKinds();
  const control = draft.control;
  if (control === null) return null;
  return (
    <details className="limits">
      <summary>{texts.lit.figures}</summary>
      <p className="quiet">{texts.lit.figuresLead}</p>
      <FigureGrid
        kind={kindOf(kinds.data, "control", "control")}
        figures={control.figures}
        path="control"
        errors={errors}
        onlyLit
        onChange={(figures) => change({ ...draft, control: { ...control, figures } })}
      />
    </details>
  );
}
