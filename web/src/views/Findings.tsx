/** The facing ledger of findings: what differs or is wrong, how much it weighs, what became of it. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { useNavigate, useSearchParams } from "react-router";

import { api, data, type Comparison, type Finding, type Move, type Schemas } from "../api/client";
import { Accept, type Accepting } from "../parts/Accept";
import { Button } from "../parts/Button";
import { ExportLinks } from "../parts/ExportLinks";
import { Expect, type Meant } from "../parts/Expect";
import { Chip, Find, Pick } from "../parts/RowFilters";
import { FacingHead } from "../parts/FacingHead";
import { Aside, Decided } from "../parts/FoundList";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import { Ledger, type Page } from "../parts/Ledger";
import type { Framed } from "../parts/MoveFrame";
import { Notice } from "../parts/Notice";
import { Thread } from "../parts/Thread";
import { WeightDialog } from "../parts/WeightDialog";
import { WEIGHT_INK, WEIGHT_WORDS } from "../parts/weights";
import { useRowQuery } from "../lib/rowQuery";
import { count, within } from "../lib/format";
import { useKeys } from "../lib/keys";
import { useSelection } from "../lib/selection";
import { FindingsByCause } from "./FindingsByCause";

type Found = Schemas["FindingsPage"];

const STATES = [
  ["open", "Open"],
  ["accepted", "Accepted"],
  ["cleared", "Cleared"],
] as const;

const REVOKE: KeyLine = { keys: ["R"], does: "revoke what accepts it" };
const KEYS: KeyLine[] = [
  { keys: ["J", "K"], does: "move" },
  { keys: ["Enter"], does: "open" },
  { keys: ["X"], does: "mark" },
  { keys: ["A"], does: "accept with a reason" },
  { keys: ["E"], does: "mark as expected" },
  { keys: ["F"], does: "show what follows from it" },
  { keys: ["C"], does: "by cause" },
  { keys: ["U"], does: "undo your last decision" },
  { keys: ["/"], does: "find" },
  { keys: ["?"], does: "all keys" },
];

/** Choices that only findings one by one have. */
const OF_FINDINGS = ["list", "state", "weight", "kind", "cause", "decision", "find"];

const BY_CAUSE = Object.fromEntries([...OF_FINDINGS, "unfold"].map((name) => [name, ""]));

/** Open findings by cause, or one by one as soon as something is chosen of them. */
export function Findings({ framed }: { framed: Framed }) {
  const [search] = useSearchParams();
  const { move, comparison } = framed;
  if (!comparison)
    return (
      <Notice title="No findings yet.">
        <p>Capture both sides first. What differs stands here as soon as they are compared.</p>
      </Notice>
    );
  const oneByOne = OF_FINDINGS.some((name) => search.has(name));
  return oneByOne ? <OneByOne move={move} comparison={comparison} /> : <FindingsByCause move={move} comparison={comparison} />;
}

