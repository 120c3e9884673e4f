/** The parts shelf: what there is on the left, one part with its sources or several side by side on the right. */
import { useState } from "react";
import { useSearchParams } from "react-router";
import { useTitle } from "../../app/useTitle";
import { say, texts, wordOf } from "../../texts";
import { CompareParts } from "./CompareParts";
import { ImportDialog } from "./ImportDialog";
import { NewPartDialog } from "./NewPartDialog";
import { PartCard } from "./PartCard";
import { type Part, useParts } from "./queries";
import { kindWords } from "./words";

const words = texts.shelf;
const CATEGORIES = Object.keys(words.categories);
const MOST_COMPARED = 3;

function matches(part: Part, search: string): boolean {
  const text = `${part.maker} ${part.name} ${part.note ?? ""} ${kindWords(part.kind)}`.toLowerCase();
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

export function ShelfPage({ mayEdit }: { mayEdit: boolean }) {
  useTitle(texts.shelf.title);
  const [params, setParams] = useSearchParams();
  const [search, setSearch] = useState("");
  const [marked, setMarked] = useState<string[]>([]);
  const [dialog, setDialog] = useState<"none" | "import" | "new">("none");
  const parts = useParts();
  const category = params.get("category") ?? "";
  const part = params.get("part");
  const isComparing = params.get("compare") === "1" && marked.length > 1;
  const put = (name: string, value: string | null) =>
    setParams(
      (now) => {
        if (value) now.set(name, value);
        else now.delete(name);
        if (name === "part") now.delete("compare");
        return now;
      },
      { replace: true },
    );
  const shown = (parts.data ?? [])
    .filter((entry) => (category === "" || entry.category === category) && matches(entry, search))
    .sort((a, b) => CATEGORIES.indexOf(a.category) - CATEGORIES.indexOf(b.category));
  const mark = (id: string) =>
    setMarked((now) =>
      now.includes(id) ? now.filter((old) => old !== id) : [...now, id].slice(-MOST_COMPARED),
    );
  return (
    <div className="shelf">
      <div className="round-tools">
        <h1>{words.title}</h1>
        <input
          type="search"
          className="round-search"
          aria-label={words.search}
          placeholder={words.search}
          value={search}
          onChange={(event) => setSearch(event.target.value)}
        />
        <span className="shelf-save">
          {words.saveAs} <a href="/api/v1/parts.csv">{words.toCsv}</a>{" "}
          <a href="/api/v1/parts.json">{words.toJson}</a>
        </span>
        {mayEdit && (
          <>
            <button type="button" className="outlined" onClick={() => setDialog("import")}>
              {words.import}
            </button>
            <button type="button" className="solid" onClick={() => setDialog("new")}>
              {words.newPart}
            </button>
          </>
        )}
      </div>
      <nav className="shelf-categories" aria-label={words.category}>
        {["", ...CATEGORIES].map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={name === category}
            onClick={() => put("category", name || null)}
          >
            {name === "" ? words.all : wordOf(words.categories, name)}
          </button>
        ))}
        <button
          type="button"
          className="outlined shelf-compare"
          disabled={marked.length < 2}
          onClick={() => put("compare", "1")}
        >
          {say(words.compareThese, { count: marked.length })}
        </button>
      </nav>
      <div className="shelf-body">
        <div className="shelf-list">
          {parts.isError && (
            <p className="wrong" role="alert">
              {parts.error.message}
            </p>
          )}
          <p className="quiet">{parts.data && say(words.count, { count: shown.length })}</p>
          <ul>
            {shown.map((entry) => (
              <li key={entry.id} aria-current={entry.id === part ? "true" : undefined}>
                <label className="shelf-mark">
                  <input
                    type="checkbox"
                    checked={marked.includes(entry.id)}
                    aria-label={`${words.compare}: ${entry.maker} ${entry.name}`}
                    onChange={() => mark(entry.id)}
                  />
                </label>
                <button type="button" onClick={() => put("part", entry.id)}>
                  <b>{entry.name}</b>
                  <small>
                    {entry.maker} · {kindWords(entry.kind)}
                    {entry.v_rms ? ` · ${entry.v_rms}\u00a0V` : ""}
                  </small>
                </button>
              </li>
            ))}
          </ul>
          {parts.isSuccess && shown.length === 0 && <p className="empty">{words.none}</p>}
        </div>
        <div className="shelf-one">
          {isComparing ? (
            <CompareParts ids={marked} onClose={() => put("compare", null)} />
          ) : part ? (
            <PartCard key={part} id={part} mayEdit={mayEdit} />
          ) : (
            <p className="empty">{words.pick}</p>
          )}
        </div>
      </div>
      {dialog === "import" && <ImportDialog onClose={() => setDialog("none")} />}
      {dialog === "new" && (
        <NewPartDialog
          onClose={() => setDialog("none")}
          onMade={(id) => {
            setDialog("none");
            put("part", id);
          }}
        />
      )}
    </div>
  );
}
