/** Light or dark: the device's wish until the user chooses. */
import { useCallback, useEffect, useState } from "react";

export type Mode = "light" | "dark";

const KEY = "ember-mode";

function firstMode(): Mode {
  const kept = localStorage.getItem(KEY);
  if (kept === "light" || kept === "dark") return kept;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export function useMode(): [Mode, () => void] {
  const [mode, setMode] = useState<Mode>(firstMode);
  useEffect(() => {
    document.documentElement.dataset.mode = mode;
  }, [mode]);
  const change = useCallback(() => {
    setMode((now) => {
      const next = now === "light" ? "dark" : "light";
      localStorage.setItem(KEY, next);
      return next;
    });
  }, []);
  return [mode, change];
}
