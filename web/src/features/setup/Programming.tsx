/** Programs of a gang: entered, tried at once over eight days and a power cut, kept. */
import { useState } from "react";
import { Link } from "react-router";
import { Refusal } from "../../api/client";
import { say, texts } from "../../texts";
import type { Gang } from "../bench/draft";
import { useRested } from "../bench/useRested";
import { useProving } from "../prove/queries";
import { useDraft } from "../visits/useDraft";
import { type Programs, useKeepPrograms, usePrograms, useTried } from "./queries";
import { ProgramRow } from "./ProgramRow";
import { assumedAt, type Draft, documentOf, draftOf, freshProgram } from "./programs";
import { Refused } from "./Refused";
import { WeekStrip } from "./WeekStrip";

const words = texts.setup.programs;
const REST_MS = 400;
const CUTS = ["none", "1", "600", "28800"] as const;
const RESTARTS = ["off", "on", "as_before"] as const;
/** What is seen at the proof after a power cut, as it is noted here. */
const SEEN: Record<string, string> = { stays_off: "off", comes_on: "on", as_before: "as_before" };

interface Props {
  gang: Gang;
  /** Its zone and place are asked for first. */
  site: string;
  mayEdit: boolean;
  onRadio: () => void;
  onLevels: () => void;
}

export function Programming({ gang, site, mayEdit, onRadio, onLevels }: Props) {
  const query = usePrograms(gang.id);
  const kept = query.data;
  if (kept === undefined) {
    return query.isError ? (
      <p className="wrong" role="alert">
        {query.error.message}
      </p>
    ) : (
      <p className="quiet">{texts.bench.computing}</p>
    );
  }
  if (kept.missing.length > 0) {
    return (
      <div className="empty">
        <p>{words.missing}</p>
        {kept.missing.includes("no_zone") && (
          <Link className="solid" to={`/sites/${site}/schedule`}>
            {words.toZone}
          </Link>
        )}
        {kept.missing.some((code) => code !== "no_zone") && (
          <button type="button" className="solid" onClick={onRadio}>
            {words.toPlace}
          </button>
        )}
      </div>
    );
  }
  return (
    <>
      <Levels gang={gang} how={kept.levels_how} onLevels={onLevels} />
      <Editor gang={gang.id} loop={gang.loop} kept={kept} mayEdit={mayEdit} />
    </>
  );
}

/** What was found and set of a dimmer, where it is a dimmer at all. */
function Levels({ gang, how, onLevels }: { gang: Gang; how: string; onLevels: () => void }) {
  const set = Object.entries(texts.lit.trims).flatMap(([name, label]) => {
    const value = (gang.trims as Record<string, number | null> | null)?.[name];
    return typeof label === "string" && typeof value === "number" ? [`${label} ${value}°`] : [];
  });
  if (how === "" && set.length === 0) return null;
  return (
    <section aria-label={words.levels}>
      <h2>{words.levels}</h2>
      <p>
        {how} {set.length > 0 ? set.join(" · ") : words.levelsNone}{" "}
        <button type="button" className="plain" onClick={onLevels}>
          {words.toLightOn}
        </button>
      </p>
    </section>
  );
}

interface EditorProps {
  gang: string;
  loop: string;
  kept: Programs;
  mayEdit: boolean;
}

