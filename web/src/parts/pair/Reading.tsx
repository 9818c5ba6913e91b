/** Two texts facing each other, paragraph by paragraph; long stretches without a change open at a click. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Pair } from "../../api/client";
import type { Meant } from "../Expect";
import { DIFFERS } from "./Differences";

type Paragraph = Pair["paragraphs"][number];
type Props = { pair: Pair; comparison: number; onMeant: (meant: Meant) => void };

const MOST = 1000;

export function Reading({ pair, comparison, onMeant }: Props) {
  const { paragraphs, row, left, right, cut } = pair;
  const firstChange = pair.found_by ? paragraphs.findIndex((one) => one.said) : -1;
  const meant = row.left ? () => onMeant({ kind: "text", label: "text", address: row.left ?? "" }) : undefined;
  if (!paragraphs.length) {
    return (
      <div className="facing">
        <p className="left text-soft py-4">{left.status ? "No text to read here." : left.reason}</p>
        <div className="mid" />
        <p className="right text-soft py-4">{right.status ? "No text to read here." : right.reason}</p>
      </div>
    );
  }
  return (
    <>
      {paragraphs.map((one, index) =>
        one.folded ? (
          <Folded key={index} comparison={comparison} rank={row.rank} first={one.first} number={one.folded} />
        ) : (
          <Facing key={index} one={one} meant={index === firstChange ? meant : undefined} />
        ),
      )}
      {cut ? <p className="text-soft px-6 py-3 text-center">The text goes on; the first 20,000 paragraphs of each side are shown.</p> : null}
    </>
  );
}

function Folded({ comparison, rank, first, number }: { comparison: number; rank: number; first: number; number: number }) {
  const [open, setOpen] = useState(false);
  const rows = Math.min(number, MOST);
  const found = useQuery({
    queryKey: ["stretch", comparison, rank, first, rows],
    queryFn: () => data(api.GET("/api/comparisons/{id}/pages/{rank}/stretch/", { params: { path: { id: comparison, rank }, query: { first, rows } } })),
    enabled: open,
  });
  if (found.data) {
    return (
      <>
        {found.data.map((one, index) => (
          <Facing key={index} one={one} />
        ))}
        {number > rows ? <Folded comparison={comparison} rank={rank} first={first + rows} number={number - rows} /> : null}
      </>
    );
  }
  return (
    <div className="facing border-edge border-y">
      <div className="left" />
      <div className="mid py-1.5 text-[13px]">
        <button type="button" className="underline underline-offset-2" onClick={() => setOpen(true)}>
          {found.error ? "Try again" : open ? "Loading …" : `${number.toLocaleString("en")} the same`}
        </button>
      </div>
      <div className="right" />
    </div>
  );
}

function Facing({ one, meant }: { one: Paragraph; meant?: () => void }) {
  return (
    // What is not seen yet is not laid out: a page of 200 KB would take a fifth of a second.
    <div className="facing [contain-intrinsic-size:auto_56px] [content-visibility:auto]" {...(one.said ? { [DIFFERS]: "" } : {})}>
      <div className="left py-1.5">
        <Text words={one.left} kind={one.kind} />
      </div>
      <div className="mid flex-col text-[12px] leading-4">
        {one.said ? (
          <>
            <b className="text-ochre text-[13px]">{one.words > 0 ? `+${one.words}` : one.words < 0 ? `−${-one.words}` : "±0"} words</b>
            <span className="text-soft">{one.said}</span>
            {meant ? (
              <button type="button" className="underline underline-offset-2" onClick={meant}>
                Mark as expected
              </button>
            ) : null}
          </>
        ) : null}
      </div>
      <div className="right py-1.5">
        <Text words={one.right} kind={one.kind} />
      </div>
    </div>
  );
}

function Text({ words, kind }: { words: Paragraph["left"]; kind: string }) {
  if (!words) return null;
  const heading = /^h[1-6]$/.test(kind);
  return (
    <p
      dir="auto"
      className={`font-serif leading-6 break-words ${heading ? "text-[18px] font-semibold" : "text-[16px]"} ${kind === "li" ? "pl-4" : ""}`}
    >
      {words.map((run, index) =>
        run.change === "gone" ? (
          <del key={index} className="text-soft">
            <bdi>{run.text}</bdi>{" "}
          </del>
        ) : run.change === "came" ? (
          <ins key={index} className="decoration-indigo font-semibold underline decoration-2 underline-offset-3">
            <bdi>{run.text}</bdi>{" "}
          </ins>
        ) : (
          <span key={index}>
            <bdi>{run.text}</bdi>{" "}
          </span>
        ),
      )}
    </p>
  );
}
