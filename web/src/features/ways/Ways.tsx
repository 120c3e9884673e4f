/** The ways for this loop: one large answer, the others below, and what cannot be with what stands against it. */
import { useState } from "react";
import { say, texts } from "../../texts";
import { OldAnswer } from "../OldAnswer";
import { ProgressLine } from "../ProgressLine";
import type { Loop } from "../bench/queries";
import type { Step, Tab } from "../bench/steps";
import { CeilingForm } from "./CeilingForm";
import { ChooseDialog } from "./ChooseDialog";
import { Choices } from "./Choices";
import { OrderForm } from "./OrderForm";
import { useComparison, useWay, type Way, type WayRow, type Work } from "./queries";
import { WayCard } from "./WayCard";
import { WireMapView } from "./WireMapView";

const words = texts.ways;

interface Props {
  loop: Loop;
  work: Work;
  mayEdit: boolean;
  onGo: (step: Step, tab?: Tab | null) => void;
}

export function Ways({ loop, work, mayEdit, onGo }: Props) {
  // A change of anything that the ways stand on compares them anew.
  const basis = [loop.gangs.map((gang) => gang.version), work.basis, work.order];
  const found = useComparison(loop.id, basis, work.against === null);
  const [looked, look] = useState<{ way: Way; control: string | null } | null>(null);
  // What the row stood on when it was pressed goes with it: a change meanwhile is refused, not overlooked.
  const [choosing, choose] = useState<{ row: WayRow; basis: unknown; number: number } | null>(null);
  const way = useWay(loop.id, looked?.way ?? null, looked?.control ?? null, basis);
  const chosen = work.choices[0];
  const rows = found.data?.rows ?? [];
  // Until all are compared the first of them may not stay the first.
  const isFinal = found.data?.is_complete === true;
  const able = rows.filter((row) => row.against === null);
  const first = able.find((row) => row.way === found.data?.favoured);
  const others = able.filter((row) => row !== first);
  const unable = rows.filter((row) => row.against !== null);
  const card = (row: WayRow, isFirst: boolean) => {
    const isOpen = looked?.way === row.way;
    const shown = isOpen && way.data?.row.way === row.way ? way.data.row : row;
    return (
      <WayCard
        key={row.way}
        row={shown}
        isFirst={isFirst}
        isFinal={isFinal}
        isChosen={chosen?.way === row.way}
        because={isFirst && isFinal ? (found.data?.because ?? "") : ""}
        isOpen={isOpen}
        onLook={() => look(isOpen ? null : { way: row.way, control: null })}
        onControl={(control) => look({ way: row.way, control })}
        onChoose={
          mayEdit && row.is_usable && !found.isOld
            ? () => choose({ row: shown, basis: work.basis, number: chosen?.number ?? 0 })
            : null
        }
      >
        {isOpen && (
          <OldAnswer isOld={way.isFetching}>
            {way.isError && (
              <p className="wrong" role="alert">
                {way.error.message}
              </p>
            )}
            {way.data?.map && way.data.row.way === row.way && <WireMapView map={way.data.map} />}
          </OldAnswer>
        )}
      </WayCard>
    );
  };
  return (
    <>
      {work.against !== null && (
        <p className="wrong" role="alert">
          {work.against}{" "}
          {work.mend_at === "box" && (
            <button type="button" className="outlined" onClick={() => onGo("box", "which")}>
              {words.toBox}
            </button>
          )}
          {work.mend_at === "parts" && (
            <button type="button" className="outlined" onClick={() => onGo("parts", "control")}>
              {words.toParts}
            </button>
          )}
        </p>
      )}
      {found.isFetching && (
        <ProgressLine label={words.comparing} progress={found.progress} onStop={found.stop} />
      )}
      {found.isError && (
        <p className="wrong" role="alert">
          {found.error.message}
        </p>
      )}
      {found.data?.ended && (
        <p className="wrong" role="status">
          {found.data.ended}
        </p>
      )}
      <OldAnswer isOld={found.isOld} isBusy={found.isFetching}>
        {first && card(first, true)}
        {!first && found.data?.is_complete && <p className="fresher">{found.data.because}</p>}
        {(first !== undefined || !found.isFetching) &&
          (work.assumed.length > 0 || work.open_roles.length > 0) && (
            <section className="ways-assumed" aria-label={words.assumedTitle}>
              <h3>{words.assumedTitle}</h3>
              <ul>
                {work.open_roles.length > 0 && (
                  <li>
                    {say(words.openRoles, { names: work.open_roles.join(", ") })}{" "}
                    <button type="button" className="outlined" onClick={() => onGo("box", "which")}>
                      {words.toBox}
                    </button>
                  </li>
                )}
                {work.assumed.map((text) => (
                  <li key={text}>{text}</li>
                ))}
              </ul>
            </section>
          )}
        <CeilingForm loop={loop.id} points={work.ceiling} asksCircuit={work.asks_circuit} mayEdit={mayEdit} />
        {others.length > 0 && (
          <section aria-label={words.others}>
            <h3>{words.others}</h3>
            {others.map((row) => card(row, false))}
          </section>
        )}
        {unable.length > 0 && (
          <section aria-label={words.cannot}>
            <h3>{words.cannot}</h3>
            <dl className="ways-cannot">
              {unable.map((row) => (
                <div key={row.way}>
                  <dt>{row.title}</dt>
                  <dd>{[row.against, ...row.notes].join(" ")}</dd>
                </div>
              ))}
            </dl>
          </section>
        )}
        <OrderForm loop={loop.id} elsewhere={found.data?.elsewhere ?? []} />
        <Choices choices={work.choices} />
      </OldAnswer>
      {choosing && (
        <ChooseDialog
          loop={loop.id}
          {...choosing}
          onClose={() => choose(null)}
          onDone={() => onGo("route", "map")}
        />
      )}
    </>
  );
}
