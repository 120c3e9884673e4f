/** The bar above every page, and the help. */
import { type ReactNode, useEffect, useState } from "react";
import { Link, NavLink, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { useIsolations } from "../features/isolation/queries";
import { Notices, useNoticesComing } from "../features/notices/Notices";
import { TrayBar } from "../features/tray/TrayBar";
import { LanguageOfPerson } from "../features/session/Languages";
import { useSignOut } from "../features/session/queries";
import { texts } from "../texts";
import { HelpDialog } from "./HelpDialog";
import { isShortcut } from "./keys";
import { late } from "./late";
import type { Mode } from "./useMode";

const OwnAccount = late(() => import("../features/people/OwnAccount").then((m) => m.OwnAccount));

interface Props {
  user: Schemas["User"];
  mode: Mode;
  onMode: () => void;
  children: ReactNode;
}

export function Shell({ user, mode, onMode, children }: Props) {
  const [helpOpen, setHelpOpen] = useState(false);
  const [accountOpen, setAccountOpen] = useState(false);
  const signOut = useSignOut();
  const navigate = useNavigate();
  const isolations = useIsolations().data ?? [];
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "?" && isShortcut(event)) setHelpOpen(true);
    };
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);
  const isMoving = useNoticesComing();
  const other = mode === "light" ? "dark" : "light";
  return (
    <div className="shell">
      <a className="skip" href="#content">
        {texts.skip}
      </a>
      <header className="bar">
        <Link to="/" className="brand" aria-label={texts.product}>
          <svg viewBox="0 0 46 20" aria-hidden="true">
            <path d="M1 5c11 0 11 10 22 10S34 5 45 5" />
            <circle cx="23" cy="15" r="3.4" />
          </svg>
          <span className="brand-word">{texts.product}</span>
        </Link>
        <nav className="bar-pages" aria-label={texts.pages}>
          <NavLink to="/" end>
            {texts.round}
          </NavLink>
          <NavLink to="/isolations">
            {texts.isolation.board}
            {/* Its room is there before the count: the pages beside it stay where they are. */}
            <b className={isolations.length > 0 ? "count" : "count is-none"}>{isolations.length}</b>
          </NavLink>
          <NavLink to="/visits">{texts.visits.title}</NavLink>
          <NavLink to="/handing-over">{texts.handover.board}</NavLink>
          <NavLink to="/shelf">{texts.shelf.title}</NavLink>
          {user.may_keep_accounts && <NavLink to="/people">{texts.people.title}</NavLink>}
          {user.may_read_trail && <NavLink to="/trail">{texts.people.trail.title}</NavLink>}
        </nav>
        <nav className="bar-tools" aria-label={texts.product}>
          <TrayBar />
          <button type="button" className="plain" onClick={onMode}>
            {texts.theme[other]}
          </button>
          <LanguageOfPerson />
          <button type="button" className="plain" onClick={() => setHelpOpen(true)}>
            {texts.help}
          </button>
          <button
            type="button"
            className="plain who"
            title={texts.people.own.title}
            onClick={() => setAccountOpen(true)}
          >
            {user.display_name || user.username}
          </button>
          <button
            type="button"
            className="plain"
            onClick={() => signOut.mutate(undefined, { onSuccess: () => void navigate("/") })}
          >
            {texts.signOut}
          </button>
        </nav>
      </header>
      <main id="content" tabIndex={-1} className={isMoving ? "is-moving" : undefined}>
        <Notices />
        {children}
      </main>
      {accountOpen && <OwnAccount onClose={() => setAccountOpen(false)} />}
      {helpOpen && <HelpDialog onClose={() => setHelpOpen(false)} />}
    </div>
  );
}
