/** Typical figures for a control of which only the class is known. */
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../../api/client";
import { useLatest } from "../../../app/useLatest";
import { say, texts } from "../../../texts";
import type { Figures } from "../draft";
import { useControlClasses } from "../queries";
import { OfClass } from "./OfClass";

const words = texts.shelf.typical_;

interface Props {
  v_rms: number;
  isOpen?: boolean;
  onTake: (figures: Figures, name: string) => void;
}

export function TypicalControl({ v_rms, isOpen = false, onTake }: Props) {
  const known = useControlClasses();
  const [chosen, setChosen] = useState("");
  const classes = (known.data ?? []).map((entry) => ({ value: entry.name, text: entry.text }));
  const stage = classes.find((entry) => entry.value === chosen)?.text ?? chosen;
  const taken = useLatest(onTake);
  const take = useMutation({
    mutationFn: () => answered(api.POST("/api/v1/typical-control/", { body: { name: chosen, v_rms } })),
  });
  // Named by what was asked for, put to what stands there by then; once this form is left, nowhere.
  const press = () =>
    take.mutate(undefined, { onSuccess: (made) => taken.current(made.figures, say(words.name, { stage })) });
  return (
    <OfClass
      label={words.control}
      classes={classes}
      chosen={chosen}
      isOpen={isOpen}
      isReady={!take.isPending}
      error={take.error}
      onChoose={setChosen}
      onTake={press}
    />
  );
}
