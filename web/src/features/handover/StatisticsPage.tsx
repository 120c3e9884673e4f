/** What the record of all loops says, as pictures; each number opens its loops. */
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import { useTitle } from "../../app/useTitle";
import type { Schemas } from "../../api/client";
import { say, texts } from "../../texts";
import { useSites } from "../round/queries";
import "./statistics.css";
import { useStatistics } from "./queries";

const words = texts.handover.statistics;
const LISTS = ["circuits", "isolations", "cases", "issues", "visits"] as const;
type Loops = readonly Schemas["Behind"][];
type TaskFigure = Schemas["TaskFigure"];

interface Opened {
  what: string;
  loops: Loops;
}

export function StatisticsPage() {
  useTitle(words.title);
  const [params, setParams] = useSearchParams();
  const site = params.get("site");
  const sites = useSites();
  const found = useStatistics(site);
  const [opened, setOpened] = useState<Opened | null>(null);
  const open = (what: string, loops: Loops) => setOpened({ what, loops });
  return (
    <div className="page statistics">
      <div className="round-tools">
        <h1>{words.title}</h1>
        <select
          aria-label={texts.list.site}
          value={site ?? ""}
          onChange={(event) => {
            setOpened(null);
            setParams(event.target.value ? { site: event.target.value } : {}, { replace: true });
          }}
        >
          <option value="">{texts.list.allSites}</option>
          {sites.data?.results.map((one) => (
            <option key={one.id} value={one.id}>
              {one.name}
            </option>
          ))}
        </select>
      </div>
      <p className="quiet">{words.lead}</p>
      {found.isError && (
        <p className="wrong" role="alert">
          {found.error.message}
        </p>
      )}
      {opened && <Behind opened={opened} onClose={() => setOpened(null)} />}
      <p className="stat-lists">
        <span>{texts.handover.lists.title}:</span>
        {LISTS.map((name) => (
          <a key={name} className="plain" href={`/api/v1/lists/${name}.csv${site ? `?site=${site}` : ""}`}>
            {texts.handover.lists[name]}
          </a>
        ))}
      </p>
      {found.data && (
        <>
          <Stages rows={found.data.stages} onOpen={open} />
          <Minutes rows={found.data.minutes} onOpen={open} />
          <Causes rows={found.data.causes} onOpen={open} />
          <Parts rows={found.data.parts} onOpen={open} />
        </>
      )}
    </div>
  );
}

type OnOpen = (what: string, loops: Loops) => void;

function Behind({ opened, onClose }: { opened: Opened; onClose: () => void }) {
  const title = say(words.behind, { what: opened.what, count: opened.loops.length });
  return (
    <section className="notice behind" aria-label={title} role="status">
      <b>{title}</b>
      <ul>
        {opened.loops.map((loop) => (
          <li key={loop.id}>
            <Link to={`/loops/${loop.id}`}>
              {loop.site}, {loop.name}
            </Link>
          </li>
        ))}
      </ul>
      <button type="button" className="outlined" onClick={onClose}>
        {words.close}
      </button>
    </section>
  );
}

function Part({ title, lead, children }: { title: string; lead?: string; children: React.ReactNode }) {
  return (
    <section aria-label={title}>
      <h2>{title}</h2>
      {lead && <p className="quiet">{lead}</p>}
      {children}
    </section>
  );
}

interface CountProps {
  what: string;
  loops: Loops;
  onOpen: OnOpen;
  children: React.ReactNode;
}

function Count({ what, loops, onOpen, children }: CountProps) {
  if (loops.length === 0) return <span className="stat-number figure">{children}</span>;
  return (
    <button
      type="button"
      className="plain stat-number figure"
      aria-label={`${what}: ${say(words.count, { count: loops.length })}`}
      onClick={() => onOpen(what, loops)}
    >
      {children}
    </button>
  );
}

/** A bar of a share of the longest one. */
function Bar({ value, most, part = 0 }: { value: number; most: number; part?: number }) {
  const width = most > 0 ? (100 * value) / most : 0;
  return (
    <svg className="stat-bar" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
      <rect className="bar-all" x="0" y="2" height="6" width={width} />
      {part > 0 && <rect className="bar-part" x="0" y="2" height="6" width={(100 * part) / most} />}
    </svg>
  );
}

