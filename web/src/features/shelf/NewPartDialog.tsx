/** A new part by hand: what it is, and each figure that its kind needs. */
import { useState } from "react";
import { Refusal } from "../../api/client";
import { readQuantity } from "../../format";
import { texts } from "../../texts/en";
import { FormDialog } from "../FormDialog";
import { useMakePart, usePartKinds } from "./queries";
import { ValueInput } from "./ValueInput";
import { kindWords } from "./words";

const words = texts.shelf;
const OF_A_SUPPLY = ["lamp", "control", "bypass"];
type Category = "lamp" | "control" | "bypass" | "cable" | "box" | "spacer";

interface Props {
  onClose: () => void;
  onMade: (id: string) => void;
}

export function NewPartDialog({ onClose, onMade }: Props) {
  const kinds = usePartKinds();
  const make = useMakePart();
  const [category, setCategory] = useState<Category>("lamp");
  const [kind, setKind] = useState("rectifier");
  const [head, setHead] = useState({ maker: "", name: "", note: "", v_rms: "230" });
  const [values, setValues] = useState<Record<string, string>>({});
  const fields =
    kinds.data?.find((entry) => entry.category === category && entry.kind === kind)?.figures ?? [];
  const read = fields.map((field) => ({
    field,
    text: (values[field.name] ?? "").trim(),
    value: readQuantity(values[field.name] ?? "", field.unit),
  }));
  const isReady =
    head.maker.trim() !== "" &&
    head.name.trim() !== "" &&
    read.every(({ field, text, value }) => (text === "" ? !field.needed : value !== null));
  const choose = (next: Category) => {
    setCategory(next);
    setKind(kinds.data?.find((entry) => entry.category === next)?.kind ?? next);
  };
  const submit = () =>
    make.mutate(
      {
        ...head,
        v_rms: OF_A_SUPPLY.includes(category) ? Number(head.v_rms) : null,
        category,
        kind,
        claims: read.flatMap(({ field, value }) =>
          value === null
            ? []
            : [
                {
                  field: field.name,
                  low: value,
                  typical: value,
                  high: value,
                  source: "declared" as const,
                  where: texts.parts.typed,
                },
              ],
        ),
      },
      { onSuccess: (part) => onMade(part.id) },
    );
  const refused = make.error instanceof Refusal ? make.error.errors.map((error) => error.text).join(" ") : "";
  return (
    <FormDialog
      title={words.newPart}
      action={words.make}
      isReady={isReady}
      isPending={make.isPending}
      error={make.error ? new Error(refused || make.error.message) : null}
      onSubmit={submit}
      onClose={onClose}
    >
      <label>
        {words.category}
        <select value={category} onChange={(event) => choose(event.target.value as Category)}>
          {Object.entries(words.categories).map(([value, label]) => (
            <option key={value} value={value}>
              {label}
            </option>
          ))}
        </select>
      </label>
      <label>
        {words.kind}
        <select value={kind} onChange={(event) => setKind(event.target.value)}>
          {kinds.data
            ?.filter((entry) => entry.category === category)
            .map((entry) => (
              <option key={entry.kind} value={entry.kind}>
                {kindWords(entry.kind)}
              </option>
            ))}
        </select>
      </label>
      {(["maker", "name", "note"] as const).map((name) => (
        <label key={name}>
          {words[name]}
          <input value={head[name]} onChange={(event) => setHead({ ...head, [name]: event.target.value })} />
        </label>
      ))}
      {OF_A_SUPPLY.includes(category) && (
        <label>
          {words.supply} [V]
          <input
            className="figure"
            inputMode="numeric"
            value={head.v_rms}
            onChange={(event) => setHead({ ...head, v_rms: event.target.value })}
          />
        </label>
      )}
      <div className="source-form">
        {fields.map((field) => (
          <label key={field.name}>
            {field.label} {field.unit === "1" ? "" : `[${field.unit}]`}{" "}
            {field.needed && <b>{words.needed}</b>}
            <ValueInput
              words={field.words}
              value={values[field.name] ?? ""}
              onChange={(value) => setValues({ ...values, [field.name]: value })}
            />
          </label>
        ))}
      </div>
    </FormDialog>
  );
}
