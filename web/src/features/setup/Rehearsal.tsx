/** The plan of joining, done on the simulated hub by a press. */
import { say, texts } from "../../texts";
import { useRehearse } from "./queries";

const words = texts.setup.join;

interface Props {
  site: string;
  hub: string;
  /** Devices that are left out this time. */
  without: readonly string[];
  /** Of the plan. */
  minutes: number;
}

export function Rehearsal({ site, hub, without, minutes }: Props) {
  const rehearsal = useRehearse(site, hub, without);
  return (
    <section className="rehearsal" aria-label={words.rehearse}>
      <button
        type="button"
        className="outlined"
        disabled={rehearsal.isPending}
        onClick={() => rehearsal.mutate()}
      >
        {rehearsal.isPending ? words.rehearsing : words.rehearse}
      </button>{" "}
      {rehearsal.isError && (
        <span className="wrong" role="alert">
          {rehearsal.error.message}
        </span>
      )}
      {rehearsal.data && (
        <p role="status">
          {rehearsal.data.is_complete
            ? `✓ ${say(words.rehearsed, { minutes })}`
            : `! ${say(words.rehearsedNot, { what: rehearsal.data.missing.join(", ") })}`}{" "}
          <small>({words.simulated})</small>
        </p>
      )}
    </section>
  );
}
