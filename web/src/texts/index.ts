/** Every word of the interface that does not come with the server's answers: ICU messages by name. */
import { IntlMessageFormat } from "intl-messageformat";
import type { tree as english } from "./en";
import { type Language, languageHere } from "./language";

export type Texts = typeof english;

const LOADERS: Record<Language, () => Promise<{ tree: Texts }>> = {
  en: () => import("./en"),
  de: () => import("./de"),
};

export let language: Language = "en";
/** The messages of this page's language; there from before the first module of the application is read. */
export let texts: Texts;

/** Brings the language in. A change of language loads the page anew, so that no word stays behind. */
export async function loadTexts(): Promise<void> {
  language = languageHere();
  texts = (await LOADERS[language]()).tree;
  document.documentElement.lang = language;
}

const formats = new Map<string, IntlMessageFormat>();

/** A message with its placeholders filled. */
export function say(message: string, values: Record<string, string | number>): string {
  let format = formats.get(message);
  if (!format) {
    format = new IntlMessageFormat(message, language);
    formats.set(message, format);
  }
  return String(format.format(values));
}

/** The word of a table for a code that comes from outside; nothing where the table does not know it. */
export function wordOf(table: Readonly<Record<string, string>>, code: string): string | undefined {
  return table[code];
}
