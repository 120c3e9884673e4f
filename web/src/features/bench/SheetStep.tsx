/** What leaves the bench: paper and files, and what was stored. */
import { type ChangeEvent, type ReactNode, useRef, useState } from "react";
import { say, texts, wordOf } from "../../texts";
import { useWhen } from "../when";
import { WorksMark } from "../WorksMark";
import type { ControlFit, Draft, Figures, Fit, Gang } from "./draft";
import { type Loop, useChanges, useStoredJudgements } from "./queries";

const LANGUAGES = ["en", "de"] as const;
const STICKERS = [24, 12, 40] as const;

function Paper({ href, children }: { href: string; children: ReactNode }) {
  return (
    <a className="outlined" href={href} target="_blank" rel="noreferrer">
      {children}
    </a>
  );
}

interface Props {
  loop: Loop;
  gang: Gang;
  draft: Draft;
  isChanged: boolean;
  onOpen: (draft: Draft) => void;
}

/** The parts of a loop sheet as a draft; the server checks their figures. Null when it is no sheet. */
function draftFrom(text: string, before: Draft): Draft | null {
  try {
    const sheet = JSON.parse(text) as Partial<Record<"control" | "cable" | "bypass" | "lamps", unknown>>;
    if (typeof sheet !== "object" || sheet === null || !Array.isArray(sheet.lamps)) return null;
    const fit = (figures: unknown): Fit => ({
      part: null,
      label: "",
      status: "planned",
      figures: figures as Figures,
    });
    return {
      name: before.name,
      cable: (sheet.cable ?? {}) as Figures,
      place: before.place,
      trims: before.trims,
      control: sheet.control ? asItHangs(fit(sheet.control)) : null,
      bypasses: (Array.isArray(sheet.bypass) ? sheet.bypass : []).map(fit),
      lamps: sheet.lamps.map(fit),
    };
  } catch {
    return null;
  }
}

/** A sheet says by one of the control's figures what a draft says beside them. */
function asItHangs({ figures, ...rest }: Fit): ControlFit {
  const { has_neutral: hasNeutral, ...own } = figures;
  return { ...rest, figures: own, wired: hasNeutral === true ? "straight" : "loop" };
}

export function SheetStep({ loop, gang, draft, isChanged, onOpen }: Props) {
  const when = useWhen();
  const file = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState("");
  const stored = useStoredJudgements(gang.id);
  const changes = useChanges(gang.id);
  const open = async (event: ChangeEvent<HTMLInputElement>) => {
    const chosen = event.target.files?.[0];
    if (!chosen) return;
    const opened = draftFrom(await chosen.text(), draft);
    if (opened) onOpen(opened);
    setSaid(opened ? texts.sheet.opened : texts.sheet.notSheet);
    event.target.value = "";
  };
  const address = `/api/v1/gangs/${gang.id}`;
  const isComplete = gang.control !== null && gang.lamps.length > 0;
  return (
    <div className="sheet-step">
      <h2>{texts.sheet.title}</h2>
      <p className="quiet">{isChanged ? texts.sheet.unkept : texts.sheet.text}</p>
      <p className="sheet-buttons">
        {isComplete && (
          <a className="solid" href={`${address}/sheet.pdf`} target="_blank" rel="noreferrer">
            {texts.sheet.pdf}
          </a>
        )}
        <a className="outlined" href={`${address}/sheet.json`}>
          {texts.sheet.json}
        </a>
        {isComplete && (
          <a className="outlined" href={`${address}/netlist.cir`}>
            {texts.sheet.netlist}
          </a>
        )}
        <button type="button" className="outlined" onClick={() => file.current?.click()}>
          {texts.sheet.open}
        </button>
        <input
          ref={file}
          type="file"
          accept="application/json,.json"
          hidden
          aria-label={texts.sheet.open}
          onChange={(event) => void open(event)}
        />
      </p>
      {said && <p role="status">{said}</p>}
      <h3>{texts.handover.papers.title}</h3>
      <p className="quiet">{texts.handover.papers.lead}</p>
      <p className="sheet-buttons">
        <Paper href={`/api/v1/loops/${loop.id}/client.pdf`}>{texts.handover.papers.client}</Paper>
        <Paper href={`/api/v1/loops/${loop.id}/client.pdf?languages=${LANGUAGES.join()}`}>
          {texts.handover.papers.clientBoth}
        </Paper>
        {STICKERS.map((count) => (
          <Paper key={count} href={`/api/v1/loops/${loop.id}/stickers.pdf?form=${count}`}>
            {say(texts.handover.papers.stickers, { count })}
          </Paper>
        ))}
        <Paper href={`/api/v1/sites/${loop.site}/sheet.pdf`}>{texts.handover.papers.site}</Paper>
        <a className="outlined" href={`/api/v1/loops/${loop.id}/bundle.zip`}>
          {texts.bundle.ofLoop}
        </a>
      </p>
      <h3>{texts.sheet.judgements}</h3>
      {stored.data?.results.length === 0 && <p className="quiet">{texts.sheet.noJudgement}</p>}
      <ul className="trail">
        {stored.data?.results.map((entry) => (
          <li key={entry.id}>
            <WorksMark works={entry.works} />
            <span>
              {say(texts.sheet.madeBy, {
                at: when(entry.made_at),
                who: entry.made_by,
                core: entry.core_version,
              })}
            </span>
          </li>
        ))}
      </ul>
      <details>
        <summary>{texts.sheet.changes}</summary>
        <ul className="trail">
          {changes.data?.results.map((entry) => (
            <li key={entry.id}>
              <span>
                {when(entry.at)} · {entry.who} · {wordOf(texts.actions, entry.action) ?? entry.action}{" "}
                {loop.name}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </div>
  );
}