function OneByOne({ move, comparison }: { move: Move; comparison: Comparison }) {
  const navigate = useNavigate();
  const [shown, setShown] = useState<Found | null>(null);
  const [visible, setVisible] = useState([0, 0]);
  const [help, setHelp] = useState(false);
  const [accepting, setAccepting] = useState<Accepting | null>(null);
  const [weighing, setWeighing] = useState(false);
  const [meant, setMeant] = useState<Meant | null>(null);
  const { marked, mark, clear } = useSelection();
  const queries = useQueryClient();
  const reopen = useMutation({
    mutationFn: (body: Schemas["RevokeRequest"]) => data(api.POST("/api/comparisons/{id}/revoke/", { params: { path: { id: comparison.id } }, body })),
    onSuccess: () => {
      clear();
      void queries.invalidateQueries({ queryKey: ["comparisons", move.id] });
      void queries.invalidateQueries({ queryKey: ["decisions", move.id] });
    },
  });
  const rowAt = useRef<(index: number) => Finding | undefined>(() => undefined);
  const { search, change, words, selected, standing, select, go, find, typed, setTyped } = useRowQuery(shown?.total ?? 0);
  const onVisible = useCallback((first: number, last: number) => setVisible([first, last]), []);

  const state = search.get("state") ?? "open";
  const weight = search.get("weight") ?? "";
  const kind = search.get("kind") ?? "";
  const cause = search.get("cause") ?? "";
  const decision = search.get("decision") ?? "";
  const unfold = search.get("unfold") ?? "";
  const total = shown?.total ?? 0;
  const keys = state === "accepted" ? KEYS.map((one) => (one.keys[0] === "A" ? REVOKE : one)) : KEYS;

  function link(row: Finding, index: number) {
    const here = new URLSearchParams(search);
    here.set("row", String(index));
    if (row.listed) return `/moves/${move.id}/findings/${row.number}?${new URLSearchParams({ of_findings: `?${here.toString()}` }).toString()}`;
    if (row.row === null) return `/moves/${move.id}/findings?${search.toString()}`;
    if (row.check !== "pages") return `/moves/${move.id}/rows/${row.check}/${row.row}`;
    return `/moves/${move.id}/pages/${row.row}?${new URLSearchParams({ from: "findings", of_findings: `?${here.toString()}` }).toString()}`;
  }

  /** Show, or hide, what only follows from a finding, below it. */
  function unfoldRow(row: Finding) {
    change({ unfold: unfold === String(row.number) ? "" : String(row.number) }, true);
  }

  /** Let what is marked be open again; without marks, the row where the keyboard stands. */
  function revoke() {
    const row = rowAt.current(standing.current);
    const numbers = marked.size ? [...marked] : row?.state === "accepted" ? [row.number] : [];
    if (numbers.length) reopen.mutate({ numbers });
  }

  /** Accept what is marked; without marks, the row where the keyboard stands. */
  function accept() {
    const row = rowAt.current(standing.current);
    const numbers = marked.size ? [...marked] : row?.state === "open" ? [row.number] : [];
    if (!numbers.length) return;
    const what = row && numbers.length === 1 && numbers[0] === row.number ? `${row.label}: ${row.left_address ?? row.right_address ?? ""}, ${row.detail}` : "What is marked.";
    setAccepting({ number: numbers.length, what, body: { numbers } });
  }

  useKeys({
    j: () => go(1),
    k: () => go(-1),
    Enter: () => {
      const row = rowAt.current(standing.current);
      if (row && (row.listed || row.row !== null)) void navigate(link(row, standing.current));
    },
    x: () => {
      const row = rowAt.current(standing.current);
      if (row && row.state !== "cleared") mark(row.number);
      go(1);
    },
    a: () => {
      if (state === "open") accept();
    },
    r: () => {
      if (state === "accepted") revoke();
    },
    e: () => {
      const row = rowAt.current(standing.current);
      if (row?.state === "open" && row.left_address) setMeant({ kind: row.kind, label: row.label, address: row.left_address });
    },
    f: () => {
      const row = rowAt.current(standing.current);
      if (row?.followers) unfoldRow(row);
    },
    c: () => change(BY_CAUSE),
    "/": () => find.current?.focus(),
    "?": () => setHelp(true),
  });

  const chosen = comparison.standing?.causes.find((one) => one.number === Number(cause));
  const labels = kinds(comparison);
  return (
    <>
      <h1 className="sr-only">Findings one by one</h1>
      <FacingHead comparison={comparison} />
      <div className="flex shrink-0 flex-wrap items-center gap-2 px-6 py-2.5" role="search">
        {STATES.map(([one, name]) => (
          <Chip key={one} name={name} number={shown?.states[one] ?? 0} on={state === one} onClick={() => change({ state: one === "open" ? "" : one, list: "all" })} />
        ))}
        <Pick label="Weight" value={weight} onPick={(value) => change({ weight: value, list: "all" })} className="ml-3 max-[599px]:ml-0">
          <option value="">Weight: all</option>
          {Object.entries(WEIGHT_WORDS).map(([one, name]) => (
            <option key={one} value={one}>
              {name} ({(shown?.weights[one] ?? 0).toLocaleString("en")})
            </option>
          ))}
        </Pick>
        <Pick label="Kind" value={kind} onPick={(value) => change({ kind: value, list: "all" })} className="w-[150px]">
          <option value="">Kind: all</option>
          {[...labels].map(([one, label]) => (
            <option key={one} value={one}>
              {label} ({(shown?.kinds[one] ?? 0).toLocaleString("en")})
            </option>
          ))}
        </Pick>
        {kind ? <Button onClick={() => setWeighing(true)}>Change its weight</Button> : null}
        {decision ? (
          <button type="button" className="border-ink bg-leaf h-[34px] max-w-[320px] truncate rounded-[3px] border-2 px-2" title="Show findings of all decisions" onClick={() => change({ decision: "", list: "all" })}>
            set aside by one decision <span aria-label="remove">×</span>
          </button>
        ) : null}
        {cause && chosen ? (
          <button type="button" className="border-ink bg-leaf h-[34px] max-w-[320px] truncate rounded-[3px] border-2 px-2" title="Show findings of all causes" onClick={() => change({ cause: "", list: "all" })}>
            {chosen.title} <span aria-label="remove">×</span>
          </button>
        ) : null}
        <span className="ml-auto" />
        <Button onClick={() => change(BY_CAUSE)}>By cause</Button>
        {state === "open" && total ? (
          <Button
            onClick={() =>
              marked.size
                ? accept()
                : setAccepting({
                    number: total,
                    what: "All open findings that are shown here.",
                    body: whole({ weight, kind, cause, find: words }),
                  })
            }
          >
            Accept {marked.size === 1 ? "the marked one" : marked.size ? `the ${marked.size.toLocaleString("en")} marked ones` : total === 1 ? "this one" : `all ${total.toLocaleString("en")}`}
          </Button>
        ) : null}
        {state === "accepted" && (marked.size || decision) && total ? (
          <Button disabled={reopen.isPending} onClick={() => (marked.size ? revoke() : reopen.mutate({ decision: Number(decision) }))}>
            Revoke for {marked.size === 1 ? "the marked one" : marked.size ? `the ${marked.size.toLocaleString("en")} marked ones` : total === 1 ? "this one" : `all ${total.toLocaleString("en")}`}
          </Button>
        ) : null}
        <Find label="Find an address" at={find} value={typed} onType={setTyped} />
      </div>
      {reopen.error ? (
        <p role="alert" className="text-madder px-6 py-2 font-semibold">
          {reopen.error.message}
        </p>
      ) : null}
      <Ledger<Finding>
        parts={[
          {
            name: ["findings", comparison.id, comparison.judgement, state, weight, kind, cause, decision, words, unfold],
            ask: async (first, rows) => {
              const query = { state, weight, kind, cause: cause ? Number(cause) : undefined, decision: decision ? Number(decision) : undefined, find: words || undefined, unfold: unfold ? Number(unfold) : undefined, first, rows };
              const page = await data(
                api.GET("/api/comparisons/{id}/findings/", {
                  params: { path: { id: comparison.id }, query: { ...query, weight: weight || undefined, kind: kind || undefined } as never },
                }),
              );
              return { ...page, at_least: false, counts: page.states } as Page<Finding> & Found;
            },
          },
        ]}
        selected={selected}
        onSelect={select}
        link={link}
        mark={(row) =>
          row.state !== "cleared"
            ? { on: marked.has(row.number), label: `Mark ${row.label} of ${row.left_address ?? row.right_address ?? ""}`, onMark: () => mark(row.number) }
            : undefined
        }
        left={(row) => (
          <span className={`font-mono text-[14px] ${row.follows === null ? "" : "pl-6"}`} title={row.left_address ?? ""}>
            {row.left_address ? within(row.left_address, comparison.left.base) : ""}
            {row.seen_on ? <span className="text-soft ml-2 font-sans">{row.seen_on}</span> : null}
          </span>
        )}
        mid={(row) => <Thread shape={row.thread} label={row.state === "cleared" ? "Cleared" : row.label} />}
        right={(row) => (
          <RightPage
            row={row}
            base={comparison.right.base}
            round={comparison.right.round ?? 0}
            move={move.id}
            unfolded={unfold === String(row.number)}
            onUnfold={() => unfoldRow(row)}
          />
        )}
        onPages={(pages, at) => {
          rowAt.current = at;
          const found = pages[0] as Page<Finding> & Found;
          if (found.total !== shown?.total || found.states !== shown.states) setShown(found);
        }}
        onVisible={onVisible}
        empty={
          <>
            <p className="mb-2 font-serif text-[17px]">{state === "open" ? "Nothing open here." : "No finding fits."}</p>
            <button type="button" className="underline" onClick={() => change({ list: "all", state: "", weight: "", kind: "", cause: "", find: "" })}>
              Show all open findings
            </button>
          </>
        }
      />
      <KeyFoot
        lines={keys}
        said={total ? `${((visible[0] ?? 0) + 1).toLocaleString("en")} to ${Math.min((visible[1] ?? 0) + 1, total).toLocaleString("en")} of ${total.toLocaleString("en")}` : ""}
      >
        all as
        <ExportLinks path={`/api/comparisons/${comparison.id}/findings/export/`} />
      </KeyFoot>
      <KeyList lines={keys} open={help} onClose={() => setHelp(false)} />
      <Expect key={meant ? meant.kind + meant.address : ""} move={move.id} comparison={comparison.id} meant={meant} onClose={() => setMeant(null)} />
      <WeightDialog move={move.id} kind={kind} label={labels.get(kind) ?? kind} open={weighing} onClose={() => setWeighing(false)} />
      <Accept
        move={move.id}
        comparison={comparison.id}
        chosen={accepting}
        onDone={() => {
          clear();
          setAccepting(null);
        }}
        onClose={() => setAccepting(null)}
      />
    </>
  );
}

