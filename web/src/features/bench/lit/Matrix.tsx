/** The whole compatibility matrix, as a table that opens. */
import { useState } from "react";
import { texts } from "../../../texts/en";
import { useMatrix } from "./queries";

const words = texts.lit;

export function Matrix() {
  const [isOpen, setOpen] = useState(false);
  const matrix = useMatrix(isOpen);
  const head = matrix.data?.[0]?.cells ?? [];
  return (
    <details className="limits" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>{words.matrix}</summary>
      {matrix.data && (
        <table className="rows matrix">
          <thead>
            <tr>
              <th scope="col">{words.load}</th>
              <th scope="col">{words.declared}</th>
              {head.map((cell) => (
                <th key={cell.mode} scope="col">
                  {cell.mode_text}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {matrix.data.map((row) => (
              <tr key={`${row.load}-${row.declared}`}>
                <th scope="row">{row.load}</th>
                <td>{row.declared}</td>
                {row.cells.map((cell) => (
                  <td key={cell.mode} className={`goes-${cell.verdict}`} title={cell.text}>
                    <b>
                      {words.marks[cell.verdict]} {cell.verdict_text}
                    </b>
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}
