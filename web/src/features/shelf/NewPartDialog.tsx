/** A new part by hand: what it is, and each figure that its kind needs. */
import { Refusal, type Schemas } from "../../api/client";
import { Arrived } from "../Arrived";
import { keep, kept } from "../../app/person";
import { useLeft } from "../../app/useLeft";
import { texts } from "../../texts";
import { isFine, NOTHING, QuantityEntry, type Typed, valueOf } from "../quantity/QuantityEntry";
import type { Source } from "../quantity/SourceOptions";
import { FormDialog } from "../dialog/FormDialog";
import { useMakePart, usePartKinds } from "./queries";
import { SourceFields } from "./SourceFields";
import { ValueInput } from "./ValueInput";
import { kindWords } from "./words";

const words = texts.shelf;
const ON_A_LEAFLET = [
  "p_run_w",
  "p_rated_w",
  "dimming",
  "p_min_w",
  "p_max_led_w",
  "p_max_filament_w",
  "s_max_transformer_va",
  "i_max_a",
  "c_bypass_max_f",
  "phase",
  "set_up",
  "standby.p_w",
];
const OF_A_SUPPLY = ["lamp", "control", "bypass"];
// What the part before was made for, so that a shelf of one country is typed in without it.
const MADE_FOR = "made-for";
type Category = "lamp" | "control" | "bypass" | "cable" | "box" | "spacer";

interface Half {
  category: Category;
  kind: string;
  maker: string;
  name: string;
  note: string;
  supply: Typed;
  // What is typed from a leaflet is declared; what somebody guesses is not.
  source: Source;
  where: string;
  values: Record<string, Typed>;
}

interface Props {
  onClose: () => void;
  onMade: (id: string) => void;
}

export function NewPartDialog({ onClose, onMade }: Props) {
  const kinds = usePartKinds();
  const make = useMakePart();
  const { form, isLeft, change, forget } = useLeft<Half>("part", {
    category: "lamp",
    kind: "rectifier",
    maker: "",
    name: "",
    note: "",
    supply: kept<Typed>(MADE_FOR) ?? NOTHING,
    source: "",
    where: "",
    values: {},
  });
  const { category, kind, supply, source, where, values } = form;
  const fields =
    kinds.data?.find((entry) => entry.category === category && entry.kind === kind)?.figures ?? [];
  // What a leaflet tells of a lamp or control; the server takes the rest from the range of its class.
  const hasClass = (category === "lamp" && kind !== "smart") || category === "control";
  const told = fields.filter((field) => !hasClass || ON_A_LEAFLET.includes(field.name));
  const technical = fields.filter((field) => !told.includes(field));
  const isOfSupply = OF_A_SUPPLY.includes(category);
  const isReady =
    kinds.isSuccess &&
    form.maker.trim() !== "" &&
    form.name.trim() !== "" &&
    source !== "" &&
    (!isOfSupply || valueOf(supply) !== null) &&
    fields.every(
      ({ name, needed }) => isFine(values[name]) && (!needed || hasClass || valueOf(values[name]) !== null),
    );
  const choose = (next: Category) =>
    change({ category: next, kind: kinds.data?.find((entry) => entry.category === next)?.kind ?? next });
  const close = () => {
    forget();
    onClose();
  };
  const submit = () =>
    source !== "" &&
    make.mutate(
      {
        maker: form.maker,
        name: form.name,
        note: form.note,
        v_rms: isOfSupply ? valueOf(supply) : null,
        category,
        kind,
        from_class: hasClass,
        claims: fields.flatMap((field) => {
          const value = valueOf(values[field.name]);
          return value === null
            ? []
            : [
                {
                  field: field.name,
                  low: value,
                  typical: value,
                  high: value,
                  source,
                  where: where.trim() || texts.parts.typed,
                },
              ];
        }),
      },
      {
        onSuccess: (part) => {
          forget();
          if (isOfSupply) keep(MADE_FOR, supply);
          onMade(part.id);
        },
      },
    );
  const refused = make.error instanceof Refusal ? make.error.errors.map((error) => error.text).join(" ") : "";
  return (
    <FormDialog
      title={words.newPart}
      action={words.make}
      isReady={isReady}
      isPending={make.isPending}
      error={make.error ? new Error(refused || make.error.message) : null}
      isLeft={isLeft}
      onSubmit={submit}
      onClose={close}
    >
      <Arrived of={[kinds]}>
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
          <select value={kind} onChange={(event) => change({ kind: event.target.value })}>
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
            <input value={form[name]} onChange={(event) => change({ [name]: event.target.value })} />
          </label>
        ))}
        {isOfSupply && (
          <QuantityEntry
            name="v_rms"
            label={words.supply}
            typed={supply}
            isNeeded
            onTyped={(typed) => change({ supply: typed })}
          />
        )}
        <SourceFields label={texts.quantity.sourceOfAll} source={source} where={where} onSaid={change} />
        <Fields
          fields={told}
          hasClass={hasClass}
          values={values}
          onValues={(next) => change({ values: next })}
        />
        {technical.length > 0 && (
          <details className="ratings">
            <summary>{words.technical}</summary>
            <p className="quiet">{words.fromClass}</p>
            <Fields
              fields={technical}
              hasClass={hasClass}
              values={values}
              onValues={(next) => change({ values: next })}
            />
          </details>
        )}
      </Arrived>
    </FormDialog>
  );
}

interface FieldsProps {
  fields: readonly Schemas["PartField"][];
  /** Where there is a class nothing has to be given. */
  hasClass: boolean;
  values: Record<string, Typed>;
  onValues: (values: Record<string, Typed>) => void;
}

function Fields({ fields, hasClass, values, onValues }: FieldsProps) {
  return (
    <div className="source-form">
      {fields.map((field) => (
        <ValueInput
          key={field.name}
          name={field.name}
          label={field.label}
          words={field.words}
          isNeeded={field.needed && !hasClass}
          typed={values[field.name] ?? NOTHING}
          onTyped={(typed) => onValues({ ...values, [field.name]: typed })}
        />
      ))}
    </div>
  );
}
