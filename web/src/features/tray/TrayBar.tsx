/** On every page: whether everything entered here has reached the server. */
import { useState } from "react";
import { useTray } from "../../device/useTray";
import { say, texts } from "../../texts";
import { TrayPanel } from "./TrayPanel";

const words = texts.device;
const MARKS = { sent: "✓", waiting: "…", refused: "!" } as const;

export function TrayBar() {
  const tray = useTray();
  const [isOpen, setOpen] = useState(false);
  const refused = tray.mine.filter((entry) => entry.state === "refused").length;
  const waiting = tray.mine.length - refused;
  const state = refused > 0 ? "refused" : waiting > 0 ? "waiting" : "sent";
  const parts = [
    ...(refused > 0 ? [say(words.refused, { count: refused })] : []),
    ...(waiting > 0
      ? [`${say(words.waiting, { count: waiting })}${tray.isOffline ? `: ${words.away}` : ""}`]
      : []),
  ];
  const said = parts.length > 0 ? parts.join(", ") : words.sent;
  return (
    <>
      <button type="button" className={`tray-bar is-${state}`} onClick={() => setOpen(true)}>
        <span aria-hidden="true">{MARKS[state]}</span> {said}
      </button>
      <span className="unseen" role="status">
        {state === "sent" ? "" : said}
      </span>
      {isOpen && <TrayPanel onClose={() => setOpen(false)} />}
    </>
  );
}
