/** The title of the page names what is on it, so that two tabs can be told apart. */
import { useEffect } from "react";
import { texts } from "../texts";

export function useTitle(...parts: string[]): void {
  const title = [...parts, texts.product].join(" · ");
  useEffect(() => {
    document.title = title;
  }, [title]);
}
