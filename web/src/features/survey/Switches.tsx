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
    const names =
      ways === "one_way"
        ? [[`${k + 1}`, ways]]
        : [
            [`${k + 1}`, ways],
            [`${k + 1}:other`, `${ways}_other`],
          ];
    return names.map(([name = "", table = ""]) => ({ name, table, gang: k + 1 }));
  });
  return (
    <>
      {fields.map(({ name, table, gang }) => (
        <Pick
          key={name}
          label={
            box.gangs.length > 1
              ? `${words.switches}, ${say(texts.survey.box.gang, { gang })}`
              : words.switches
          }
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
