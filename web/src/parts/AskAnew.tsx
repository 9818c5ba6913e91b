/** Have the checks of a view ask the hosts anew, without a capture of all pages. */
import { useMutation, useQueryClient } from "@tanstack/react-query";

import { api, data } from "../api/client";
import { moment } from "../lib/format";
import { isOpen } from "../lib/queries";
import { Button } from "./Button";
import type { Framed } from "./MoveFrame";

export function AskAnew({ framed }: { framed: Framed }) {
  const { move, comparison, latest } = framed;
  const asking = framed.asked.filter(isOpen);
  const queries = useQueryClient();
  const ask = useMutation({
    mutationFn: () => data(api.POST("/api/moves/{id}/ask/", { params: { path: { id: move.id } } })),
    onSettled: () => queries.invalidateQueries({ queryKey: ["captures", move.id] }),
  });
  const under = asking.length > 0 || latest?.state === "waiting";
  const paused = asking.find((one) => one.state === "paused");
  const said = paused
    ? `Paused: ${paused.why}`
    : asking.length
      ? "Asking the hosts …"
      : latest?.state === "waiting"
        ? "Comparing …"
        : comparison?.asked_at
          ? `Checked ${moment(comparison.asked_at)}`
          : "As captured";
  return (
    <>
      <span role="status" className="text-soft text-[14px]">
        {said}
      </span>
      <Button onClick={() => ask.mutate()} disabled={under || ask.isPending} title="Ask the hosts anew for what these checks read, and compare">
        Check now
      </Button>
      {ask.error ? (
        <span role="alert" className="text-madder text-[14px]">
          {ask.error.message}
        </span>
      ) : null}
    </>
  );
}
