/** Below the rows: how many there are, files in and out, and pages. */
import { say, texts } from "../../texts";
import { Pages } from "../Pages";
import { listAddress, PAGE_SIZE, type RoundWish } from "./queries";
import type { Change } from "./useWish";

interface Props {
  wish: RoundWish;
  change: Change;
  /** Undefined while it is not known. */
  total: number | undefined;
  mayEdit: boolean;
  mayKeepSites: boolean;
  onOpen: (dialog: "file" | "site" | "bundle") => void;
}

export function RoundFoot({ wish, change, total, mayEdit, mayKeepSites, onOpen }: Props) {
  return (
    <div className="round-foot">
      <span>{total !== undefined && say(texts.list.count, { count: total })}</span>
      {!wish.isArchived && (
        <a className="plain" href={listAddress(wish)}>
          {texts.list.csv}
        </a>
      )}
      {mayEdit && !wish.isArchived && (
        <button type="button" className="plain" onClick={() => onOpen("file")}>
          {texts.list.fromFile}
        </button>
      )}
      {mayEdit && mayKeepSites && !wish.isArchived && (
        <button type="button" className="plain" onClick={() => onOpen("site")}>
          {texts.list.newSite}
        </button>
      )}
      {mayKeepSites && !wish.isArchived && (
        <button type="button" className="plain" onClick={() => onOpen("bundle")}>
          {texts.bundle.open}
        </button>
      )}
      {wish.site && !wish.isArchived && (
        <a className="plain" href={`/api/v1/sites/${wish.site}/bundle.zip`}>
          {texts.bundle.ofSite}
        </a>
      )}
      {mayEdit && (
        <button
          type="button"
          className="plain"
          onClick={() => change("archived", wish.isArchived ? [] : ["1"])}
        >
          {wish.isArchived ? texts.people.archive.showPresent : texts.people.archive.show}
        </button>
      )}
      {total !== undefined && total > PAGE_SIZE && (
        <Pages
          page={wish.page}
          pages={Math.ceil(total / PAGE_SIZE)}
          onPage={(page) => change("page", [String(page)])}
        />
      )}
    </div>
  );
}
