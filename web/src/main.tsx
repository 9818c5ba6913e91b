/** The interface's root: routes, questions to the API, theme. */
import { QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Link, Route, Routes, useParams } from "react-router";

import { Refused } from "./api/client";
import { Head } from "./parts/Head";
import { MoveFrame } from "./parts/MoveFrame";
import { Failed, Loading, Notice } from "./parts/Notice";
import { VIEWS } from "./lib/views";
import { useMove, useSession } from "./lib/queries";
import { applyTheme } from "./lib/theme";
import { Account } from "./views/Account";
import { Answers } from "./views/Answers";
import { Captures } from "./views/Captures";
import { Decisions } from "./views/Decisions";
import { Describe } from "./views/Describe";
import { Evidence } from "./views/Evidence";
import { Findings } from "./views/Findings";
import { FindingView } from "./views/FindingView";
import { Moves } from "./views/Moves";
import { CheckView } from "./views/CheckView";
import { PairView } from "./views/PairView";
import { RowView } from "./views/RowView";
import { SignIn } from "./views/SignIn";
import { Standing } from "./views/Standing";
import "./styles.css";

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
  if (session.error && !session.data) return <Failed error={session.error} again={() => void session.refetch()} />;
  if (!session.data) return <Loading what="who is signed in" />;
  if (!session.data.user) return <SignIn first={session.data.first_visit} needsToken={session.data.needs_token} />;
  return (
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
      <Route path="/moves/:id/findings/:rank" element={<MoveFrame>{(framed) => <FindingView framed={framed} />}</MoveFrame>} />
      <Route path="/moves/:id/captures" element={<MoveFrame>{(framed) => <Captures framed={framed} />}</MoveFrame>} />
      <Route path="/moves/:id/captures/:capture/answers" element={<MoveFrame>{(framed) => <Answers framed={framed} />}</MoveFrame>} />
      <Route path="/moves/:id/evidence" element={<MoveFrame>{(framed) => <Evidence framed={framed} />}</MoveFrame>} />
      <Route path="/moves/:id/decisions" element={<MoveFrame>{(framed) => <Decisions framed={framed} />}</MoveFrame>} />
      <Route
        path="*"
        element={
          <>
            <Head />
            <Notice title="There is no such view.">
              <Link className="text-ink underline" to="/">
                To your moves
              </Link>
            </Notice>
          </>
        }
      />
    </Routes>
  );
}

function NewMove() {
  document.title = "Describe a move · Palinode";
  return (
    <div className="flex h-screen flex-col">
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
            <span className="text-[14px] font-bold">Describe a move</span>
          </Head>
        )}
      />
    </div>
  );
}

function EditMove() {
  const id = Number(useParams().id);
  const move = useMove(id);
  if (move.error && !move.data) return <Failed error={move.error} again={() => void move.refetch()} />;
  if (!move.data) return <Loading what="the move" />;
  return (
    <div className="flex h-screen flex-col">
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
            <Link to={`/moves/${id}`} className="text-[14px] font-bold">
              {move.data.name}
            </Link>
          </Head>
        )}
      />
    </div>
  );
}

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
