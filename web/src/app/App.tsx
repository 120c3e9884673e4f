/** Providers, addresses, and the door: nothing is shown without a session. */
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { BrowserRouter, Navigate, Route, Routes, useLocation } from "react-router";
import { Refusal } from "../api/client";
import { fetchDialogs } from "../features/dialog/Dialog";
import { useSender } from "../device/useTray";
import { DoorOver } from "../features/session/DoorOver";
import { SignIn } from "../features/session/SignIn";
import { useSession } from "../features/session/queries";
import { texts } from "../texts";
import { Broken } from "./Broken";
import { Shell } from "./Shell";
import { useMode } from "./useMode";

const RoundPage = lazy(() => import("../features/round/RoundPage").then((m) => ({ default: m.RoundPage })));
const BenchPage = lazy(() => import("../features/bench/BenchPage").then((m) => ({ default: m.BenchPage })));

const SchedulePage = lazy(() =>
  import("../features/schedule/SchedulePage").then((m) => ({ default: m.SchedulePage })),
);

const BoardPage = lazy(() =>
  import("../features/isolation/BoardPage").then((m) => ({ default: m.BoardPage })),
);

const PeoplePage = lazy(() =>
  import("../features/people/PeoplePage").then((m) => ({ default: m.PeoplePage })),
);
const TrailPage = lazy(() => import("../features/people/TrailPage").then((m) => ({ default: m.TrailPage })));
const FirstPassword = lazy(() =>
  import("../features/people/OwnAccount").then((m) => ({ default: m.FirstPassword })),
);

const HandoverBoardPage = lazy(() =>
  import("../features/handover/BoardPage").then((m) => ({ default: m.HandoverBoardPage })),
);

const SearchPage = lazy(() =>
  import("../features/round/SearchPage").then((m) => ({ default: m.SearchPage })),
);
const StatisticsPage = lazy(() =>
  import("../features/handover/StatisticsPage").then((m) => ({ default: m.StatisticsPage })),
);
const VisitsPage = lazy(() =>
  import("../features/visits/VisitsPage").then((m) => ({ default: m.VisitsPage })),
);

const ShelfPage = lazy(() => import("../features/shelf/ShelfPage").then((m) => ({ default: m.ShelfPage })));

const AWAY_MS = 5_000;
const BUSY_MS = 2_000;

function isAway(error: unknown): boolean {
  return error instanceof Refusal && error.status === 0;
}

function isBusy(error: unknown): boolean {
  return error instanceof Refusal && error.status === 503;
}

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
    return (
      <Suspense fallback={<p className="waiting">{texts.product}</p>}>
        <FirstPassword />
      </Suspense>
    );
  }
  return (
    <Shell key={user.id} user={user} mode={mode} onMode={onMode}>
      <Broken where={pathname}>
        <Suspense fallback={<p className="waiting">{texts.bench.loading}</p>}>
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
            <Route
              path="/handing-over"
              element={<HandoverBoardPage mayKeepRules={user.may_keep_accounts} />}
            />
            <Route path="/search" element={<SearchPage />} />
            <Route path="/statistics" element={<StatisticsPage />} />
            <Route path="/shelf" element={<ShelfPage mayEdit={user.may_keep_shelf} />} />
            {user.may_keep_accounts && <Route path="/people" element={<PeoplePage />} />}
            {user.may_read_trail && <Route path="/trail" element={<TrailPage />} />}
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </Suspense>
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
