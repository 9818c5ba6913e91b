/** A pair, opened from its row: both answers facing, head fields, text. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";

import { api, data, type Fate, type Pair, type Row } from "../api/client";
import { AskBoth } from "../parts/AskBoth";
import { FacingHead } from "../parts/FacingHead";
import { KeyFoot, KeyList, type KeyLine } from "../parts/Keys";
import type { Framed } from "../parts/MoveFrame";
import { Failed, Loading } from "../parts/Notice";
import { Retire } from "../parts/Retire";
import { FATE_INK, FATE_WORDS, Thread } from "../parts/Thread";
import { bytes, path, within } from "../lib/format";
import { useKeys } from "../lib/keys";

const KEYS: KeyLine[] = [
  { keys: ["N", "P"], does: "next, previous" },
  { keys: ["T"], does: "retire with a reason" },
  { keys: ["Esc"], does: "back to the ledger" },
  { keys: ["?"], does: "all keys" },
];

type Side = Pair["left"];
type Words = Pair["paragraphs"][number]["left"];

export function PairView({ framed }: { framed: Framed }) {
  const { move, comparison } = framed;
  const rank = Number(useParams().rank);
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const [help, setHelp] = useState(false);
  const [retiring, setRetiring] = useState(false);
  const id = comparison?.id ?? 0;
  const pair = useQuery({
    queryKey: ["pair", id, rank],
    queryFn: () => data(api.GET("/api/comparisons/{id}/pages/{rank}/", { params: { path: { id, rank } } })),
    enabled: comparison !== null,
  });
  const back = `/moves/${move.id}/pages?${search.toString()}`;

  async function step(by: number) {
    const at = Number(search.get("row") ?? 0) + by;
    if (at < 0) return;
    const found = await data(
      api.GET("/api/comparisons/{id}/pages/", {
        params: {
          path: { id },
          query: {
            fate: (search.get("fate") ?? undefined) as Fate | undefined,
            section: search.get("section") ?? undefined,
            find: search.get("find") ?? undefined,
            order: search.get("order") === "address" ? "address" : "worst",
            first: at,
            rows: 1,
          },
        },
      }),
    );
    const row = found.rows[0];
    if (!row) return;
    const next = new URLSearchParams(search);
    next.set("row", String(at));
    await navigate(`/moves/${move.id}/pages/${row.rank}?${next.toString()}`, { replace: true });
  }

  useKeys({
    n: () => void step(1),
    p: () => void step(-1),
    t: () => setRetiring(true),
    Escape: () => void navigate(back),
    "?": () => setHelp(true),
  });

  if (!comparison) return <Failed error={new Error("There is no comparison yet.")} />;
  if (pair.error) return <Failed error={pair.error} again={() => void pair.refetch()} />;
  if (!pair.data) return <Loading what="the pair" />;
  const { row, left, right, fields, paragraphs, cut } = pair.data;
  return (
    <>
      <div className="bg-leaf border-edge flex shrink-0 items-center gap-3 border-b px-6 py-2.5">
        <h1 className="truncate font-mono text-[16px] font-semibold" title={row.left_address ?? row.right_address ?? ""}>
          {path(row.left_address ?? row.right_address ?? "")}
        </h1>
        <p className="min-w-0 truncate">
          <b className={FATE_INK[row.fate]}>{FATE_WORDS[row.fate]}</b> <span className="text-[14px]">{row.detail}</span>
        </p>
        <span className="ml-auto" />
        {row.left_address && comparison.left.side === "source" ? <AskBoth move={move.id} address={row.left_address} label="Ask both sides now" /> : null}
        <Link to={back} className=" text-[14px] whitespace-nowrap underline">
          Back to the ledger
        </Link>
      </div>
      <FacingHead comparison={comparison} mid={position(search, row)} />
      <div className="bg-leaf min-h-0 flex-1 overflow-y-auto" tabIndex={0} role="region" aria-label="The pair">
        <div className="facing border-edge border-b">
          <div className="left py-2">
            <AnswerLines side={left} base={comparison.left.base} />
          </div>
          <div className="mid">
            <Thread fate={row.fate} altered={row.fate === "moved" && row.content_change !== 0} />
          </div>
          <div className="right py-2">
            <AnswerLines side={right} base={comparison.right.base} />
          </div>
        </div>
        {fields
          .filter((field) => field.verdict !== "not there")
          .map((field) => (
            <div key={field.name} className="facing border-edge border-b">
              <FieldLine side="left" name={field.name} value={field.left} />
              <div className={`mid text-[13px] ${field.verdict === "differs" ? "text-ochre font-bold" : "text-soft"}`}>{field.verdict}</div>
              <FieldLine side="right" name={field.name} value={field.right} came={field.verdict === "differs"} />
            </div>
          ))}
        {paragraphs.map((one, index) => (
          <div key={index} className="facing">
            <div className="left py-1.5">
              <Text words={one.left} kind={one.kind} />
            </div>
            <div className="mid flex-col text-[12px] leading-4">
              {one.said ? (
                <>
                  <b className="text-ochre text-[13px]">{one.words > 0 ? `+${one.words}` : one.words < 0 ? `−${-one.words}` : "±0"} words</b>
                  <span className="text-soft">{one.said}</span>
                </>
              ) : null}
            </div>
            <div className="right py-1.5">
              <Text words={one.right} kind={one.kind} />
            </div>
          </div>
        ))}
        {!paragraphs.length ? (
          <div className="facing">
            <p className="left text-soft py-4">{left.status ? "No text to read here." : left.reason}</p>
            <div className="mid" />
            <p className="right text-soft py-4">{right.status ? "No text to read here." : right.reason}</p>
          </div>
        ) : null}
        {cut ? <p className="text-soft px-6 py-3 text-center">The text goes on; the first 400 blocks of each side are shown.</p> : null}
      </div>
      <KeyFoot lines={KEYS} />
      <KeyList lines={KEYS} open={help} onClose={() => setHelp(false)} />
      <Retire move={move.id} row={retiring ? row : null} onClose={() => setRetiring(false)} />
    </>
  );
}

function position(search: URLSearchParams, row: Row): string {
  const at = search.get("row");
  return at === null ? `row ${row.rank + 1}` : `row ${(Number(at) + 1).toLocaleString("en")}`;
}

function AnswerLines({ side, base }: { side: Side; base: string }) {
  const lines: [string, string, boolean?][] = [];
  if (!side.address) return <p className="text-soft text-[14px]">No page on this side.</p>;
  lines.push(["Address", within(side.address, base), true]);
  for (const hop of side.hops) lines.push(["Hop", `${hop.status ?? ""} from ${within(hop.address, base)}`, true]);
  lines.push([
    "Answers",
    side.status ? `${side.status}, ${bytes(side.length)} in ${(side.took_ms / 1000).toFixed(2)} s` : side.reason || "never asked",
  ]);
  if (side.status && side.reason) lines.push(["Its body", side.reason]);
  if (side.recognised) lines.push(["Recognised", side.recognised]);
  for (const [name, value] of Object.entries(side.headers)) lines.push([name, value]);
  if (side.known.length) lines.push(["Known", side.known.join(", ")]);
  return (
    <dl className="grid grid-cols-[110px_minmax(0,1fr)] gap-y-0.5 text-[14px]">
      {lines.map(([name, value, mono]) => (
        <div key={name + value} className="contents">
          <dt className="text-soft truncate">{name}</dt>
          <dd className={`break-words ${mono ? "font-mono text-[13px]" : ""}`}>{value}</dd>
        </div>
      ))}
    </dl>
  );
}

function FieldLine({ side, name, value, came }: { side: "left" | "right"; name: string; value: string; came?: boolean }) {
  return (
    <div className={`${side} grid grid-cols-[110px_minmax(0,1fr)] py-1.5 text-[14px]`}>
      <span className="text-soft capitalize">{name}</span>
      <span className={`break-words ${came ? "decoration-indigo underline decoration-2 underline-offset-3" : ""}`}>
        {value || <span className="text-soft">none</span>}
      </span>
    </div>
  );
}

function Text({ words, kind }: { words: Words; kind: string }) {
  if (!words) return null;
  const heading = /^h[1-6]$/.test(kind);
  return (
    <p className={`font-serif leading-6 ${heading ? "text-[18px] font-semibold" : "text-[16px]"} ${kind === "li" ? "pl-4" : ""}`}>
      {words.map((run, index) =>
        run.change === "gone" ? (
          <del key={index} className="text-soft">
            {run.text}{" "}
          </del>
        ) : run.change === "came" ? (
          <ins key={index} className="decoration-indigo font-semibold underline decoration-2 underline-offset-3">
            {run.text}{" "}
          </ins>
        ) : (
          <span key={index}>{run.text} </span>
        ),
      )}
    </p>
  );
}
