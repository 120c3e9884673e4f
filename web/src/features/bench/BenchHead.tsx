/** Where one is, which gang, and what becomes of the copy. */
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import { say, texts } from "../../texts";
import { ArchiveDialog } from "../archive/ArchiveDialog";
import { Dialog } from "../dialog/Dialog";
import { WorksMark } from "../WorksMark";
import type { Bench, Gang } from "./draft";
import { EditLoopDialog } from "./EditLoopDialog";
import type { Loop } from "./queries";

interface Props {
  loop: Loop;
  gang: Gang;
  bench: Bench;
  mayEdit: boolean;
  isKeeping: boolean;
  onKeep: () => void;
  onAddGang: () => void;
}

export function BenchHead({ loop, gang, bench, mayEdit, isKeeping, onKeep, onAddGang }: Props) {
  const [isEditing, setEditing] = useState(false);
  const [isArchiving, setArchiving] = useState(false);
  return (
    <div className="bench-head">
      <div className="bench-where">
        <Link to="/">{loop.site_name}</Link>
        <h1>{loop.name}</h1>
        {mayEdit && (
          <button type="button" className="plain" onClick={() => setEditing(true)}>
            {texts.bench.edit}
          </button>
        )}
        {mayEdit && (
          <button type="button" className="plain" onClick={() => setArchiving(true)}>
            {texts.people.archive.open}
          </button>
        )}
        {isArchiving && <Archiving loop={loop} gang={gang} onClose={() => setArchiving(false)} />}
        {isEditing && <EditLoopDialog loop={loop} onClose={() => setEditing(false)} />}
        <span className="chip figure">
          {loop.v_rms} V {loop.f_hz} Hz
        </span>
      </div>
      <nav className="gangs" aria-label={say(texts.list.gangs, { count: loop.gangs.length })}>
        {loop.gangs.map((entry) => (
          <Link
            key={entry.id}
            to={`/loops/${loop.id}/${entry.position}`}
            aria-current={entry.id === gang.id ? "page" : undefined}
          >
            {entry.name || say(texts.bench.gang, { position: entry.position })}
            {loop.gangs.length > 1 && <WorksMark works={entry.works} isBrief />}
          </Link>
        ))}
        {mayEdit && (
          <button type="button" className="plain" onClick={onAddGang}>
            + {texts.bench.addGang}
          </button>
        )}
      </nav>
      <div className="bench-copy">
        <span className="quiet" role="status">
          {bench.isChanged ? texts.bench.whatIf : texts.bench.record}
        </span>
        <button type="button" className="plain" disabled={!bench.canUndo} onClick={bench.undo}>
          {texts.bench.undo}
        </button>
        <button type="button" className="outlined" disabled={!bench.isChanged} onClick={bench.discard}>
          {texts.bench.discard}
        </button>
        {mayEdit && (
          <button type="button" className="solid" disabled={!bench.isChanged || isKeeping} onClick={onKeep}>
            {texts.bench.keep}
          </button>
        )}
      </div>
      {!mayEdit && <p className="quiet read-only">{texts.bench.readOnly}</p>}
    </div>
  );
}

/** The whole loop; or, where there are several, the gang that is shown. */
function Archiving({ loop, gang, onClose }: { loop: Loop; gang: Gang; onClose: () => void }) {
  const navigate = useNavigate();
  const [what, setWhat] = useState<"loop" | "gang" | null>(loop.gangs.length > 1 ? null : "loop");
  const gangName = gang.name || say(texts.bench.gang, { position: gang.position });
  if (what === null) {
    return (
      <Dialog open footer={null} title={texts.people.archive.action} onCancel={onClose}>
        <p className="form-buttons">
          <button type="button" className="outlined" onClick={() => setWhat("loop")}>
            {loop.name}
          </button>
          <button type="button" className="outlined" onClick={() => setWhat("gang")}>
            {gangName}
          </button>
        </p>
      </Dialog>
    );
  }
  const first = loop.gangs.find((entry) => entry.id !== gang.id);
  return (
    <ArchiveDialog
      kind={what === "loop" ? "loops" : "gangs"}
      id={what === "loop" ? loop.id : gang.id}
      name={what === "loop" ? loop.name : gangName}
      onDone={() => void navigate(what === "loop" ? "/" : `/loops/${loop.id}/${first?.position ?? 1}`)}
      onClose={onClose}
    />
  );
}
