/** The circuit schedule of a site: what each breaker really feeds, with corrections. */
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import type { Schemas } from "../../api/client";
import { AddCircuitDialog } from "./AddCircuitDialog";
import { SupplyForm } from "./SupplyForm";
import { useTitle } from "../../app/useTitle";
import { say, texts } from "../../texts";
import { ArchiveDialog } from "../archive/ArchiveDialog";
import { MembersDialog } from "../people/MembersDialog";
import { SearchSelect } from "../dialog/Dialog";
import { FormDialog } from "../dialog/FormDialog";
import { TextLine } from "../dialog/TextLine";
import { useEdits } from "../dialog/useEdits";
import { useCircuits, useSites } from "../round/queries";
import { InZone, useWhen } from "../when";
import { NO_ZONE, zoneOptions } from "../zones";
import { useChangeSite, useCorrectLabel, useCorrections } from "./queries";

const words = texts.survey.schedule;
type Circuit = Schemas["Circuit"];
const HOURS = [0.5, 1, 2, 4, 8, 12];

export function SchedulePage({ mayEdit, mayKeepSites }: { mayEdit: boolean; mayKeepSites: boolean }) {
  const { siteId = "" } = useParams();
  const sites = useSites();
  const circuits = useCircuits(siteId);
  const [editing, setEditing] = useState<Circuit | null>(null);
  const [isAdding, setAdding] = useState(false);
  const [open, setOpen] = useState<"none" | "members" | "archive">("none");
  const navigate = useNavigate();
  const changeSite = useChangeSite(siteId);
  const held = sites.data?.results.find((entry) => entry.id === siteId);
  const site = held && { ...held, ...changeSite.waiting };
  const rows = circuits.data?.results ?? [];
  useTitle(words.open, ...(site ? [site.name] : []));
  return (
    <InZone zone={site?.zone ?? ""}>
      <div className="round schedule">
        <div className="round-tools">
          <h1>
            {words.title}
            {site && `: ${site.name}`}
          </h1>
          <a
            className="outlined"
            href={`/api/v1/sites/${siteId}/labels.pdf`}
            target="_blank"
            rel="noreferrer"
          >
            {words.print}
          </a>
          {mayKeepSites && site && (
            <>
              <button type="button" className="outlined" onClick={() => setOpen("members")}>
                {texts.people.members.open}
              </button>
              <button type="button" className="outlined" onClick={() => setOpen("archive")}>
                {texts.people.archive.open}
              </button>
            </>
          )}
          {mayEdit && (
            <button type="button" className="solid" onClick={() => setAdding(true)}>
              {words.add}
            </button>
          )}
        </div>
        <p className="quiet">{words.lead}</p>
        {site && (
          <label className="proof-lasts">
            {texts.isolation.lasts}{" "}
            <select
              value={site.proof_lasts_s}
              disabled={!mayKeepSites}
              onChange={(event) =>
                changeSite.change({ proof_lasts_s: Number(event.target.value) }, site.version)
              }
            >
              {[...new Set([...HOURS.map((hours) => hours * 3600), site.proof_lasts_s ?? 0])]
                .sort((a, b) => a - b)
                .map((seconds) => (
                  <option key={seconds} value={seconds}>
                    {say(texts.isolation.hours, { value: seconds / 3600 })}
                  </option>
                ))}
            </select>
          </label>
        )}
        {site && (
          <div className="proof-lasts">
            {texts.make.zone}
            <SearchSelect
              label={texts.make.zone}
              value={site.zone || NO_ZONE}
              disabled={!mayKeepSites}
              options={zoneOptions(site.zone ?? "")}
              onChange={(zone) => changeSite.change({ zone }, site.version)}
            />
          </div>
        )}
        {site && (
          <SupplyForm
            site={site}
            isDisabled={!mayKeepSites}
            onChange={(part) => changeSite.change(part, site.version)}
          />
        )}
        {changeSite.error && (
          <p className="wrong" role="alert">
            {changeSite.error.message}
          </p>
        )}
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">{words.breaker}</th>
              <th scope="col">{words.found}</th>
              <th scope="col">{words.now}</th>
              <th scope="col">{words.feeds}</th>
              <th scope="col">{words.loops}</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            {rows.map((circuit) => (
              <tr key={circuit.id}>
                <td className="figure">
                  <b>{circuit.breaker}</b>
                  {circuit.is_isolated && <small className="is-isolated">{words.isolated}</small>}
                </td>
                <td>{circuit.label_as_found || "?"}</td>
                <td>
                  {circuit.label_now || <span className="quiet">{words.same}</span>}
                  <Corrections circuit={circuit} />
                </td>
                <td>{circuit.feeds || "?"}</td>
                <td>
                  {circuit.loops.map((loop) => (
                    <Link key={loop.id} to={`/loops/${loop.id}`} className="loop-link">
                      {loop.name}
                    </Link>
                  ))}
                </td>
                <td>
                  {mayEdit && (
                    <button
                      type="button"
                      className="outlined"
                      aria-label={`${words.correct}: ${circuit.breaker}`}
                      onClick={() => setEditing(circuit)}
                    >
                      {words.correct}
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {circuits.isSuccess && rows.length === 0 && <p className="empty">{words.empty}</p>}
        {editing && (
          <CorrectDialog
            circuit={rows.find((one) => one.id === editing.id) ?? editing}
            onClose={() => setEditing(null)}
          />
        )}
        {site && open === "members" && (
          <MembersDialog site={siteId} name={site.name} onClose={() => setOpen("none")} />
        )}
        {site && open === "archive" && (
          <ArchiveDialog
            kind="sites"
            id={siteId}
            name={site.name}
            onDone={() => void navigate("/")}
            onClose={() => setOpen("none")}
          />
        )}
        {isAdding && <AddCircuitDialog site={siteId} onClose={() => setAdding(false)} />}
      </div>
    </InZone>
  );
}

function Corrections({ circuit }: { circuit: Circuit }) {
  const when = useWhen();
  const corrections = useCorrections(circuit.id, Boolean(circuit.label_now));
  return (
    <>
      {corrections.data?.map((entry) => (
        <small key={entry.id}>
          {words.was} <q>{entry.label_before || "?"}</q> · {entry.by}, {when(entry.at)}
          {entry.how_found && ` · ${entry.how_found}`}
        </small>
      ))}
    </>
  );
}

function CorrectDialog({ circuit, onClose }: { circuit: Circuit; onClose: () => void }) {
  const edits = useEdits(
    `edit:circuit:${circuit.id}`,
    { label: circuit.label_now || circuit.feeds || "", feeds: circuit.feeds ?? "", how: "" },
    circuit.version,
  );
  const { label, feeds, how } = edits.form;
  const correct = useCorrectLabel(circuit.id);
  const close = () => {
    edits.forget();
    onClose();
  };
  return (
    <FormDialog
      title={`${words.correct}: ${circuit.breaker}`}
      action={words.save}
      isReady={label.trim() !== "" && feeds.trim() !== ""}
      isPending={correct.isPending}
      error={edits.told(correct.error)}
      isLeft={edits.isLeft}
      onSubmit={() =>
        correct.mutate(
          { version: edits.version, label, feeds, how_found: how },
          { onSuccess: close, onError: edits.onError },
        )
      }
      onClose={close}
    >
      <TextLine
        label={words.now}
        value={label}
        maxLength={120}
        onChange={(typed) => edits.change({ label: typed })}
      />
      <TextLine
        label={words.feeds}
        value={feeds}
        maxLength={200}
        onChange={(typed) => edits.change({ feeds: typed })}
      />
      <TextLine
        label={words.how}
        value={how}
        maxLength={200}
        onChange={(typed) => edits.change({ how: typed })}
      />
    </FormDialog>
  );
}
