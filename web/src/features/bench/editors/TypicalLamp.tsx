/** Typical figures for a lamp of which only the input stage, and perhaps the watts, are known. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../../api/client";
import { scaleText } from "../../../format";
import { useLatest } from "../../../app/useLatest";
import { say, texts } from "../../../texts";
import { isFine, NOTHING, QuantityEntry, valueOf } from "../../quantity/QuantityEntry";
import type { Figures } from "../draft";
import { useStages } from "../queries";
import { OfClass } from "./OfClass";

const words = texts.shelf.typical_;

interface Props {
  v_rms: number;
  f_hz: number;
  isOpen?: boolean;
  onTake: (figures: Figures, name: string) => void;
}

export function TypicalLamp({ v_rms, f_hz, isOpen = false, onTake }: Props) {
  const known = useStages(v_rms);
  const [stage, setStage] = useState("");
  const [watts, setWatts] = useState(NOTHING);
  const stages = (known.data ?? []).map((entry) => ({ value: entry.stage, text: entry.text }));
  const taken = useLatest(onTake);
  const take = useMutation({
    mutationFn: () =>
      answered(api.POST("/api/v1/typical-lamp/", { body: { stage, v_rms, f_hz, p_w: valueOf(watts) } })),
  });
  const press = () => {
    const text = stages.find((entry) => entry.value === stage)?.text ?? stage;
    const p_w = valueOf(watts);
    const named = { stage: text.split(":")[0] ?? text, watts: p_w === null ? "" : scaleText(p_w, "W") };
    const name = say(named.watts ? words.nameWatts : words.name, named);
    // Named by what was asked for, put to what stands there by then; once this form is left, nowhere.
    take.mutate(undefined, { onSuccess: (made) => taken.current(made.figures, name) });
  };
  return (
    <OfClass
      label={words.stage}
      classes={stages}
      chosen={stage}
      isOpen={isOpen}
      isReady={isFine(watts) && !take.isPending}
      error={take.error}
      onChoose={setStage}
      onTake={press}
    >
      <QuantityEntry name="lamp_w" label={words.watts} typed={watts} onTyped={setWatts} />
    </OfClass>
  );
}
