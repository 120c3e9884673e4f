/** What is half filled into a form stays with its person on this device until it is sent or given up. */
import { useCallback, useEffect, useRef, useState } from "react";
import { keep, kept } from "./person";

export interface Left<T> {
  form: T;
  /** Whether the device had some of it when the form opened. */
  isLeft: boolean;
  change: (part: Partial<T>) => void;
  /** Once it was sent, or nobody wants it: the next one begins empty. */
  forget: () => void;
}

/** A form by its name; what the device has of it goes before `first`. */
export function useLeft<T extends object>(name: string, first: T): Left<T> {
  const key = `form:${name}`;
  const [before] = useState(() => kept<Partial<T>>(key));
  const [form, setForm] = useState<T>({ ...first, ...before });
  const isOver = useRef(false);
  const isTouched = useRef(false);
  useEffect(() => {
    if (isTouched.current && !isOver.current) keep(key, form);
  }, [key, form]);
  return {
    form,
    isLeft: before !== null,
    change: useCallback((part) => {
      isTouched.current = true;
      isOver.current = false;
      setForm((now) => ({ ...now, ...part }));
    }, []),
    forget: useCallback(() => {
      isOver.current = true;
      keep(key, null);
    }, [key]),
  };
}

/** One line of text of that name; another name has a line of its own. */
export function useLeftText(name: string): [text: string, change: (text: string) => void] {
  const key = `form:${name}`;
  const [typed, set] = useState(() => ({ key, text: kept<string>(key) ?? "" }));
  const change = useCallback(
    (text: string) => {
      set({ key, text });
      keep(key, text === "" ? null : text);
    },
    [key],
  );
  return [typed.key === key ? typed.text : (kept<string>(key) ?? ""), change];
}
