/** The round: every loop with its state and next step. */
import { useState } from "react";
import { Link } from "react-router";
import { late } from "../../app/late";
import { useTitle } from "../../app/useTitle";
import { say, texts } from "../../texts";
import type { Kind } from "../archive/ArchiveDialog";
import { Outdated } from "../outdated/Outdated";
import { ArchivedSites } from "./ArchivedSites";
import { FirstSteps } from "./FirstSteps";
import { useLoops, useSites } from "./queries";
import { RoundFoot } from "./RoundFoot";
import { RoundTable } from "./RoundTable";
import { RoundTools } from "./RoundTools";
import { isUnfiltered, useWish } from "./useWish";

const NewLoopDialog = late(() => import("./NewLoopDialog").then((m) => m.NewLoopDialog));
const LoopsFromFile = late(() => import("./LoopsFromFile").then((m) => m.LoopsFromFile));
const BundleDialog = late(() => import("./BundleDialog").then((m) => m.BundleDialog));
const ArchiveDialog = late(() => import("../archive/ArchiveDialog").then((m) => m.ArchiveDialog));
const NewSiteDialog = late(() => import("./NewSiteDialog").then((m) => m.NewSiteDialog));

export function RoundPage({ mayEdit, mayKeepSites }: { mayEdit: boolean; mayKeepSites: boolean }) {
  const { wish, change } = useWish();
  useTitle(texts.round);
  const [dialog, setDialog] = useState<"none" | "loop" | "site" | "file" | "bundle">("none");
  const [back, setBack] = useState<{ kind: Kind; id: string; name: string } | null>(null);
  const loops = useLoops(wish);
  const sites = useSites();
  const rows = loops.data?.results ?? [];
  return (
    <div className="round">
      <RoundTools
        wish={wish}
        change={change}
        sites={sites.data}
        mayEdit={mayEdit}
        mayKeepSites={mayKeepSites}
        onNewLoop={() => setDialog("loop")}
      />
      {wish.isArchived ? (
        mayKeepSites && <ArchivedSites onBack={(site) => setBack({ kind: "sites", ...site })} />
      ) : (
        <Outdated mayEdit={mayEdit} />
      )}
      {wish.search.trim() !== "" && (
        <p>
          <Link to={`/search?q=${encodeURIComponent(wish.search)}`}>
            {say(texts.everywhere.from, { words: wish.search })}
          </Link>
        </p>
      )}
      {wish.plan && (
        <p className="notice" role="status">
          <span>{texts.visits.roundOf}</span>{" "}
          <Link to={`/visits?${wish.site ? `site=${wish.site}&` : ""}plan=${wish.plan}`}>
            {texts.visits.toPlan}
          </Link>{" "}
          <button type="button" className="outlined" onClick={() => change("plan", [])}>
            {texts.visits.wholeRound}
          </button>
        </p>
      )}
      {loops.isError && (
        <p className="wrong" role="alert">
          {loops.error.message}
        </p>
      )}
      <RoundTable
        rows={rows}
        isBusy={loops.isFetching}
        isGrouped={wish.order === "breaker"}
        isArchived={wish.isArchived}
        mayEdit={mayEdit}
        onBack={(row) => setBack({ kind: "loops", id: row.id, name: row.name })}
      />
      {loops.isSuccess &&
        rows.length === 0 &&
        (isUnfiltered(wish) && !wish.isArchived ? (
          <FirstSteps
            hasSite={(sites.data?.count ?? 0) > 0}
            mayEdit={mayEdit}
            mayKeepSites={mayKeepSites}
            onOpen={setDialog}
          />
        ) : (
          <p className="empty">{wish.isMine ? texts.list.mineNone : texts.list.none}</p>
        ))}
      {/* Rows that come push down what is below them: nothing is to be pressed there before. */}
      {!loops.isPending && (
        <RoundFoot
          wish={wish}
          change={change}
          total={loops.isSuccess ? loops.data.count : undefined}
          mayEdit={mayEdit}
          mayKeepSites={mayKeepSites}
          onOpen={setDialog}
        />
      )}
      {dialog === "loop" && <NewLoopDialog site={wish.site} onClose={() => setDialog("none")} />}
      {back && (
        <ArchiveDialog
          kind={back.kind}
          id={back.id}
          name={back.name}
          way="bring-back"
          onDone={() => setBack(null)}
          onClose={() => setBack(null)}
        />
      )}
      {dialog === "file" && <LoopsFromFile onClose={() => setDialog("none")} />}
      {dialog === "bundle" && <BundleDialog onClose={() => setDialog("none")} />}
      {dialog === "site" && <NewSiteDialog onClose={() => setDialog("none")} />}
    </div>
  );
}
