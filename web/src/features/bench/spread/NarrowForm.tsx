/** What was read or seen on site or bench, and the judgement with it. */
import { texts } from "../../../texts";
import type { Draft, Gang } from "../draft";
import { Narrowed } from "./Narrowed";
import { type Measurement, useNarrow } from "./queries";
import { ReadingsForm } from "./ReadingsForm";

const words = texts.spread;

interface Props {
  gang: Gang;
  draft: Draft;
  mayEdit: boolean;
  expected: (entry: Measurement) => string | null;
}

export function NarrowForm({ gang, draft, mayEdit, expected }: Props) {
  const narrow = useNarrow(gang.id);
  return (
    <ReadingsForm
      title={words.narrow}
      lead={words.narrowLead}
      action={words.judge}
      gang={gang}
      occasion="off_state"
      mayEdit={mayEdit}
      expected={expected}
      draft={draft}
      isPending={narrow.isPending}
      error={narrow.error}
      onJudge={(readings) => narrow.mutate({ draft, readings })}
    >
      {narrow.data && <Narrowed found={narrow.data} />}
    </ReadingsForm>
  );
}
