/** The control with the light on: whether it drives these lamps, the half-cycle at a level, the light curve, why. */
import { useState } from "react";
import type { ErrorEntry } from "../../../api/client";
import { say, texts } from "../../../texts";
import type { Draft, Gang } from "../draft";
import { OldAnswer } from "../../OldAnswer";
import { HalfCycle } from "./HalfCycle";
import { LightCurve } from "./LightCurve";
import { LitFigures } from "./LitFigures";
import { LitVerdict } from "./LitVerdict";
import { LoadTable } from "./LoadTable";
import { Matrix } from "./Matrix";
import { TrimsForm } from "./TrimsForm";
import { type Edge, type Lit, type Look, useBand, useLit } from "./queries";

const words = texts.lit;
const EDGES = Object.keys(words.edges) as Edge[];
const VIEWS = Object.keys(words.views) as ("running" | "closing")[];

interface Props {
  gang: Gang;
  draft: Draft;
  change: (draft: Draft) => void;
  errors: ErrorEntry[];
}

export function WithLightOn({ gang, draft, change, errors }: Props) {
  const [look, setLook] = useState<Look>({ edge: "", level_deg: null, headroom_ratio: null, view: "" });
  const lit = useLit(gang.id, draft, look);
  const found = lit.data;
  const band = useBand(gang.id, draft, look, found?.edge);
  const isFixed = found?.mode === "leading" || found?.mode === "trailing" || found?.mode === "on_off";
  const edges = found?.mode === null ? EDGES : EDGES.filter((edge) => edge !== "on_off");
  const level = look.level_deg ?? found?.level_deg ?? 90;
  const hasLevel = found !== undefined && !(found.edge === "on_off" && found.view === "running");
  return (
    <section className="lit" aria-label={words.title} aria-busy={lit.isFetching}>
      {lit.isPending && <p className="quiet">{words.computing}</p>}
      {lit.isError && (
        <p className="wrong" role="alert">
          {lit.error.message}
        </p>
      )}
      {found && (
        <>
          <OldAnswer isOld={lit.isPlaceholderData}>
            <LitVerdict found={found} />
          </OldAnswer>
          <div className="kind-row">
            <h2>{found.view === "closing" ? words.closing : words.halfCycle}</h2>
            {!isFixed && (
              <div className="kind-buttons" role="group" aria-label={words.edge}>
                {edges.map((name) => (
                  <button
                    key={name}
                    type="button"
                    aria-pressed={name === found.edge}
                    onClick={() => setLook({ ...look, edge: name, level_deg: null })}
                  >
                    {words.edges[name]}
                  </button>
                ))}
              </div>
            )}
            {found.has_window && (
              <div className="kind-buttons" role="group" aria-label={words.moment}>
                {VIEWS.map((name) => (
                  <button
                    key={name}
                    type="button"
                    aria-pressed={name === found.view}
                    onClick={() => setLook({ ...look, view: name })}
                  >
                    {words.views[name]}
                  </button>
                ))}
              </div>
            )}
          </div>
          <HalfCycle
            lit={found}
            band={band.data}
            level={level}
            onLevel={(next) => setLook({ ...look, level_deg: next })}
          />
          {hasLevel && (
            <label className="level">
              {words.level[found.edge]}
              <input
                type="range"
                min={10}
                max={170}
                step={1}
                value={level}
                onChange={(event) => setLook({ ...look, level_deg: Number(event.target.value) })}
              />
              <b className="figure">{level}°</b>
            </label>
          )}
          {found.curve && (
            <>
              <h2>{words.curve}</h2>
              <LightCurve curve={found.curve} />
              <TrimsForm draft={draft} change={change} />
            </>
          )}
          <h2>{words.why}</h2>
          <ul className="lit-members">
            {found.members.map((member) => (
              <li key={member.group} className={`goes-${member.verdict}`}>
                <b>
                  {words.marks[member.verdict]} {member.verdict_text}
                </b>
                <div>
                  <b>
                    {say(words.member, { group: member.group, load: member.load, declared: member.declared })}
                  </b>{" "}
                  {member.text}
                  {member.figures.length > 0 && <Said findings={member.figures} />}
                </div>
              </li>
            ))}
          </ul>
          <Said findings={found.findings} />
          {found.edge === "leading" && (
            <label className="level">
              {words.headroom}
              <input
                type="range"
                min={1}
                max={6}
                step={0.5}
                value={look.headroom_ratio ?? found.headroom_ratio}
                onChange={(event) => setLook({ ...look, headroom_ratio: Number(event.target.value) })}
              />
              <b className="figure">{look.headroom_ratio ?? found.headroom_ratio} ×</b>
            </label>
          )}
          <p className="quiet">{found.assumed}</p>
        </>
      )}
      <LitFigures draft={draft} change={change} errors={errors} />
      <LoadTable gang={gang} draft={draft} />
      <Matrix />
    </section>
  );
}

function Said({ findings }: { findings: Lit["findings"] }) {
  return (
    <ul className="plain-list">
      {findings.map((finding) => (
        <li key={finding.text} className={`said-${finding.severity}`}>
          {finding.text}
        </li>
      ))}
    </ul>
  );
}
