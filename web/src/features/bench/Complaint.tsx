/** What was complained of, beside what is computed of the loop as it was found; and the state before the cure. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answered, api } from "../../api/client";
import { say, texts } from "../../texts";
import { useWhen } from "../when";
import type { Draft, Gang } from "./draft";
import { useRested } from "./useRested";

const words = texts.complaint;
const REST_MS = 500;

export function Complaint({ gang, draft }: { gang: Gang; draft: Draft }) {
  const when = useWhen();
  const body = useRested(draft, REST_MS);
  const query = useQuery({
    queryKey: ["complaint", gang.id, gang.version, body],
    queryFn: ({ signal }) =>
      answered(
        api.POST("/api/v1/gangs/{id}/complaint/", { params: { path: { id: gang.id } }, body, signal }),
      ),
    placeholderData: keepPreviousData,
  });
  const found = query.data;
  if (!found || (found.text === "" && found.before === null)) return null;
  const isOld = query.isPlaceholderData || body !== draft;
  const { before } = found;
  return (
    <section className={`complaint${isOld ? " is-old" : ""}`} aria-label={words.title} aria-busy={isOld}>
      {found.text !== "" && (
        <p>
          <b>
            {words.title}: {found.complaint_text}.
          </b>{" "}
          {isOld ? words.comparing : found.text}
        </p>
      )}
      {before && (
        <p className="quiet">
          {say(words.before, { at: when(before.at), title: before.title, figures: before.figures })}
        </p>
      )}
    </section>
  );
}