function Editor({ gang, loop, kept, mayEdit }: EditorProps) {
  const [begun, keep, settle] = useDraft<Draft>(`programs ${gang}`);
  const [first, setFirst] = useState(kept.first);
  const [cut, setCut] = useState<(typeof CUTS)[number]>("none");
  const saving = useKeepPrograms(gang);
  const draft = begun?.draft ?? draftOf(kept);
  const seen = useProving(loop).data?.items.find((item) => item.act === "power_on" && item.result in SEEN);
  const differs = seen !== undefined && draft.restart !== "" && draft.restart !== SEEN[seen.result];
  const version = begun?.version ?? kept.version;
  const set = (part: Partial<Draft>) => keep({ draft: { ...draft, ...part }, version });
  const document = documentOf(draft);
  const asked = useRested(JSON.stringify({ first, document, cut }), REST_MS);
  const rested = JSON.parse(asked) as { first: string; document: typeof document; cut: string };
  const outages =
    rested.cut === "none" ? [] : [{ from: `${rested.first}T20:00:00`, seconds: Number(rested.cut) }];
  const tried = useTried(
    gang,
    rested.first,
    rested.document,
    outages,
    /^\d{4}-\d{2}-\d{2}$/.test(rested.first),
  );
  const shown = tried.data;
  const error = saving.error ?? tried.error;
  const errors = new Map(
    error instanceof Refusal ? error.errors.map((one) => [one.path, one.text] as const) : [],
  );
  const save = (over = version) =>
    saving.mutate({ version: over, document }, { onSuccess: (now) => settle(draft, now.version ?? over) });
  const number = (name: "most" | "holds", label: string, path: string) => (
    <label className="field">
      {label}
      <input
        value={draft[name]}
        maxLength={10}
        inputMode="numeric"
        aria-invalid={errors.has(path)}
        onChange={(event) => set({ [name]: event.target.value })}
      />
      {errors.get(path) && <small className="wrong">{errors.get(path)}</small>}
    </label>
  );
  return (
    <div className="programs">
      <p className="quiet">{words.lead}</p>
      <fieldset className="plain-set" disabled={!mayEdit}>
        {draft.programs.map((program, k) => (
          <ProgramRow
            key={k}
            number={k + 1}
            program={program}
            errors={errors}
            onProgram={(next) => set({ programs: draft.programs.map((one, n) => (n === k ? next : one)) })}
            onRemove={() => set({ programs: draft.programs.filter((_, n) => n !== k) })}
          />
        ))}
        <div className="form-buttons">
          <button
            type="button"
            className="outlined"
            onClick={() => set({ programs: [...draft.programs, freshProgram()] })}
          >
            {words.add}
          </button>
        </div>
        <div className="row-set">
          <label className="field">
            {words.restart}
            <select value={draft.restart} onChange={(event) => set({ restart: event.target.value })}>
              <option value="">{words.restartUnknown}</option>
              {RESTARTS.map((one) => (
                <option key={one} value={one}>
                  {words.restarts[one]}
                </option>
              ))}
            </select>
          </label>
          {number("most", words.most, "device.most_programs")}
          {number("holds", words.holds, "device.clock_holds_s")}
          <label className="field">
            {words.setAgain}
            <select value={draft.again ?? ""} onChange={(event) => set({ again: event.target.value })}>
              <option value="">{words.restartUnknown}</option>
              <option value="yes">{texts.setup.form.yes}</option>
              <option value="no">{texts.setup.form.no}</option>
            </select>
          </label>
        </div>
        {seen && (
          <p className={differs ? "wrong" : "quiet"}>
            {differs && "! "}
            {say(words.restartSeen, { what: seen.result_text })}
            {differs && ` ${words.restartDiffers}`}
          </p>
        )}
      </fieldset>
      {error && (
        <Refused
          error={error}
          words={words}
          onTheirs={() => {
            keep(null);
            saving.reset();
          }}
          onMine={() => save(kept.version)}
        />
      )}
      {mayEdit && (
        <p className="form-buttons">
          <button
            type="button"
            className="solid"
            disabled={saving.isPending || begun === null}
            onClick={() => save()}
          >
            {words.save}
          </button>
          <a className="outlined" href={`/api/v1/gangs/${gang}/programs.ics`}>
            {words.calendar}
          </a>
        </p>
      )}
      {draft.programs.length === 0 && <p className="quiet">{words.none}</p>}
      {shown && draft.programs.length > 0 && (
        <section
          aria-label={words.strip}
          aria-busy={tried.isPlaceholderData}
          className={tried.isError || tried.isPlaceholderData ? "is-old" : ""}
        >
          <h2>{words.strip}</h2>
          <div className="row-set">
            <label className="field is-date">
              {words.firstDay}
              <input type="date" value={first} onChange={(event) => setFirst(event.target.value)} />
            </label>
            <label className="field is-wide">
              {words.cut}
              <select value={cut} onChange={(event) => setCut(event.target.value as typeof cut)}>
                {CUTS.map((one) => (
                  <option key={one} value={one}>
                    {words.cuts[one]}
                  </option>
                ))}
              </select>
            </label>
          </div>
          <p role="status">
            {say(words.hours, { week: shown.hours.toFixed(1), year: Math.round(shown.hours_a_year) })}
            {shown.kwh_a_year !== null &&
              `, ${say(words.energy, { kwh: Math.round(shown.kwh_a_year) })}`}.{" "}
            <small>{say(words.stripLead, { day: shown.first, zone: shown.zone })}</small>
          </p>
          {cut !== "none" &&
            assumedAt(Number(cut), draft).map((what) => (
              <p key={what} className="quiet">
                ! {words.assumed[what]}
              </p>
            ))}
          <WeekStrip programs={shown} />
          <h3>{words.conflicts}</h3>
          {shown.conflicts.length === 0 ? (
            <p className="quiet">{words.noConflicts}</p>
          ) : (
            <ul className="conflicts">
              {shown.conflicts.map((one) => (
                <li key={`${one.code}${one.programs.join()}`}>! {one.text}</li>
              ))}
            </ul>
          )}
        </section>
      )}
    </div>
  );
}
