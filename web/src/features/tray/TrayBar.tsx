/** On every page: whether everything entered here has reached the server. */
import { lazy, Suspense, useState } from "react";
import { useTray } from "../../device/useTray";
import { texts } from "../../texts/en";

const TrayPanel = lazy(() => import("./TrayPanel").then((m) => ({ default: m.TrayPanel })));
const words = texts.device;

export function TrayBar() {
  const tray = useTray();
  const [isOpen, setOpen] = useState(false);
  const refused = tray.mine.filter((entry) => entry.state === "refused").length;
  const waiting = tray.mine.length - refused;
  const state = refused > 0 ? "refused" : waiting > 0 ? "waiting" : "sent";
  const said = [
    ...(refused > 0 ? [words.refused(refused)] : []),
    ...(waiting > 0 ? [`${words.waiting(waiting)}${tray.isOffline ? `: ${words.away}` : ""}`] : []),
  ];
  return (
    <>
      <button type="button" className={`tray-bar is-${state}`} onClick={() => setOpen(true)}>
        <span aria-hidden="true">{state === "sent" ? "✓" : state === "waiting" ? "…" : "!"}</span>{" "}
        <span role="status">{said.length > 0 ? said.join(", ") : words.sent}</span>
      </button>
      {isOpen && (
        <Suspense fallback={null}>
          <TrayPanel onClose={() => setOpen(false)} />
        </Suspense>
      )}
    </>
  );
}
