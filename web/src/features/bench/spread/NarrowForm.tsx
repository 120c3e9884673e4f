/** What was read or seen on site or bench, and the judgement with it. */
import { texts } from "../../../texts/en";
import type { Draft, Gang } from "../draft";
import { Narrowed } from "./Narrowed";
import { useNarrow } from "./queries";
import { ReadingsForm } from "./ReadingsForm";

const words = texts.spread;

export function NarrowForm({ gang, draft }: { gang: Gang; draft: Draft }) {
  const narrow = useNarrow(gang.id);
  return (
    <ReadingsForm
      title={words.narrow}
      lead={words.narrowLead}
      action={words.judge}
      draft={draft}
      isPending={narrow.isPending}
      error={narrow.error}
      onJudge={(readings) => narrow.mutate({ draft, readings })}
    >
      {narrow.data && <Narrowed found={narrow.data} />}
    </ReadingsForm>
  );
}
