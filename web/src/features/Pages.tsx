/** Forward and back through the pages of a list. */
import { say, texts } from "../texts";

interface Props {
  page: number;
  pages: number;
  onPage: (page: number) => void;
}

export function Pages({ page, pages, onPage }: Props) {
  return (
    <nav className="round-pages" aria-label={texts.list.pages}>
      <button type="button" className="outlined" disabled={page <= 1} onClick={() => onPage(page - 1)}>
        {texts.list.earlier}
      </button>
      <span aria-live="polite">{say(texts.list.page, { page, pages })}</span>
      <button type="button" className="outlined" disabled={page >= pages} onClick={() => onPage(page + 1)}>
        {texts.list.later}
      </button>
    </nav>
  );
}
