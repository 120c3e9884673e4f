/** What waits for whom, and how many loops stand where. */
import { Link } from "react-router";
import { useTitle } from "../../app/useTitle";
import { say, texts } from "../../texts";
import { addressOf } from "../bench/steps";
import { when } from "../when";
import { NO_ZONE } from "../zones";
import { RulesForm } from "./RulesForm";
import { useBoard } from "./queries";

const words = texts.handover;

export function HandoverBoardPage({ mayKeepRules }: { mayKeepRules: boolean }) {
  useTitle(words.board);
  const board = useBoard();
  const waiting = board.data?.waiting ?? [];
  return (
    <div className="page handover-board">
      <div className="round-tools">
        <h1>{words.board}</h1>
        <Link className="outlined" to="/statistics">
          {words.statistics.open}
        </Link>
      </div>
      {board.isError && (
        <p className="wrong" role="alert">
          {board.error.message}
        </p>
      )}
      <ol className="stage-counts" aria-label={words.stages}>
        {board.data?.stages.map((one) => (
          <li key={one.stage}>
            <Link to={`/?stage=${one.stage}`} aria-label={`${one.text}: ${one.count}`}>
              <b className="figure">{one.count}</b> {one.text}
            </Link>
          </li>
        ))}
      </ol>
      <h2>{words.waiting}</h2>
      {board.isSuccess && waiting.length === 0 && <p className="empty">{words.nothingWaits}</p>}
      {board.data && board.data.waiting_count > waiting.length && (
        <p className="quiet">
          {say(words.firstWaiting, { shown: waiting.length, count: board.data.waiting_count })}
        </p>
      )}
      <ul className="waits" aria-label={words.waiting}>
        {waiting.map((one) => (
          <li key={`${one.loop}${one.issue ?? ""}`} className={one.is_mine ? "is-mine" : ""}>
            <span>
              <Link
                to={`${addressOf(one.loop, 1, { step: "handover", tab: "sign" })}${one.issue ? `&issue=${one.issue}` : ""}`}
              >
                {one.loop_name}
              </Link>
              <small>
                {one.site_name}
                {one.number !== null &&
                  ` · ${say(words.issue, { number: one.number })}, ${say(words.made, { who: one.by, when: when(one.since, one.zone || NO_ZONE) })}`}
              </small>
            </span>
            <span>
              {one.is_mine && <b>{words.yourTurn}: </b>}
              {one.text}
              {one.note && (
                <small>
                  <q>{one.note}</q>
                </small>
              )}
            </span>
          </li>
        ))}
      </ul>
      {mayKeepRules && <RulesForm />}
    </div>
  );
}
