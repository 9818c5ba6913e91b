/** A line for the address rule: what it would do to the pages that are compared, and one act to take it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { api, data, type Schemas } from "../api/client";
import { count, path } from "../lib/format";
import { Button } from "./Button";
import type { Framed } from "./MoveFrame";

export function AddLine({ framed, line }: { framed: Framed; line: string }) {
  const { move } = framed;
  const queries = useQueryClient();
  const add = useMutation({
    mutationFn: () =>
      data(api.PATCH("/api/moves/{id}/", { params: { path: { id: move.id } }, body: { rule: `${(move.rule ?? "").trimEnd()}\n${line}` } })),
    onSettled: () =>
      Promise.all([
        queries.invalidateQueries({ queryKey: ["move", move.id] }),
        queries.invalidateQueries({ queryKey: ["comparisons", move.id] }),
      ]),
  });
  const comparison = framed.comparison?.id ?? 0;
  const trial = useQuery({
    queryKey: ["rule trial", comparison, line],
    queryFn: () => data(api.POST("/api/comparisons/{id}/rule-trial/", { params: { path: { id: comparison } }, body: { line } })),
    staleTime: Infinity,
    retry: false,
  });
  return (
    <>
      <p className="font-mono break-all">{line}</p>
      <p role="status">{trial.data ? <Trial {...trial.data} /> : trial.error ? trial.error.message : "Trying it …"}</p>
      <Button disabled={add.isPending || add.isSuccess} onClick={() => add.mutate()}>
        Add this line to the rule
      </Button>
      {add.error ? (
        <p role="alert" className="text-madder font-semibold">
          {add.error.message}
        </p>
      ) : null}
    </>
  );
}

/** What a line would do to the pages that are compared. */
function Trial({ planned, wrong, open, examples }: Schemas["RuleTrial"]) {
  return (
    <>
      With it <b>{planned === 1 ? "1 page is" : `${planned.toLocaleString("en")} pages are`} as planned</b>
      {wrong ? (
        <>
          , but <b className="text-madder">{wrong === 1 ? "1 is" : `${wrong.toLocaleString("en")} are`} expected in a wrong place</b>, like{" "}
          <span className="font-mono text-[13px] break-all">{path(examples[0] ?? "")}</span>
        </>
      ) : (
        ", none wrongly"
      )}
      .{open ? ` ${count(open, "page")} it names ${open === 1 ? "was" : "were"} found elsewhere, or nowhere.` : ""}
    </>
  );
}
