/** Round by round: how many findings were open, by weight. Shown from the second round on. */
import { type Comparison, type Finding } from "../api/client";
import { count } from "../lib/format";
import { useComparison } from "../lib/queries";

const WEIGHTS: [Finding["weight"], string, string][] = [
  ["blocks", "fill-madder", "block"],
  ["mend", "fill-ochre", "want mending"],
  ["note", "fill-thread", "are notes"],
];
const HEIGHT = 76;
const MOST = 12;

function open(comparison: Comparison, weight: string): number {
  return comparison.findings.filter((one) => one.state === "open" && one.weight === weight).reduce((sum, one) => sum + one.number, 0);
}

export function Rounds({ move }: { move: number }) {
  const found = useComparison(move);
  // The latest comparison of each round, and the first, which says what became of the findings of the round before.
  const rounds = new Map<number, Comparison>();
  const begun = new Map<number, Comparison>();
  for (const one of (found.data ?? []).toReversed()) {
    const round = one.right.round;
    if (one.state !== "made" || !round) continue;
    rounds.set(round, one);
    if (!begun.has(round)) begun.set(round, one);
  }
  const shown = [...rounds.entries()].sort(([a], [b]) => a - b).slice(-MOST);
  if (shown.length < 2) return null;
  const sums = shown.map(([, one]) => WEIGHTS.reduce((sum, [weight]) => sum + open(one, weight), 0));
  const most = Math.max(1, ...sums);
  const last = shown.at(-1)?.[0] ?? 0;
  const { fresh = 0, returned = 0, cleared = 0 } = begun.get(last)?.standing?.since ?? {};
  return (
    <section aria-label="Round by round" className="pt-2">
      <h2 className="mb-2 text-[15px]">Round by round</h2>
      <ol className="flex items-end gap-3">
        {shown.map(([round, one], at) => {
          let top = HEIGHT;
          return (
            <li key={round} className="text-center text-[13px]">
              <span className="block font-semibold">{(sums[at] ?? 0).toLocaleString("en")}</span>
              <svg width={30} height={HEIGHT} role="img" aria-label={WEIGHTS.map(([weight, , said]) => `${count(open(one, weight), "open finding")} ${said}`).join(", ")}>
                {WEIGHTS.toReversed().map(([weight, ink]) => {
                  const height = (HEIGHT * open(one, weight)) / most;
                  top -= height;
                  return <rect key={weight} x={4} width={22} y={top} height={height} className={ink} />;
                })}
              </svg>
              <span className="text-soft block">{round}</span>
              <Change since={begun.get(round)?.standing?.since} />
            </li>
          );
        })}
      </ol>
      <p className="mt-1 text-[14px]">
        Round {last}: {fresh.toLocaleString("en")} new, {returned.toLocaleString("en")} back, {cleared.toLocaleString("en")} cleared; {(sums.at(-1) ?? 0).toLocaleString("en")} open now.
      </p>
      <p className="text-soft text-[13px]">Open findings at the end of each round, those that block on top; below, how many came and how many were cleared.</p>
    </section>
  );
}

/** How many findings a round brought, and how many it cleared. */
function Change({ since }: { since?: { fresh?: number; returned?: number; cleared?: number } | null }) {
  if (since?.fresh === undefined) return <span className="text-soft block text-[12px]">first</span>;
  return (
    <span className="block text-[12px] whitespace-nowrap" title={`${since.fresh} new, ${since.returned ?? 0} back, ${since.cleared ?? 0} cleared`}>
      <span className="text-indigo">+{(since.fresh + (since.returned ?? 0)).toLocaleString("en")}</span> <span className="text-soft">−{(since.cleared ?? 0).toLocaleString("en")}</span>
    </span>
  );
}
