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
  // The latest comparison of each round.
  const rounds = new Map<number, Comparison>();
  for (const one of (found.data ?? []).toReversed()) if (one.state === "made" && one.right.round) rounds.set(one.right.round, one);
  const shown = [...rounds.entries()].sort(([a], [b]) => a - b).slice(-MOST);
  if (shown.length < 2) return null;
  const sums = shown.map(([, one]) => WEIGHTS.reduce((sum, [weight]) => sum + open(one, weight), 0));
  const most = Math.max(1, ...sums);
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
            </li>
          );
        })}
      </ol>
      <p className="text-soft mt-1 text-[13px]">Open findings at the end of each round; those that block on top.</p>
    </section>
  );
}
