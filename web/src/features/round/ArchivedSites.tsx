/** Sites that were taken out of sight, each with the way back. */
import { texts } from "../../texts";
import { useArchivedSites } from "./queries";

export function ArchivedSites({ onBack }: { onBack: (site: { id: string; name: string }) => void }) {
  const rows = useArchivedSites().data?.results ?? [];
  if (rows.length === 0) return null;
  return (
    <section aria-label={texts.people.archive.sites}>
      <h2>{texts.people.archive.sites}</h2>
      <ul className="sessions">
        {rows.map((site) => (
          <li key={site.id}>
            <b>{site.name}</b>
            <button
              type="button"
              className="outlined"
              aria-label={`${texts.people.archive.back}: ${site.name}`}
              onClick={() => onBack({ id: site.id, name: site.name })}
            >
              {texts.people.archive.back}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
