/** The parts of the shelf of one category, to search in. */
import type { Schemas } from "../../../api/client";
import { say, texts } from "../../../texts";
import { SearchSelect } from "../../dialog/Dialog";
import { useShelf } from "../queries";

type Part = Schemas["Part"];

/** What is made for this mains first; the rest stays at hand below it. */
export function useParts(category: Schemas["CategoryEnum"], v_rms: number): Part[] {
  const shelf = useShelf();
  return (shelf.data ?? [])
    .filter((part) => part.category === category && part.kind !== "smart")
    .sort((one, two) => Number(one.v_rms !== v_rms) - Number(two.v_rms !== v_rms));
}

interface Props {
  parts: readonly Part[];
  v_rms: number;
  value: string | null;
  autoFocus?: boolean;
  onChoose: (part: Part) => void;
}

export function ShelfSelect({ parts, v_rms, value, autoFocus, onChoose }: Props) {
  const madeFor = (part: Part) =>
    !part.v_rms || part.v_rms === v_rms ? "" : say(texts.parts.madeFor, { v_rms: part.v_rms });
  return (
    <label>
      {texts.parts.shelf}
      <SearchSelect
        label={texts.parts.shelf}
        value={value}
        placeholder={texts.parts.shelfHint}
        autoFocus={autoFocus ?? false}
        onChange={(id) => {
          const part = parts.find((entry) => entry.id === id);
          if (part) onChoose(part);
        }}
        options={parts.map((part) => ({
          value: part.id,
          label: [part.maker, part.name, madeFor(part)].filter(Boolean).join(" "),
        }))}
      />
    </label>
  );
}
