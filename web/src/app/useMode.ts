/** Light or dark: the device's wish, at dusk too, until the user chooses. */
import { useCallback, useEffect, useState } from "react";

export type Mode = "light" | "dark";

const KEY = "ember-mode";

const device = matchMedia("(prefers-color-scheme: dark)");

function modeNow(): Mode {
  const chosen = localStorage.getItem(KEY);
  if (chosen === "light" || chosen === "dark") return chosen;
  return device.matches ? "dark" : "light";
}

export function useMode(): [Mode, () => void] {
  const [mode, setMode] = useState<Mode>(modeNow);
  useEffect(() => {
    const follow = () => {
      setMode(modeNow());
    };
    device.addEventListener("change", follow);
    return () => {
      device.removeEventListener("change", follow);
    };
  }, []);
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
