/** A file onto the shelf. */
import { FileDialog } from "../dialog/FileDialog";
import { say, texts } from "../../texts";
import { useImport } from "./queries";

const words = texts.shelf;

export function ImportDialog({ onClose }: { onClose: () => void }) {
  const load = useImport();
  const found = load.data;
  return (
    <FileDialog
      title={words.importTitle}
      lead={words.importLead}
      accept=".csv,.json,text/csv,application/json"
      found={
        found && {
          names: [...found.new, ...found.changed],
          summary: say(words.looked, {
            fresh: found.new.length,
            changed: found.changed.length,
            unchanged: found.unchanged,
          }),
          bad: found.bad,
          isApplied: found.is_applied,
        }
      }
      error={load.error}
      isPending={load.isPending}
      onFile={(text, name, apply) =>
        load.mutate({ text, format: name.toLowerCase().endsWith(".json") ? "json" : "csv", apply })
      }
      onClose={onClose}
    />
  );
}
