/** Links, images and forms of two pages, facing: what went, what came, what leads elsewhere. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, type Comparison, type Schemas } from "../../api/client";
import { Failed, Loading } from "../Notice";
import { within } from "../../lib/format";

type Beside = Schemas["Beside"];
type Props = { comparison: Comparison; rank: number; paired: boolean; of: "references" | "forms" };

const MOST = 2000;
const INK: Partial<Record<Beside["verdict"], string>> = {
  missing: "text-madder font-bold",
  added: "text-verdigris font-bold",
  "other target": "text-ochre font-bold",
  "other address": "text-indigo font-bold",
};

const GONE = ["lost", "replaced"];

export function useReferences(comparison: number, rank: number, enabled: boolean) {
  return useQuery({
    queryKey: ["references", comparison, rank],
    queryFn: () => data(api.GET("/api/comparisons/{id}/pages/{rank}/references/", { params: { path: { id: comparison, rank } } })),
    enabled,
  });
}

export function References({ comparison, rank, paired, of }: Props) {
  const [all, setAll] = useState(false);
  const found = useReferences(comparison.id, rank, true);
  if (found.error) return <Failed error={found.error} again={() => void found.refetch()} />;
  if (!found.data) return <Loading what="what the pages refer to" />;
  const every = found.data[of];
  const unlike = every.filter((one) => one.differs && paired);
  // Where nothing differs there is nothing to hide.
  const shown = all || !unlike.length ? every : unlike;
  const same = every.length - unlike.length;
  const noun = of === "forms" ? "forms" : "links and images";
  if (!every.length) return <p className="text-soft px-6 py-4 text-center">Neither page has {noun}.</p>;
  return (
    <>
      {shown.slice(0, MOST).map((one, index) => (
        <Row key={index} one={one} comparison={comparison} paired={paired} />
      ))}
      {shown.length > MOST ? <p className="text-soft px-6 py-3 text-center">{shown.length.toLocaleString("en")} in all; the first 2,000 are shown.</p> : null}
      {unlike.length && same ? (
        <div className="facing border-edge border-b">
          <div className="left" />
          <div className="mid py-2 text-[13px]">
            <button type="button" className="underline underline-offset-2" onClick={() => setAll(!all)}>
              {all ? "Only what differs" : `${same.toLocaleString("en")} the same`}
            </button>
          </div>
          <div className="right" />
        </div>
      ) : null}
    </>
  );
}

function Row({ one, comparison, paired }: { one: Beside; comparison: Comparison; paired: boolean }) {
  return (
    <div className="facing border-edge border-b">
      <Cell side="left" group={one.group} shown={one.left} base={comparison.left.base} />
      <div className={`mid text-[13px] ${(paired && INK[one.verdict]) || "text-soft"}`}>{paired ? one.verdict : "not compared"}</div>
      <Cell side="right" group={one.group} shown={one.right} base={comparison.right.base} file={paired ? one.file : null} came={paired && (one.verdict === "added" || one.verdict === "other target")} />
    </div>
  );
}

type CellProps = { side: "left" | "right"; group: string; shown: Beside["left"]; base: string; file?: Beside["file"]; came?: boolean };

function Cell({ side, group, shown, base, file, came }: CellProps) {
  const said = file ? (
    <span className={GONE.includes(file.verdict) ? "text-madder" : "text-soft"}>
      file {file.label.toLowerCase()}
      {file.said ? `: ${file.said}` : ""}
    </span>
  ) : null;
  if (!shown) return <div className={`${side} py-1.5 pl-[134px] text-[14px]`}>{said}</div>;
  return (
    <div className={`${side} grid min-w-0 grid-cols-[110px_minmax(0,1fr)] py-1.5 text-[14px]`}>
      <span className="text-soft first-letter:capitalize">{group}</span>
      <span className="min-w-0">
        {shown.label ? <bdi className="mr-2 break-words">{shown.label}</bdi> : null}
        <bdi className={`font-mono text-[13px] break-all ${came ? "decoration-indigo underline decoration-2 underline-offset-3" : "text-soft"}`}>
          {shown.address ? within(shown.address, base) : "to the page itself"}
        </bdi>
        {said ? <span className="ml-2">{said}</span> : null}
      </span>
    </div>
  );
}
