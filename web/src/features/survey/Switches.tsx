/** How each switch of the box stood while a reading was taken. */
import { say, texts } from "../../texts";
import { Pick } from "./fields";
import type { Box } from "./useSurveyDraft";

const words = texts.survey.conductors;
export type SwitchPositions = Record<string, "on" | "off">;

interface Props {
  box: Box;
  switches: SwitchPositions;
  positions: Record<string, string>;
  onChange: (switches: SwitchPositions) => void;
}

export function Switches({ box, switches, positions, onChange }: Props) {
  const fields = box.gangs.flatMap((ways, k) => {
    const here = { name: `${k + 1}`, table: ways as string, gang: k + 1 };
    return ways === "one_way"
      ? [{ ...here, label: words.switches }]
      : [
          { ...here, label: words.switchHere },
          { ...here, name: `${k + 1}:other`, table: `${ways}_other`, label: words.switchElsewhere },
        ];
  });
  return (
    <>
      {fields.map(({ name, table, gang, label }) => (
        <Pick
          key={name}
          label={box.gangs.length > 1 ? `${label}, ${say(texts.survey.box.gang, { gang })}` : label}
          value={switches[name] ?? ""}
          choices={[
            { value: "", text: words.notNoted },
            { value: "off", text: positions[`${table}_off`] ?? "off" },
            { value: "on", text: positions[`${table}_on`] ?? "on" },
          ]}
          onPick={(value) => {
            const others = Object.entries(switches).filter(([key]) => key !== name);
            const next = value === "on" || value === "off" ? [...others, [name, value] as const] : others;
            onChange(Object.fromEntries(next) as SwitchPositions);
          }}
        />
      ))}
    </>
  );
}