/** The kinds that a comparison has, in its order, with what each is called. */
function kinds(comparison: Comparison): Map<string, string> {
  return new Map(comparison.findings.map((one) => [one.kind, one.label]));
}

/** A choice as the API reads it; with nothing chosen, every finding of any address. */
function whole(chosen: { weight: string; kind: string; cause: string; find: string }): Accepting["body"] {
  const { weight, kind, cause, find } = chosen;
  return {
    ...(weight ? { weight: weight as Finding["weight"] } : {}),
    ...(kind ? { kind: kind } : {}),
    ...(cause ? { cause: Number(cause) } : {}),
    find,
  };
}

type RightProps = { row: Finding; base: string; round: number; move: number; unfolded: boolean; onUnfold: () => void };

function RightPage({ row, base, round, move, unfolded, onUnfold }: RightProps) {
  const past = row.state !== "open";
  return (
    <span title={`${row.right_address ?? ""}\n${row.label}: ${row.detail}`}>
      <b className={`text-[14px] ${past || row.follows !== null ? "text-soft" : WEIGHT_INK[row.weight]}`}>{row.label}</b>
      <span className="ml-2 text-[14px]">{row.detail}</span>
      {row.follows !== null ? <span className="text-soft ml-2 text-[13px]">follows from the one above</span> : null}
      {row.followers ? (
        <button
          type="button"
          aria-expanded={unfolded}
          className="text-ink ml-2 text-[13px] underline underline-offset-2"
          onClick={(event) => {
            event.preventDefault();
            event.stopPropagation();
            onUnfold();
          }}
        >
          {unfolded ? "hide what follows" : `${count(row.followers, "other")} ${row.followers === 1 ? "follows" : "follow"} from it`}
        </button>
      ) : null}
      <Aside one={row} />
      <span className="ml-2">
        <Decided one={row} move={move} />
      </span>
      {row.returned ? <span className="text-madder ml-2 text-[13px] font-semibold">returned</span> : null}
      {row.dropped ? <span className="text-soft ml-2 text-[13px]">no longer judged</span> : null}
      {!past && !row.returned ? <span className="text-soft ml-2 text-[13px]">{when(row, round)}</span> : null}
      <span className="text-soft ml-2 font-mono text-[13px]">{row.right_address && row.kind !== "lost" ? within(row.right_address, base) : ""}</span>
    </span>
  );
}

/** Since when an open finding is known. */
function when(row: Finding, round: number): string {
  if (row.first_look) return "looked at for the first time";
  return row.fresh ? "new" : row.since < round ? `since round ${row.since}` : "";
}
