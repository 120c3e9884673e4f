/** Wherever a loop is named: that something which feeds it is off at this moment. */
import { Link } from "react-router";
import { NO_ZONE } from "../zones";
import { useIsolations } from "./queries";
import { LockMark } from "./LockMark";
import { useIsolationWords } from "./words";

export function OffLine({ loop }: { loop: string }) {
  const { lineOf } = useIsolationWords();
  const isolations = useIsolations();
  const rows = (isolations.data ?? []).filter((row) => row.loops.some((entry) => entry.id === loop));
  return (
    <>
      {rows.map((row) => (
        <Link key={row.id} className="off-line" to="/isolations">
          <LockMark /> {lineOf(row, row.zone || NO_ZONE)}
        </Link>
      ))}
    </>
  );
}
