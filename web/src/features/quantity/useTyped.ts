/** Text while the field has the focus; read when it is left, on Enter, or when the page goes. */
import { type KeyboardEvent, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";

interface Asked {
  /** What stands in the field while nobody types. */
  shown: string;
  /** Takes what was typed; true where the field may show its value again, false where the text must stay. */
  onRead: (text: string) => boolean;
}

export function useTyped({ shown, onRead }: Asked) {
  const [text, setText] = useState<string | null>(null);
  const latest = useRef({ text, onRead });
  latest.current = { text, onRead };
  const read = () => {
    const { text: now, onRead: take } = latest.current;
    if (now !== null && take(now)) setText(null);
  };
  const input = useRef<HTMLInputElement>(null);
  useEffect(() => {
    // Another value from outside, by undo for one, takes the place of text that could not be read; never of
    // what is being typed.
    if (document.activeElement !== input.current) setText(null);
  }, [shown]);
  useEffect(() => {
    const onGone = () => {
      if (document.visibilityState === "hidden") flushSync(read);
    };
    const onLeave = () => flushSync(read);
    document.addEventListener("visibilitychange", onGone);
    addEventListener("pagehide", onLeave);
    return () => {
      document.removeEventListener("visibilitychange", onGone);
      removeEventListener("pagehide", onLeave);
    };
  }, []);
  return {
    text,
    setText,
    read,
    field: {
      ref: input,
      value: text ?? shown,
      onBlur: read,
      onKeyDown: (event: KeyboardEvent) => {
        if (event.key === "Enter") read();
        if (event.key === "Escape" && latest.current.text !== null) {
          // The dialog around it stays open: this press takes back what was typed.
          event.stopPropagation();
          setText(null);
        }
      },
    },
  };
}
