/** A part that is to come: chosen from the shelf, told by its class, or typed. Nothing is put there by guess. */
import { useState } from "react";
import { Arrived } from "../../Arrived";
import { texts } from "../../../texts";
import { QuantityInput } from "../../quantity/QuantityInput";
import type { Figures, Fit } from "../draft";
import { useControlClasses, useShelf, useStages } from "../queries";
import { newFit } from "./kinds";
import { ShelfSelect, useParts } from "./ShelfSelect";
import { TypicalControl } from "./TypicalControl";
import { TypicalLamp } from "./TypicalLamp";

interface Props {
  category: "lamp" | "control" | "bypass";
  v_rms: number;
  f_hz: number;
  /** Figures to begin with where a person types them all. */
  blank: Figures;
  onTake: (fit: Fit) => void;
  onCancel: () => void;
}

export function NewFit({ category, v_rms, f_hz, blank, onTake, onCancel }: Props) {
  const parts = useParts(category, v_rms);
  const shelf = useShelf();
  const stages = useStages(v_rms, category === "lamp");
  const classes = useControlClasses(category === "control");
  const [count, setCount] = useState(1);
  const isLamp = category === "lamp";
  const choices = [shelf, ...(isLamp ? [stages] : []), ...(category === "control" ? [classes] : [])];
  // What is above the button moves it down when it comes: a press on its way there would hit something else.
  const isOnItsWay = choices.some((asked) => asked.data === undefined && !asked.isError);
  const put = (figures: Figures, label: string, part: string | null) =>
    onTake({ ...newFit(isLamp ? { ...figures, count } : figures), label, part });
  const ofClass = (figures: Figures, name: string) => put(figures, name, null);
  return (
    <section className="part new-fit" aria-label={texts.parts.new[category]}>
      <h3>{texts.parts.new[category]}</h3>
      <p className="quiet">{texts.parts.newLead}</p>
      <Arrived of={choices}>
        <div className="fit-head">
          <ShelfSelect
            parts={parts}
            v_rms={v_rms}
            value={null}
            autoFocus
            onChoose={(part) => put(part.figures, `${part.maker} ${part.name}`, part.id)}
          />
          {isLamp && (
            <QuantityInput
              name="count"
              label={texts.parts.count}
              isWhole
              isNeeded
              value={count}
              onChange={(value) => value !== null && setCount(value)}
            />
          )}
        </div>
        {isLamp && <TypicalLamp v_rms={v_rms} f_hz={f_hz} isOpen onTake={ofClass} />}
        {category === "control" && <TypicalControl v_rms={v_rms} isOpen onTake={ofClass} />}
      </Arrived>
      <div className="form-buttons">
        <button type="button" className="outlined" disabled={isOnItsWay} onClick={() => put(blank, "", null)}>
          {texts.parts.own}
        </button>
        <button type="button" className="plain" onClick={onCancel}>
          {texts.parts.cancel}
        </button>
      </div>
    </section>
  );
}
