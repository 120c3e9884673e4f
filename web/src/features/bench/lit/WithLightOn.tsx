/** The control with the light on: whether it drives these lamps, the half-cycle at a level, the light curve, the matrix. */
import { useState } from "react";
import { texts } from "../../../texts/en";
import type { Draft, Gang } from "../draft";
import { HalfCycle } from "./HalfCycle";
import { LightCurve } from "./LightCurve";
import { Matrix } from "./Matrix";
import { TrimsForm } from "./TrimsForm";
import { type Edge, type Look, useLit } from "./queries";

const words = texts.lit;
const EDGES = Object.keys(words.edges) as Edge[];

interface Props {
  gang: Gang;
  draft: Draft;
  change: (draft: Draft) => void;
}

export function WithLightOn({ gang, draft, change }: Props) {
  const [look, setLook] = useState<Look>({ edge: "", level_deg: null, headroom_ratio: null });
  const lit = useLit(gang.id, draft, look);
  const found = lit.data;
  const mayChoose = found !== undefined && found.mode !== "leading" && found.mode !== "trailing";
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
          <p className={`sure-lead goes-${found.verdict}`} role="status">
            <b>
              {words.marks[found.verdict]} {words.verdict}: {found.verdict_text}.
            </b>{" "}
            {words.mode}: {found.mode_text}. {found.mixed}
          </p>
          <ul className="lit-members">
            {found.members.map((member) => (
              <li key={member.group} className={`goes-${member.verdict}`}>
                <b>
                  {words.marks[member.verdict]} {member.verdict_text}
                </b>
                <span>
                  <b>
                    {words.group(member.group)}: {member.load}, {member.declared}.
                  </b>{" "}
                  {member.text}
                </span>
              </li>
            ))}
          </ul>
          <ul className="plain-list">
            {found.findings.map((finding) => (
              <li key={finding.text} className={`said-${finding.severity}`}>
                {finding.text}
              </li>
            ))}
          </ul>
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
          <div className="kind-row">
            <h2>{found.edge === "on_off" ? words.closing : words.halfCycle}</h2>
            {mayChoose && (
              <div className="kind-buttons" role="group" aria-label={words.edge}>
                {EDGES.map((name) => (
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
          </div>
          <HalfCycle lit={found} />
          <label className="level">
            {words.level[found.edge]}
            <input
              type="range"
              min={10}
              max={170}
              step={1}
              value={look.level_deg ?? found.level_deg}
              onChange={(event) => setLook({ ...look, level_deg: Number(event.target.value) })}
            />
            <b className="figure">{look.level_deg ?? found.level_deg}°</b>
          </label>
          {found.curve && (
            <>
              <h2>{words.curve}</h2>
              <LightCurve curve={found.curve} />
              <TrimsForm draft={draft} change={change} />
            </>
          )}
          <p className="quiet">{found.assumed}</p>
        </>
      )}
      <Matrix />
    </section>
  );
}
