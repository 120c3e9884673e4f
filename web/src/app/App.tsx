/** Providers, addresses, and the door: nothing is shown without a session. */
import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useEffect } from "react";
import { BrowserRouter, Navigate, Route, Routes, useLocation } from "react-router";
import { Refusal } from "../api/client";
import { fetchDialogs } from "../features/dialog/Dialog";
import { useSender } from "../device/useTray";
import { DoorOver } from "../features/session/DoorOver";
import { SignIn } from "../features/session/SignIn";
import { useSession } from "../features/session/queries";
import { texts } from "../texts";
import { tellAtOnce } from "./atOnce";
import { Broken } from "./Broken";
import { late } from "./late";
import { Shell } from "./Shell";
import { useMode } from "./useMode";

const waiting = () => <p className="waiting">{texts.bench.loading}</p>;

const RoundPage = late(() => import("../features/round/RoundPage").then((m) => m.RoundPage), waiting);
const BenchPage = late(() => import("../features/bench/BenchPage").then((m) => m.BenchPage), waiting);

const SchedulePage = late(
  () => import("../features/schedule/SchedulePage").then((m) => m.SchedulePage),
  waiting,
);

const BoardPage = late(() => import("../features/isolation/BoardPage").then((m) => m.BoardPage), waiting);

const PeoplePage = late(() => import("../features/people/PeoplePage").then((m) => m.PeoplePage), waiting);
const TrailPage = late(() => import("../features/people/TrailPage").then((m) => m.TrailPage), waiting);
const FirstPassword = late(
  () => import("../features/people/OwnAccount").then((m) => m.FirstPassword),
  waiting,
);

const HandoverBoardPage = late(
  () => import("../features/handover/BoardPage").then((m) => m.HandoverBoardPage),
  waiting,
);

const SearchPage = late(() => import("../features/round/SearchPage").then((m) => m.SearchPage), waiting);
const StatisticsPage = late(
  () => import("../features/handover/StatisticsPage").then((m) => m.StatisticsPage),
  waiting,
);
const VisitsPage = late(() => import("../features/visits/VisitsPage").then((m) => m.VisitsPage), waiting);

const ShelfPage = late(() => import("../features/shelf/ShelfPage").then((m) => m.ShelfPage), waiting);

/** The page of an address, while it is asked who is there; from the round one goes to a loop. */
export function fetchPage(path: string): void {
  if (path === "/") RoundPage.fetch();
  if (path === "/" || path.startsWith("/loops/")) BenchPage.fetch();
}

const AWAY_MS = 5_000;
const BUSY_MS = 2_000;

function isAway(error: unknown): boolean {
  return error instanceof Refusal && error.status === 0;
}

function isBusy(error: unknown): boolean {
  return error instanceof Refusal && error.status === 503;
}

notifyManager.setScheduler(tellAtOnce);

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 10_000,
      // What failed because nobody answered is asked again until somebody does.
      refetchInterval: (query) => (isAway(query.state.error) ? AWAY_MS : false),
      // A server that computes for others is asked again until it has a turn for us.
      retry: (count, error) => (count < 2 && isAway(error)) || (count < 30 && isBusy(error)),
      retryDelay: (count, error) => (isBusy(error) ? BUSY_MS : 1_000 * 2 ** count),
    },
    mutations: {
      // Without a connection a write fails and says so: it does not wait unseen until there is one.
      networkMode: "always",
      // What was not begun, because others compute, is tried again.
      retry: (count, error) => count < 10 && error instanceof Refusal && error.code === "too_busy",
      retryDelay: BUSY_MS,
    },
  },
});

function Pages({ mode, onMode }: { mode: "light" | "dark"; onMode: () => void }) {
  const session = useSession();
  const { pathname } = useLocation();
  useSender();
  useEffect(fetchDialogs, []);
  if (session.isPending) return <p className="waiting">{texts.product}</p>;
  if (session.data === undefined) {
    return (
      <p className="waiting" role="alert">
        {session.error?.message}{" "}
        <button type="button" className="outlined" onClick={() => void session.refetch()}>
          {texts.tryAgain}
        </button>
      </p>
    );
  }
  const { user } = session.data;
  if (user === null) return <SignIn demoAccounts={session.data.demo_accounts} />;
  if (user.must_change) {
    return <FirstPassword />;
  }
  return (
    <Shell key={user.id} user={user} mode={mode} onMode={onMode}>
      <Broken where={pathname}>
        <Routes>
          <Route
            path="/"
            element={<RoundPage mayEdit={user.may_edit} mayKeepSites={user.may_keep_sites} />}
          />
          <Route path="/loops/:loopId/:position?" element={<BenchPage mayEdit={user.may_edit} />} />
          <Route
            path="/sites/:siteId/schedule"
            element={<SchedulePage mayEdit={user.may_edit} mayKeepSites={user.may_keep_sites} />}
          />
          <Route
            path="/isolations"
            element={<BoardPage mayEdit={user.may_edit} mayRelease={user.may_release} />}
          />
          <Route
            path="/visits"
            element={<VisitsPage mayEdit={user.may_edit} maySetMinutes={user.may_keep_accounts} />}
          />
          <Route path="/handing-over" element={<HandoverBoardPage mayKeepRules={user.may_keep_accounts} />} />
          <Route path="/search" element={<SearchPage />} />
          <Route path="/statistics" element={<StatisticsPage />} />
          <Route path="/shelf" element={<ShelfPage mayEdit={user.may_keep_shelf} />} />
          {user.may_keep_accounts && <Route path="/people" element={<PeoplePage />} />}
          {user.may_read_trail && <Route path="/trail" element={<TrailPage />} />}
          <Route path="*" element={<Navigate to="/" replace />} />
        </Routes>
      </Broken>
      <DoorOver username={user.username} />
    </Shell>
  );
}

export function App() {
  const [mode, changeMode] = useMode();
  return (
    <QueryClientProvider client={client}>
      {/* What is pressed is drawn at once: in a transition the form of before would take what is typed meanwhile. */}
      <BrowserRouter useTransitions={false}>
        <Pages mode={mode} onMode={changeMode} />
      </BrowserRouter>
    </QueryClientProvider>
  );
}
