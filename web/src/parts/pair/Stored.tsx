/** Both pages as they were stored: as source, or shown in a frame that runs nothing and loads nothing. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Pair } from "../../api/client";

type Props = { pair: Pair; comparison: number };
type Which = "left" | "right";

export function Stored({ pair, comparison }: Props) {
  const [as, setAs] = useState<"source" | "page">("source");
  return (
    <div className="flex h-full min-h-[400px] flex-col">
      <div className="border-edge flex shrink-0 items-center gap-4 border-b px-6 py-2 text-[14px]" role="group" aria-label="How it is shown">
        {(["source", "page"] as const).map((one) => (
          <button key={one} type="button" aria-pressed={as === one} onClick={() => setAs(one)} className="aria-pressed:font-bold aria-pressed:underline">
            {one === "source" ? "As source" : "As a page"}
          </button>
        ))}
        <span className="text-soft text-[13px]">
          {as === "page" ? "From what was stored, without scripts; what was not stored is missing." : "The stored markup, as text."}
        </span>
      </div>
      <div className="facing min-h-0 flex-1">
        {(["left", "right"] as const).map((side) => (
          <div key={side} className={`${side} min-h-0 min-w-0 py-2`}>
            {as === "source" ? <Source comparison={comparison} rank={pair.row.rank} side={side} /> : <Frame pair={pair} comparison={comparison} side={side} />}
          </div>
        ))}
        <div className="mid col-start-2 row-start-1" />
      </div>
    </div>
  );
}

function Source({ comparison, rank, side }: { comparison: number; rank: number; side: Which }) {
  const found = useQuery({
    queryKey: ["source", comparison, rank, side],
    queryFn: () => data(api.GET("/api/comparisons/{id}/pages/{rank}/source/", { params: { path: { id: comparison, rank }, query: { side } } })),
    retry: false,
  });
  if (found.error) return <p className="text-soft text-[14px]">{found.error.message}</p>;
  if (!found.data) return <p className="text-soft text-[14px]">Loading the source …</p>;
  return (
    <>
      <pre
        tabIndex={0}
        role="region"
        aria-label={`Source of the ${side === "left" ? "source" : "destination"} page`}
        className="h-full max-h-[70vh] overflow-auto font-mono text-[12px] leading-[18px] break-words whitespace-pre-wrap"
      >
        {found.data.text}
      </pre>
      {found.data.cut ? <p className="text-soft text-[13px]">It goes on: {found.data.length.toLocaleString("en")} bytes in all.</p> : null}
    </>
  );
}

function Frame({ pair, comparison, side }: { pair: Pair; comparison: number; side: Which }) {
  if (!pair[side].status) return <p className="text-soft text-[14px]">Nothing was stored for this side.</p>;
  return (
    <iframe
      title={`The ${side === "left" ? "source" : "destination"} page as it was stored`}
      sandbox=""
      src={`/api/comparisons/${comparison}/pages/${pair.row.rank}/stored/?side=${side}`}
      className="border-edge h-full min-h-[60vh] w-full border bg-white"
    />
  );
}
