/** The off-state step: the judgement with its certainty, and four further looks at the same loop. */
import { texts } from "../../../texts";
import type { Draft, Gang } from "../draft";
import { Tabs } from "../../Tabs";
import { useLook } from "../../useLook";
import { OffState } from "../OffState";
import type { Judgement } from "../queries";
import { HowSure } from "../spread/HowSure";
import { Leakage } from "../spread/Leakage";
import { NarrowForm } from "../spread/NarrowForm";
import { useSpread } from "../spread/queries";
import { expectedBy } from "./expected";
import { Instruments } from "./Instruments";
import { OneFigure } from "./OneFigure";
import { usePredictions } from "./queries";

const TABS = ["sure", "measure", "figure", "waves"] as const;
const words = texts.off;

interface Props {
  gang: Gang;
  draft: Draft;
  judgement: Judgement | undefined;
  mayEdit: boolean;
}

export function OffStep({ gang, draft, judgement, mayEdit }: Props) {
  const [tab, setTab] = useLook(TABS);
  const isWhole = draft.control !== null && draft.lamps.length > 0;
  const spread = useSpread(gang.id, draft);
  const predictions = usePredictions(gang.id, draft, isWhole && (tab === "measure" || tab === "waves"));
  if (!isWhole) return <OffState judgement={judgement} isWhole />;
  return (
    <Tabs id="off" label={words.looks} names={TABS} words={words.tabs} chosen={tab} onChoose={setTab}>
      {tab === "sure" && (
        <>
          <HowSure spread={spread} />
          <OffState judgement={judgement} isWhole={false} />
        </>
      )}
      {tab === "measure" && (
        <>
          <Instruments predictions={predictions} />
          <NarrowForm
            gang={gang}
            draft={draft}
            mayEdit={mayEdit}
            expected={expectedBy(predictions.isPlaceholderData ? undefined : predictions.data)}
          />
        </>
      )}
      {tab === "figure" && <OneFigure gang={gang} draft={draft} deciding={spread.data?.deciding ?? []} />}
      {tab === "waves" && (
        <>
          <OffState judgement={judgement} isWhole bands={predictions.data} />
          {spread.data && <Leakage spread={spread.data} />}
        </>
      )}
    </Tabs>
  );
}
