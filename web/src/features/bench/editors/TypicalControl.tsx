/** Typical figures for a control of which only the class is known. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../../api/client";
import { say, texts } from "../../../texts";
import type { Figures } from "../draft";

const words = texts.shelf.typical_;

interface Props {
  v_rms: number;
  isOpen?: boolean;
  onTake: (figures: Figures, name: string) => void;
}

export function TypicalControl({ v_rms, isOpen = false, onTake }: Props) {
  const classes = useQuery({
    queryKey: ["control-classes"],
    queryFn: () => answered(api.GET("/api/v1/control-classes/")),
    staleTime: Infinity,
  });
  const [chosen, setChosen] = useState("");
  const text = classes.data?.find((entry) => entry.name === chosen)?.text ?? "";
  const take = useMutation({
    mutationFn: () => answered(api.POST("/api/v1/typical-control/", { body: { name: chosen, v_rms } })),
    onSuccess: (made) => onTake(made.figures, say(words.name, { stage: text })),
  });
  return (
    <details className="typical-lamp" open={isOpen}>
      <summary>{words.title}</summary>
      <p className="quiet">{words.lead}</p>
      <div className="narrow-form">
        <select aria-label={words.control} value={chosen} onChange={(event) => setChosen(event.target.value)}>
          <option value="">{texts.quantity.choose}</option>
          {classes.data?.map((entry) => (
            <option key={entry.name} value={entry.name}>
              {entry.text}
            </option>
          ))}
        </select>
        <button
          type="button"
          className="outlined"
          disabled={chosen === "" || take.isPending}
          onClick={() => take.mutate()}
        >
          {words.put}
        </button>
      </div>
      {take.isError && (
        <p className="wrong" role="alert">
          {take.error.message}
        </p>
      )}
    </details>
  );
}
