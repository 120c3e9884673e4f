/** One way: what it does, whether it goes in, what it costs and what is lost. */
import type { ReactNode } from "react";
import { say, texts } from "../../texts";
import { PickMenu } from "../PickMenu";
import { type Works, WorksMark } from "../WorksMark";
import type { WayRow } from "./queries";

const words = texts.ways;
const columns = words.columns;

interface Props {
  row: WayRow;
  /** The best of those that are shown, large. */
  isFirst: boolean;
  /** All were compared: the first is the favoured one. */
  isFinal: boolean;
  isChosen: boolean;
  because: string;
  isOpen: boolean;
  onLook: () => void;
  onControl: (control: string) => void;
  onChoose: (() => void) | null;
  children: ReactNode;
}

export function WayCard({
  row,
  isFirst,
  isFinal,
  isChosen,
  because,
  isOpen,
  onLook,
  onControl,
  onChoose,
  children,
}: Props) {
  return (
    <article className={`way${isFirst ? " is-favoured" : ""}`} aria-label={row.title}>
      <header>
        <h2>
          {row.title}
          {isFirst && (
            <span className="way-tag">{isFinal ? `★ ${words.favoured}` : `☆ ${words.bestSoFar}`}</span>
          )}
          {isChosen && <span className="way-tag">✓ {words.chosenMark}</span>}
        </h2>
        <WorksMark works={row.works as Works} />
      </header>
      <p>
        <WhatIsDone row={row} />
      </p>
      {because && <p className="way-because">{because}</p>}
      <dl className="way-figures">
        <Figure name={columns.works}>
          {row.works_text || row.works_title}
          {row.sample_count > 0 && !row.is_share_told && (
            <small>{say(words.share, { well: row.well_count, of: row.sample_count })}</small>
          )}
        </Figure>
        <Figure name={columns.time}>{say(words.minutes, row.minutes)}</Figure>
        <Figure name={columns.buy}>
          {row.price === null ? words.noPrice : row.price === 0 ? words.nothingToBuy : row.price.toFixed(2)}
        </Figure>
        <Figure name={columns.fits}>{row.fit_text}</Figure>
        {row.losses.length > 0 && <Figure name={columns.lost}>{row.losses.join(" ")}</Figure>}
        {(isFirst || isOpen) && (
          <>
            <Figure name={columns.dims}>{row.dims}</Figure>
            <Figure name={columns.hub}>{row.hub}</Figure>
            <Figure name={columns.flipped}>{row.flipped}</Figure>
            <Figure name={columns.power}>{row.power}</Figure>
            <Figure name={columns.isolation}>{row.isolation}</Figure>
            <Figure name={columns.rule}>{row.rule}</Figure>
            <Figure name={columns.back}>{row.is_reversible ? words.yes : words.no}</Figure>
          </>
        )}
        {[...row.cautions, ...row.notes].length > 0 && (
          <Figure name={columns.caution}>{[...row.cautions, ...row.notes].join(" ")}</Figure>
        )}
      </dl>
      <div className="way-do">
        <button type="button" className="outlined" aria-expanded={isOpen} onClick={onLook}>
          {words.seeMap}
        </button>
        {onChoose && (
          <button type="button" className="solid" onClick={onChoose}>
            {words.choose}
          </button>
        )}
        {isOpen && row.others.length > 0 && (
          <label className="field">
            {words.otherControl}
            <PickMenu first={row.control_name} onPick={onControl}>
              {row.others.map((other) => (
                <option key={other.key} value={other.key}>
                  {other.name}
                </option>
              ))}
            </PickMenu>
          </label>
        )}
      </div>
      {children}
    </article>
  );
}

function Figure({ name, children }: { name: string; children: ReactNode }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{children}</dd>
    </div>
  );
}

/** The way in words, and the parts that it is judged with. */
export function WhatIsDone({ row }: { row: WayRow }) {
  const parts = [row.control_name, ...row.bypass.map((bypass) => bypass.name)].filter(Boolean);
  return (
    <>
      {row.text} {parts.length > 0 && <b>{say(words.with, { what: parts.join(" + ") })}.</b>}
    </>
  );
}
