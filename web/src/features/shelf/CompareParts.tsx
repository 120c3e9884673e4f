/** Two or three parts side by side: every figure that one of them has, and where they differ. */
import { useQueries } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { figureText } from "../../format";
import { texts } from "../../texts";
import type { PartDetail } from "./queries";
import { kindWords } from "./words";

const words = texts.shelf;

export function CompareParts({ ids, onClose }: { ids: string[]; onClose: () => void }) {
  const answers = useQueries({
    queries: ids.map((id) => ({
      queryKey: ["part", id],
      queryFn: () => answered(api.GET("/api/v1/parts/{id}/", { params: { path: { id } } })),
    })),
  });
  const parts = answers.flatMap((answer) => (answer.data ? [answer.data] : []));
  const fields = new Map(parts.flatMap((part) => part.known.map((field) => [field.name, field])));
  const shown = [...fields.values()].filter((field) => parts.some((part) => used(part, field.name)));
  return (
    <section className="part-card" aria-label={words.compareTitle}>
      <div className="shelf-head">
        <h2>{words.compareTitle}</h2>
        <button type="button" className="outlined" onClick={onClose}>
          {words.compareClose}
        </button>
      </div>
      <table className="rows figures">
        <thead>
          <tr>
            <th scope="col">{words.figure}</th>
            {parts.map((part) => (
              <th scope="col" key={part.id}>
                {part.name}
                <small>
                  {part.maker} · {kindWords(part.kind)}
                </small>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {shown.map((field) => {
            const values = parts.map((part) => used(part, field.name));
            const differ = new Set(values.map((value) => value?.typical)).size > 1;
            return (
              <tr key={field.name} className={differ ? "is-different" : ""}>
                <th scope="row">
                  {field.label}
                  {differ && <small>{words.differs}</small>}
                </th>
                {values.map((value, k) => (
                  <td key={k} className="figure">
                    {value ? figureText(value.typical, field) : "–"}
                    {value && <small>{texts.parts.sources[value.source]}</small>}
                  </td>
                ))}
              </tr>
            );
          })}
        </tbody>
      </table>
    </section>
  );
}

function used(part: PartDetail, field: string) {
  return part.claims.find((claim) => claim.field === field && claim.in_use);
}
