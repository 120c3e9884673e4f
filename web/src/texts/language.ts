/** Which language this page speaks: a cookie that the server reads too, else what the browser asks for. */
export const LANGUAGES = ["en", "de"] as const;
export type Language = (typeof LANGUAGES)[number];

// The server's settings name the same cookie; it holds no secret, so that the page may read it.
const COOKIE = "ember_language";

function known(tag: string | undefined): Language | undefined {
  const base = tag?.toLowerCase().split("-")[0];
  return LANGUAGES.find((language) => language === base);
}

/** Keeps the language on this device, for this page and for the server. */
export function keepLanguage(language: Language): void {
  document.cookie = `${COOKIE}=${language}; path=/; max-age=${365 * 24 * 3600}; SameSite=Lax`;
}

/** The language chosen here, or the first of the browser's that there is, or English. */
export function languageHere(): Language {
  const chosen = document.cookie
    .split("; ")
    .find((pair) => pair.startsWith(`${COOKIE}=`))
    ?.slice(COOKIE.length + 1);
  return known(chosen) ?? navigator.languages.map(known).find(Boolean) ?? "en";
}
