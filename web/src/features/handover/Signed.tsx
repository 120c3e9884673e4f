/** Signatures as they were made. */
import { texts } from "../../texts";
import { useWhen } from "../when";
import type { Issue } from "./queries";
import { HEIGHT, WIDTH } from "./SignPad";

const words = texts.handover;

export function Signed({ signatures }: { signatures: Issue["signatures"] }) {
  const when = useWhen();
  return (
    <ul className="signatures" aria-label={words.signatures}>
      {signatures.map((one) => (
        <li key={one.role}>
          {one.paths.length > 0 && (
            <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
              {one.paths.map((path) => (
                <path key={path} d={path} className="sign-stroke" />
              ))}
            </svg>
          )}
          <span>
            <b>{one.way === "absent" ? `${one.role_text}: ${one.way_text}` : one.name}</b>
            <small>
              {one.way === "absent" ? <q>{one.reason}</q> : `${one.role_text}, ${one.way_text}`} ·{" "}
              {when(one.at)}
            </small>
          </span>
        </li>
      ))}
    </ul>
  );
}
