/** The interface's root: routes, questions to the API, theme. */
import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { lazy, StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Link, Route, Routes, useParams } from "react-router";

import { Refused } from "./api/client";
import { Head } from "./parts/Head";
import { MoveFrame } from "./parts/MoveFrame";
import { Failed, Loading, Notice } from "./parts/Notice";
import { ViewBoundary } from "./parts/ViewBoundary";
import { VIEWS } from "./lib/views";
import { useMove, useSession } from "./lib/queries";
import { applyTheme } from "./lib/theme";
import { SignIn } from "./views/SignIn";
import "./styles.css";

// A view is loaded when it is opened first; the others once nothing else is to be done, so that keys lead to them at once.
const LOAD = {
  Account: () => import("./views/Account"),
  Answers: () => import("./views/Answers"),
  Captures: () => import("./views/Captures"),
  Decisions: () => import("./views/Decisions"),
  Describe: () => import("./views/Describe"),
  Evidence: () => import("./views/Evidence"),
  Findings: () => import("./views/Findings"),
  FindingView: () => import("./views/FindingView"),
  Moves: () => import("./views/Moves"),
  CheckView: () => import("./views/CheckView"),
  PairView: () => import("./views/PairView"),
  RowView: () => import("./views/RowView"),
  Standing: () => import("./views/Standing"),
};
const Account = lazy(async () => ({ default: (await LOAD.Account()).Account }));
const Answers = lazy(async () => ({ default: (await LOAD.Answers()).Answers }));
const Captures = lazy(async () => ({ default: (await LOAD.Captures()).Captures }));
const Decisions = lazy(async () => ({ default: (await LOAD.Decisions()).Decisions }));
const Describe = lazy(async () => ({ default: (await LOAD.Describe()).Describe }));
const Evidence = lazy(async () => ({ default: (await LOAD.Evidence()).Evidence }));
const Findings = lazy(async () => ({ default: (await LOAD.Findings()).Findings }));
const FindingView = lazy(async () => ({ default: (await LOAD.FindingView()).FindingView }));
const Moves = lazy(async () => ({ default: (await LOAD.Moves()).Moves }));
const CheckView = lazy(async () => ({ default: (await LOAD.CheckView()).CheckView }));
const PairView = lazy(async () => ({ default: (await LOAD.PairView()).PairView }));
const RowView = lazy(async () => ({ default: (await LOAD.RowView()).RowView }));
const Standing = lazy(async () => ({ default: (await LOAD.Standing()).Standing }));

const queries: QueryClient = new QueryClient({
  queryCache: new QueryCache({
    // The session has ended: ask who is signed in, which shows the form to sign in again.
    onError: (error) => {
      if (error instanceof Refused && error.status === 401) void queries.invalidateQueries({ queryKey: ["session"] });
    },
  }),
  defaultOptions: {
    // The server may be on this very machine: being offline is no reason not to ask it.
    mutations: { networkMode: "always" },
    queries: {
      networkMode: "always",
      retryDelay: 700,
      retry: (times, error) => times < 1 && !(error instanceof Refused && error.status >= 400 && error.status < 500),
    },
  },
});

function App() {
  const session = useSession();
  if (session.error && !session.data) return <main><Failed error={session.error} again={() => void session.refetch()} /></main>;
  if (!session.data) return <main><Loading what="who is signed in" /></main>;
  if (!session.data.user) return <SignIn first={session.data.first_visit} needsToken={session.data.needs_token} />;
  return (
    <ViewBoundary>
      <Routes>
        <Route path="/" element={<Moves />} />
        <Route path="/account" element={<Account />} />
        <Route path="/describe" element={<NewMove />} />
        <Route path="/moves/:id" element={<MoveFrame>{(framed) => <Standing framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/describe" element={<EditMove />} />
        {VIEWS.map(([view]) => (
          <Route key={view} path={`/moves/:id/${view}`} element={<MoveFrame key={view}>{(framed) => <CheckView framed={framed} view={view} />}</MoveFrame>} />
        ))}
        <Route path="/moves/:id/rows/:check/:rank" element={<MoveFrame>{(framed) => <RowView framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/pages/:rank" element={<MoveFrame>{(framed) => <PairView framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/findings" element={<MoveFrame>{(framed) => <Findings framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/findings/:number" element={<MoveFrame>{(framed) => <FindingView framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/captures" element={<MoveFrame>{(framed) => <Captures framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/captures/:capture/answers" element={<MoveFrame>{(framed) => <Answers framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/evidence" element={<MoveFrame>{(framed) => <Evidence framed={framed} />}</MoveFrame>} />
        <Route path="/moves/:id/decisions" element={<MoveFrame>{(framed) => <Decisions framed={framed} />}</MoveFrame>} />
        <Route
          path="*"
          element={
            <>
              <Head />
              <main>
                <Notice title="There is no such view.">
                  <Link className="text-ink underline" to="/">
                    To your moves
                  </Link>
                </Notice>
              </main>
            </>
          }
        />
      </Routes>
    </ViewBoundary>
  );
}

function NewMove() {
  document.title = "Describe a move · Palinode";
  return (
    <div className="flex h-dvh flex-col">
      <Describe
        move={null}
        head={(action) => (
          <Head
            end={
              <>
                <Link to="/" className="font-semibold">
                  Cancel
                </Link>
                {action}
              </>
            }
          >
            <span className="truncate text-[14px] font-bold max-[599px]:hidden">Describe a move</span>
          </Head>
        )}
      />
    </div>
  );
}

function EditMove() {
  const id = Number(useParams().id);
  const move = useMove(id);
  if (move.error && !move.data) return <main><Failed error={move.error} again={() => void move.refetch()} /></main>;
  if (!move.data) return <main><Loading what="the move" /></main>;
  return (
    <div className="flex h-dvh flex-col">
      <Describe
        key={move.data.id}
        move={move.data}
        head={(action) => (
          <Head
            end={
              <>
                <Link to={`/moves/${id}`} className="font-semibold">
                  Cancel
                </Link>
                {action}
              </>
            }
          >
            <Link to={`/moves/${id}`} className="truncate text-[14px] font-bold max-[599px]:hidden">
              {move.data.name}
            </Link>
          </Head>
        )}
      />
    </div>
  );
}

function loadTheRest() {
  for (const load of Object.values(LOAD)) void load().catch(() => undefined);
}
window.addEventListener("load", () => ("requestIdleCallback" in window ? window.requestIdleCallback(loadTheRest, { timeout: 5_000 }) : loadTheRest()));

applyTheme();
const root = document.getElementById("root");
if (root)
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queries}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
