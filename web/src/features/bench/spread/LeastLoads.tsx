/** The fewest lamps that do, with no bypass and with typical ones. */
import { engineering } from "../../../format";
import { say, texts } from "../../../texts";
import { OldAnswer } from "../../OldAnswer";
import type { Draft, Gang } from "../draft";
import { useLeastLoad } from "./queries";

const words = texts.spread;

export function LeastLoads({ gang, draft }: { gang: Gang; draft: Draft }) {
  const least = useLeastLoad(gang.id);
  return (
    <section aria-label={words.least}>
      <h3>{words.least}</h3>
      <p className="quiet">{words.leastLead}</p>
      <button
        type="button"
        className="outlined"
        disabled={least.isPending}
        onClick={() => least.mutate(draft)}
      >
        {least.isPending ? words.computing : words.leastShow}
      </button>
      {least.isError && (
        <p className="wrong" role="alert">
          {least.error.message}
        </p>
      )}
      {least.data && (
        <OldAnswer isOld={JSON.stringify(least.variables) !== JSON.stringify(draft)}>
          <table className="rows figures">
            <tbody>
              {least.data.map((row) => (
                <tr key={`${row.group}-${row.bypass}`}>
                  <th scope="row">
                    {say(words.lamps, { group: row.group })}, {row.bypass}
                  </th>
                  <td>
                    {row.text}
                    {row.watts !== null && ` (${engineering(row.watts, "W")})`}
                    {row.is_enough && <b className="is-dark"> ✓ {words.enough}</b>}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </OldAnswer>
      )}
    </section>
  );
}
