/** Which bypass: the working window drawn on a log axis, and the shelf ranked for this loop. */
import { useQuery } from "@tanstack/react-query";
import { answered, api, type Schemas } from "../../../api/client";
import { engineering } from "../../../format";
import { texts } from "../../../texts/en";
import type { Draft, Fit, Gang } from "../draft";
import { newFit } from "../editors/kinds";
import { useShelf } from "../queries";
import { useRested } from "../useRested";
import { WindowStrip } from "./WindowStrip";

const words = texts.choose;
const REST_MS = 500;
type Choice = Schemas["BypassChoice"];

function useChoosing(gang: string, draft: Draft) {
  const rested = useRested(draft, REST_MS);
  return useQuery({
    queryKey: ["choose", gang, { ...rested, bypasses: [] }],
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/choose/", {
          params: { path: { id: gang } },
          body: { ...rested, bypasses: [] },
          signal,
        }),
      ),
    enabled: rested.control !== null && rested.lamps.length > 0,
    staleTime: Infinity,
    gcTime: 60_000,
  });
}

interface Props {
  gang: Gang;
  draft: Draft;
  change: (draft: Draft) => void;
}

export function ChooseBypass({ gang, draft, change }: Props) {
  const choosing = useChoosing(gang.id, draft);
  const shelf = useShelf();
  if (draft.control === null || draft.lamps.length === 0) return null;
  const take = (choice: Choice) => {
    const part = shelf.data?.find((entry) => entry.id === choice.part);
    const bypasses: Fit[] = part
      ? [{ ...newFit(part.figures), part: part.id, label: `${part.maker} ${part.name}` }]
      : [];
    change({ ...draft, bypasses });
  };
  return (
    <section className="choose" aria-label={words.title} aria-busy={choosing.isFetching}>
      <h2>{words.title}</h2>
      {choosing.isPending && <p className="quiet">{words.computing}</p>}
      {choosing.isError && (
        <p className="wrong" role="alert">
          {choosing.error.message}
        </p>
      )}
      {choosing.data && (
        <>
          {choosing.data.none_needed && (
            <p className="is-dark">
              <b>✓ {words.noneNeeded}</b>
            </p>
          )}
          <WindowStrip window={choosing.data.capacitor} bypasses={draft.bypasses} />
          <p className="quiet">
            {words.resistor}: {choosing.data.resistor.text}{" "}
            {choosing.data.resistor.works && (
              <span className="figure">
                {engineering(choosing.data.resistor.low ?? 0, "Ω")} {words.to}{" "}
                {engineering(choosing.data.resistor.high ?? 0, "Ω")}
              </span>
            )}
          </p>
          <h3>{words.shelf}</h3>
          <ol className="ranked">
            {choosing.data.parts.map((choice) => (
              <li key={choice.rank} className={`ranked-${choice.verdict}`}>
                <span>
                  <b>{choice.name}</b>
                  <small>{choice.reasons.map((reason) => reason.text).join(" ")}</small>
                </span>
                <span>
                  <b>{words.verdicts[choice.verdict]}</b>
                  <small>{words.samples(choice.share_ratio)}</small>
                </span>
                <span className="figure">
                  {choice.reactive_a > 0 && <span>{engineering(choice.reactive_a, "A")}</span>}
                  <span>{choice.heat_w === null ? "?" : engineering(choice.heat_w, "W")}</span>
                  <small>{words.whenOn}</small>
                </span>
                <button
                  type="button"
                  className="outlined"
                  aria-label={words.fitted(choice.name)}
                  onClick={() => take(choice)}
                >
                  {words.fit}
                </button>
              </li>
            ))}
          </ol>
        </>
      )}
    </section>
  );
}
