/** Loops from a list that somebody else made. */
import { FileDialog } from "../dialog/FileDialog";
import { say, texts } from "../../texts";
import { useLoopsFromFile } from "./queries";

const words = texts.list;

export function LoopsFromFile({ onClose }: { onClose: () => void }) {
  const load = useLoopsFromFile();
  const found = load.data;
  return (
    <FileDialog
      title={words.fromFile}
      lead={words.fromFileLead}
      accept=".csv,text/csv"
      found={
        found && {
          names: found.new,
          summary: say(words.fromFileLooked, {
            fresh: found.new.length,
            there: found.unchanged,
            breakers: found.breakers.length,
          }),
          bad: found.bad,
          isApplied: found.is_applied,
        }
      }
      error={load.error}
      isPending={load.isPending}
      onFile={(text, _, apply) => load.mutate({ text, apply })}
      onClose={onClose}
    />
  );
}
