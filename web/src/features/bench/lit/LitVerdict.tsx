/** Whether the control drives its lamps; of one that can do both edges, each edge with what speaks against it. */
import { texts } from "../../../texts";
import type { Lit } from "./queries";

const words = texts.lit;

export function LitVerdict({ found }: { found: Lit }) {
  return (
    <>
      <p className={`sure-lead goes-${found.verdict}`} role="status">
        <b>
          {words.marks[found.verdict]} {words.verdict}: {found.verdict_text}.
        </b>{" "}
        {words.mode}: {found.mode_text}. {found.mixed}
      </p>
      {found.edges.length > 0 && (
        <ul className="lit-members" aria-label={words.bothEdges}>
          {found.edges.map((edge) => (
            <li key={edge.edge} className={`goes-${edge.verdict}`}>
              <b>
                {words.marks[edge.verdict]} {edge.verdict_text}
              </b>
              <span>
                <b>{edge.edge_text}.</b> {edge.text}
              </span>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