function Stages({ rows, onOpen }: { rows: readonly Schemas["StageFigure"][]; onOpen: OnOpen }) {
  const most = Math.max(...rows.map((one) => one.count), 1);
  return (
    <Part title={words.stages}>
      <table className="rows pictures">
        <tbody>
          {rows.map((one) => (
            <tr key={one.stage}>
              <th scope="row">{one.text}</th>
              <td className="stat-picture">
                <Bar value={one.count} most={most} />
              </td>
              <td>
                <Count what={one.text} loops={one.loops} onOpen={onOpen}>
                  {one.count}
                </Count>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Part>
  );
}

function Minutes({ rows, onOpen }: { rows: readonly TaskFigure[]; onOpen: OnOpen }) {
  const most = Math.max(...rows.map((one) => Math.max(one.most_min, one.high_min)), 1);
  return (
    <Part title={words.minutes} lead={rows.length > 0 ? words.minutesLead : undefined}>
      {rows.length === 0 ? (
        <p className="empty">{words.none}</p>
      ) : (
        <table className="rows pictures">
          <thead>
            <tr>
              <th scope="col">{words.task}</th>
              <th scope="col" />
              <th scope="col">{words.took}</th>
              <th scope="col">{words.planned}</th>
              <th scope="col">{words.times}</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((one) => (
              <tr key={one.task}>
                <th scope="row">{one.text}</th>
                <td className="stat-picture">
                  <Against one={one} most={most} />
                </td>
                <td>
                  <span className="figure">{say(words.min, { value: rounded(one.median_min) })}</span>
                  {one.is_outside && <small className="outside">! {words.outside}</small>}
                </td>
                <td className="figure">
                  {say(words.range, { low: rounded(one.low_min), high: rounded(one.high_min) })}
                </td>
                <td>
                  <Count what={one.text} loops={one.loops} onOpen={onOpen}>
                    {one.times}
                  </Count>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Part>
  );
}

function rounded(minutes: number): number {
  return Math.round(minutes * 10) / 10;
}

/** What was planned as a bar with a notch, what it took as a line with a diamond. */
function Against({ one, most }: { one: TaskFigure; most: number }) {
  const at = (minutes: number) => (300 * minutes) / most;
  const middle = at(one.median_min);
  return (
    <svg className="against" viewBox="-6 0 312 24" aria-hidden="true">
      <rect
        className="bar-all"
        x={at(one.low_min)}
        y="6"
        height="12"
        width={at(one.high_min - one.low_min)}
      />
      <line className="notch" x1={at(one.typical_min)} x2={at(one.typical_min)} y1="3" y2="21" />
      <line className="stat-span" x1={at(one.least_min)} x2={at(one.most_min)} y1="12" y2="12" />
      <path className="diamond" d={`M${middle - 5} 12 L${middle} 6 L${middle + 5} 12 L${middle} 18 Z`} />
    </svg>
  );
}

function Causes({ rows, onOpen }: { rows: readonly Schemas["CauseFigure"][]; onOpen: OnOpen }) {
  const most = Math.max(...rows.map((one) => one.count), 1);
  return (
    <Part title={words.causes} lead={rows.length > 0 ? words.causesLead : undefined}>
      {rows.length === 0 ? (
        <p className="empty">{words.none}</p>
      ) : (
        <table className="rows pictures">
          <tbody>
            {rows.map((one) => (
              <tr key={one.cause}>
                <th scope="row">{one.text}</th>
                <td className="stat-picture">
                  <Bar value={one.count} most={most} />
                </td>
                <td>
                  <Count what={one.text} loops={one.loops} onOpen={onOpen}>
                    {one.count}
                  </Count>
                </td>
                <td>
                  <ul className="cures">
                    {one.remedies.map((cure) => (
                      <li key={cure.remedy}>
                        {cure.text || words.noRemedy}:{" "}
                        <Count what={cure.text || words.noRemedy} loops={cure.loops} onOpen={onOpen}>
                          {say(words.held, { held: cure.held, count: cure.count })}
                        </Count>
                      </li>
                    ))}
                  </ul>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Part>
  );
}

function Parts({ rows, onOpen }: { rows: readonly Schemas["PartFigure"][]; onOpen: OnOpen }) {
  const most = Math.max(...rows.map((one) => one.gangs), 1);
  return (
    <Part title={words.parts} lead={rows.length > 0 ? words.partsLead : undefined}>
      {rows.length === 0 ? (
        <p className="empty">{words.none}</p>
      ) : (
        <table className="rows pictures">
          <tbody>
            {rows.map((one) => (
              <tr key={`${one.kind} ${one.label}`}>
                <th scope="row">
                  {one.label}
                  <small>{words.kinds[one.kind]}</small>
                </th>
                <td className="stat-picture">
                  <Bar value={one.gangs} most={most} part={one.trouble} />
                </td>
                <td>
                  <Count what={one.label} loops={one.loops} onOpen={onOpen}>
                    {say(words.trouble, { trouble: one.trouble, gangs: one.gangs })}
                  </Count>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Part>
  );
}
