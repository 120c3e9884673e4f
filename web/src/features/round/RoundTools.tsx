/** What the round is searched, filtered and sorted by. */
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { isShortcut } from "../../app/keys";
import { useTyped } from "../../app/useTyped";
import { texts } from "../../texts";
import { ORDERS, type RoundWish, type useSites } from "./queries";
import { TickMenu } from "./TickMenu";
import type { Change } from "./useWish";

interface Props {
  wish: RoundWish;
  change: Change;
  sites: ReturnType<typeof useSites>["data"];
  mayEdit: boolean;
  mayKeepSites: boolean;
  onNewLoop: () => void;
}

export function RoundTools({ wish, change, sites, mayEdit, mayKeepSites, onNewLoop }: Props) {
  const [typed, setTyped] = useTyped(wish.search, (words) => change("search", words ? [words] : []));
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "/" && isShortcut(event)) {
        event.preventDefault();
        field.current?.focus();
      }
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);

  return (
    <div className="round-tools">
      <h1>{wish.isArchived ? texts.people.archive.show : texts.round}</h1>
      <input
        ref={field}
        type="search"
        className="round-search"
        aria-label={texts.list.search}
        placeholder={texts.list.searchHint}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
      />
      <select
        aria-label={texts.list.site}
        value={wish.site ?? ""}
        onChange={(event) => change("site", event.target.value ? [event.target.value] : [])}
      >
        <option value="">{texts.list.allSites}</option>
        {sites?.results.map((site) => (
          <option key={site.id} value={site.id}>
            {site.name}
          </option>
        ))}
      </select>
      <TickMenu
        name={texts.list.state}
        all={texts.list.allStates}
        words={texts.verdicts}
        chosen={wish.verdicts}
        onChoose={(chosen) => change("state", chosen)}
      />
      <TickMenu
        name={texts.list.next}
        all={texts.list.everyNext}
        words={texts.list.nextSteps}
        chosen={wish.next}
        onChoose={(chosen) => change("next", chosen)}
      />
      <TickMenu
        name={texts.list.stage}
        all={texts.list.everyStage}
        words={texts.list.stages}
        chosen={wish.stages}
        onChoose={(chosen) => change("stage", chosen)}
      />
      <select
        aria-label={texts.list.sort}
        value={wish.order}
        onChange={(event) => change("order", event.target.value === "name" ? [] : [event.target.value])}
      >
        {ORDERS.map((order) => (
          <option key={order} value={order}>
            {texts.list.sorts[order]}
          </option>
        ))}
      </select>
      {mayEdit && !wish.isArchived && (
        <button
          type="button"
          className="outlined"
          aria-pressed={wish.isMine}
          onClick={() => change("mine", wish.isMine ? [] : ["1"])}
        >
          {wish.isMine && "✓ "}
          {texts.list.mine}
        </button>
      )}
      {wish.site && (
        <Link className="outlined" to={`/sites/${wish.site}/schedule`}>
          {texts.survey.schedule.open}
        </Link>
      )}
      {/* Its room is kept until it is known whether there is a site: what stands before it is not pushed from under a finger. */}
      {mayEdit && (mayKeepSites || sites === undefined || sites.count > 0) && (
        <button
          type="button"
          className="solid"
          disabled={!mayKeepSites && sites === undefined}
          onClick={onNewLoop}
        >
          {texts.list.newLoop}
        </button>
      )}
    </div>
  );
}
