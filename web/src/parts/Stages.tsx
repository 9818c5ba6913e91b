/** The stages of a move in the head; a person sets the present one here. */
import { useMutation, useQueryClient } from "@tanstack/react-query";

import { api, data, type Move } from "../api/client";

const STAGES = [
  ["baseline", "Baseline"],
  ["rehearsal", "Rehearsal"],
  ["switch", "Switch"],
  ["watch", "Watch"],
  ["sign-off", "Sign-off"],
] as const;

/** Set the stage; the verdict follows, since what it leads to is another. */
function useSetStage(move: Move) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (stage: (typeof STAGES)[number][0]) =>
      data(api.PATCH("/api/moves/{id}/", { params: { path: { id: move.id } }, body: { stage } })),
    onSuccess: (changed) => {
      queries.setQueryData(["move", move.id], changed);
      // What the verdict leads to follows from the stage.
      void queries.invalidateQueries({ queryKey: ["comparisons", move.id] });
    },
  });
}

/** The stages as one choice, where they do not fit beside each other. */
export function StageChoice({ move }: { move: Move }) {
  const set = useSetStage(move);
  return (
    <select
      aria-label="Stage of the move"
      className="border-line bg-leaf text-ink h-[34px] rounded-[3px] border px-2 text-[14px] font-semibold"
      value={move.stage ?? ""}
      onChange={(event) => set.mutate(event.target.value as (typeof STAGES)[number][0])}
    >
      {STAGES.map(([stage, name]) => (
        <option key={stage} value={stage}>
          {name}
        </option>
      ))}
    </select>
  );
}

export function Stages({ move }: { move: Move }) {
  const set = useSetStage(move);
  const now = STAGES.findIndex(([stage]) => stage === move.stage);
  return (
    <div role="radiogroup" aria-label="Stage of the move" className="flex items-center gap-2 text-[14px] max-[1100px]:hidden">
      {STAGES.map(([stage, name], index) => (
        <span key={stage} className="flex items-center gap-2">
          {index > 0 ? <span className="h-px w-4 bg-[#6f7f82]" aria-hidden /> : null}
          <button
            type="button"
            role="radio"
            aria-checked={index === now}
            onClick={() => set.mutate(stage)}
            title={index === now ? "The present stage" : `Say that the move is at ${name}`}
            className={`flex items-center gap-1.5 hover:underline ${index === now ? "font-bold text-[#fbfdfc]" : "text-[#b9c6c8]"}`}
          >
            <svg viewBox="0 0 14 14" width={14} height={14} aria-hidden>
              <path
                d="M7 1l6 6-6 6-6-6z"
                fill={index <= now ? "currentColor" : "none"}
                stroke="currentColor"
                strokeWidth={1.3}
              />
            </svg>
            {name}
          </button>
        </span>
      ))}
    </div>
  );
}
