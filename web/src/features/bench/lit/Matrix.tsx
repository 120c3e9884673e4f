/** The whole compatibility matrix, as a table that opens. */
import { useState } from "react";
import { texts } from "../../../texts";
import { type MatrixRow as Row, useMatrix } from "./queries";

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
              <MatrixRow key={`${row.load}-${row.declared}`} row={row} />
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}

/** A load with what its maker says; it opens to tell the reason of each answer. */
function MatrixRow({ row }: { row: Row }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <>
      <tr>
        <th scope="row">
          <button type="button" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
            {isOpen ? "−" : "+"} {row.load}
          </button>
        </th>
        <td>{row.declared}</td>
        {row.cells.map((cell) => (
          <td key={cell.mode} className={`goes-${cell.verdict}`}>
            <b>{`${words.marks[cell.verdict]}\u00a0${cell.verdict_text}`}</b>
          </td>
        ))}
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={2 + row.cells.length}>
            <ul className="plain-list">
              {row.cells.map((cell) => (
                <li key={cell.mode}>
                  <b>{cell.mode_text}:</b> {cell.text}
                </li>
              ))}
            </ul>
          </td>
        </tr>
      )}
    </>
  );
}
