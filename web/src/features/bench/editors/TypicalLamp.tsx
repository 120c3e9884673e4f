/** Typical figures for a lamp of which only the input stage, and perhaps the watts, are known. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api } from "../../../api/client";
import { say, texts } from "../../../texts";
import { isFine, NOTHING, QuantityEntry, valueOf } from "../../quantity/QuantityEntry";
import type { Figures } from "../draft";

const words = texts.shelf.typical_;

interface Props {
  v_rms: number;
  f_hz: number;
  isOpen?: boolean;
  onTake: (figures: Figures, name: string) => void;
}

export function TypicalLamp({ v_rms, f_hz, isOpen = false, onTake }: Props) {
  const stages = useQuery({
    queryKey: ["stages", v_rms],
    queryFn: () => answered(api.GET("/api/v1/stages/", { params: { query: { v_rms } } })),
    staleTime: Infinity,
  });
  const [stage, setStage] = useState("");
  const [watts, setWatts] = useState(NOTHING);
  const take = useMutation({
    mutationFn: (p_w: number | null) =>
      answered(api.POST("/api/v1/typical-lamp/", { body: { stage, v_rms, f_hz, p_w } })),
    onSuccess: (made) => {
      const text = stages.data?.find((entry) => entry.stage === stage)?.text ?? stage;
      const named = { stage: text.split(":")[0] ?? text, watts: watts.text.trim() };
      onTake(made.figures, say(named.watts ? words.nameWatts : words.name, named));
    },
  });
  const p_w = valueOf(watts);
  return (
    <details className="typical-lamp" open={isOpen}>
      <summary>{words.title}</summary>
      <p className="quiet">{words.lead}</p>
      <div className="narrow-form">
        <select aria-label={words.stage} value={stage} onChange={(event) => setStage(event.target.value)}>
          <option value="">{texts.quantity.choose}</option>
          {stages.data?.map((entry) => (
            <option key={entry.stage} value={entry.stage}>
              {entry.text}
            </option>
          ))}
        </select>
        <QuantityEntry name="lamp_w" label={words.watts} typed={watts} onTyped={setWatts} />
        <button
          type="button"
          className="outlined"
          disabled={stage === "" || !isFine(watts) || take.isPending}
          onClick={() => take.mutate(p_w)}
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
