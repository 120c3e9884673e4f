/** Photographs of the loop: taken or chosen here, shown by moment. */
import { type ChangeEvent, useRef, useState } from "react";
import { useLeftText } from "../../app/useLeft";
import type { Schemas } from "../../api/client";
import { texts } from "../../texts";
import { ArchiveDialog } from "../archive/ArchiveDialog";
import { useWhen } from "../when";
import type { StepProps } from "./stepProps";

const words = texts.survey.box;
const MOMENTS = ["before", "during", "after"] as const;
type Moment = Schemas["MomentEnum"];

/** What a picture taken now shows, by the steps at this box that are done. */
function momentNow({ steps }: StepProps["survey"]): Moment {
  const isDone = (name: string) => steps.some(({ step, is_done }) => step === name && is_done);
  if (isDone("fit")) return "after";
  return isDone("disconnect") ? "during" : "before";
}

export function PhotoStrip({ survey, entries, waiting, mayEdit }: StepProps) {
  const when = useWhen();
  const file = useRef<HTMLInputElement>(null);
  const [said, setSaid] = useState<Moment | null>(null);
  const moment = said ?? momentNow(survey);
  const [caption, setCaption] = useLeftText(`caption:${survey.loop}:${survey.place}`);
  const [out, setOut] = useState<StepProps["survey"]["photos"][number] | null>(null);
  const onTheirWay = waiting.filter((entry) => entry.file !== null);
  const add = (event: ChangeEvent<HTMLInputElement>) => {
    const chosen = event.target.files?.[0];
    if (chosen) {
      entries.photo(chosen, moment, caption);
      setCaption("");
    }
    event.target.value = "";
  };
  return (
    <section aria-label={words.photos}>
      <h3>{words.photos}</h3>
      <p className="quiet">{words.photosLead}</p>
      {mayEdit && (
        <div className="photo-add">
          <label className="field">
            {words.caption}
            <input value={caption} maxLength={200} onChange={(event) => setCaption(event.target.value)} />
          </label>
          <div className="ticks" role="radiogroup" aria-label={words.photos}>
            {MOMENTS.map((value) => (
              <label className="tick" key={value}>
                <input type="radio" checked={moment === value} onChange={() => setSaid(value)} />
                {words.moments[value]}
              </label>
            ))}
          </div>
          <button type="button" className="outlined" onClick={() => file.current?.click()}>
            {words.takePhoto}
          </button>
          <input
            ref={file}
            type="file"
            accept="image/*"
            capture="environment"
            hidden
            aria-label={words.takePhoto}
            onChange={add}
          />
        </div>
      )}
      {onTheirWay.map((entry) => (
        <p key={entry.id} className={entry.refusal ? "wrong" : ""} role={entry.refusal ? "alert" : "status"}>
          {entry.label}: {entry.refusal?.text ?? texts.isolation.waiting}
        </p>
      ))}
      <ul className="photos">
        {survey.photos.map((photo) => (
          <li key={photo.id}>
            <a href={photo.url} target="_blank" rel="noreferrer">
              <img src={photo.url} alt={photo.caption || words.moments[photo.moment]} loading="lazy" />
            </a>
            <span>
              <b>{words.moments[photo.moment]}</b> {photo.caption}
              <small>
                {photo.by}, {when(photo.at)}
              </small>
            </span>
            {mayEdit && (
              <button
                type="button"
                className="plain"
                aria-label={`${texts.people.archive.photo}: ${photo.caption || words.moments[photo.moment]}`}
                onClick={() => setOut(photo)}
              >
                {texts.people.archive.photo}
              </button>
            )}
          </li>
        ))}
      </ul>
      {out && (
        <ArchiveDialog
          kind="photos"
          id={out.id}
          name={out.caption || words.moments[out.moment]}
          onDone={() => setOut(null)}
          onClose={() => setOut(null)}
        />
      )}
    </section>
  );
}
