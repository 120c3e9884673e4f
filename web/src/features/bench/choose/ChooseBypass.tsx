/** The bypass step: which one, where it goes, and what different habits would do here. */
import { useState } from "react";
import { texts } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import { Tabs } from "../../Tabs";
import { useLook } from "../../useLook";
import type { Draft, Gang } from "../draft";
import { useShelf } from "../queries";
import { ChoosingLine } from "./ChoosingLine";
import { Habits } from "./Habits";
import { useChoosing, USUAL_YEAR, type Year } from "./queries";
import { useTake } from "./useTake";
import { WhereItGoes } from "./WhereItGoes";
import { Which } from "./Which";

const words = texts.choose;
const TABS = ["which", "where", "habits"] as const;

interface Props {
  gang: Gang;
  draft: Draft;
  change: (draft: Draft) => void;
}

export function ChooseBypass({ gang, draft, change }: Props) {
  const [tab, setTab] = useLook(TABS);
  const [year, setYear] = useState<Year>(USUAL_YEAR);
  const choosing = useChoosing(gang.id, draft, year);
  const shelf = useShelf();
  const { take, error } = useTake(draft, change);
  if (draft.control === null || draft.lamps.length === 0) return null;
  const found = choosing.data;
  const isOld = choosing.isOld || choosing.isError;
  return (
    <section className="choose" aria-label={words.title} aria-busy={choosing.isFetching}>
      <Tabs id="choose" label={words.looks} names={TABS} words={words.tabs} chosen={tab} onChoose={setTab}>
        <ChoosingLine choosing={choosing} />
        {error && (
          <p className="wrong" role="alert">
            {error.message}
          </p>
        )}
        {tab === "which" && found && (
          <OldAnswer isOld={isOld}>
            <Which
              found={found}
              draft={draft}
              shelf={shelf.data ?? []}
              year={year}
              onYear={setYear}
              onTake={take}
            />
          </OldAnswer>
        )}
        {tab === "where" && <WhereItGoes found={found} isOld={isOld} draft={draft} change={change} />}
        {tab === "habits" && found && (
          <OldAnswer isOld={isOld}>
            <Habits schools={found.schools} />
          </OldAnswer>
        )}
      </Tabs>
    </section>
  );
}
