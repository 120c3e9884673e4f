/** How far long work is, with a way to stop it, and what it could not do. */
import { say, texts } from "../../texts";
import { ProgressLine } from "../ProgressLine";
import type { Work } from "./useJob";

const words = texts.jobs;

export function JobLine({ work, label }: { work: Work; label: string }) {
  const { open, ended } = work;
  return (
    <>
      {open && (
        <>
          <ProgressLine
            label={label}
            progress={open.of > 0 ? { done: open.done, of: open.of } : null}
            onStop={work.stop}
          />
          {open.is_stop_asked ? (
            <p role="status">{words.stopping}</p>
          ) : (
            open.state === "waiting" && <p role="status">{words.waits}</p>
          )}
        </>
      )}
      {ended?.state === "stopped" && (
        <p role="status">{say(words.stopped, { done: ended.done, of: ended.of })}</p>
      )}
      {ended?.state === "broken" && (
        <p className="wrong" role="alert">
          {say(words.broken, { done: ended.done, of: ended.of })}
        </p>
      )}
      {(open ?? ended)?.refused.map((one) => (
        <p key={one.gang} className="wrong" role="alert">
          {say(words.refused, { name: one.loop_name, position: one.position, why: one.text })}
        </p>
      ))}
      {work.error && (
        <p className="wrong" role="alert">
          {work.error.message}
        </p>
      )}
    </>
  );
}
