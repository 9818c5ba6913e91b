/** The site's sections, left and right in proportion, with bands between them; what is lost breaks off. */
import { useNavigate } from "react-router";

import type { Comparison, Fate } from "../api/client";

type Band = { left: string; right: string; fate: Fate; rows: number };
type Bar = { name: string; rows: number; y: number; height: number };

const WIDTH = 760;
const TOP = 14;
const HEIGHT = 480;
const GAP = 16;
const LEFT = 262;
const RIGHT = 586;
const BAR = 8;
const LEAST = 3;
const MOST_SECTIONS = 12;
const OTHERS = "other sections";
const STUB: Partial<Record<Fate, { word: string; ink: string; dash?: string }>> = {
  lost: { word: "lost", ink: "var(--madder)" },
  unknown: { word: "not judged", ink: "var(--thread)", dash: "2 5" },
  retired: { word: "retired", ink: "var(--thread)", dash: "7 5" },
};

/** Keep the largest sections apart; the rest stand together. */
function gather(bands: Band[]): Band[] {
  const rows = new Map<string, number>();
  for (const band of bands)
    for (const name of new Set([band.left, band.right])) if (name) rows.set(name, (rows.get(name) ?? 0) + band.rows);
  const kept = new Set([...rows].sort((a, b) => b[1] - a[1]).slice(0, MOST_SECTIONS).map(([name]) => name));
  const named = (name: string) => (!name || kept.has(name) ? name : OTHERS);
  const sums = new Map<string, Band>();
  for (const band of bands) {
    // What stays or alters in its place is one band: the fate of its pages is told by the ledger.
    const fate: Fate = band.fate === "altered" ? "kept" : band.fate;
    const key = [named(band.left), named(band.right), fate].join("\n");
    const sum = sums.get(key) ?? { left: named(band.left), right: named(band.right), fate, rows: 0 };
    sum.rows += band.rows;
    sums.set(key, sum);
  }
  return [...sums.values()];
}

function bars(bands: Band[], side: "left" | "right", scale: number): Map<string, Bar> {
  const rows = new Map<string, number>();
  for (const band of bands) if (band[side]) rows.set(band[side], (rows.get(band[side]) ?? 0) + band.rows);
  const found = new Map<string, Bar>();
  let y = TOP;
  for (const [name, number] of rows) {
    const height = Math.max(LEAST, number * scale);
    found.set(name, { name, rows: number, y, height });
    y += Math.max(height, 22) + GAP;
  }
  return found;
}

export function Crossing({ comparison, move }: { comparison: Comparison; move: number }) {
  const navigate = useNavigate();
  const order = new Map((comparison.checks.find((one) => one.name === "pages")?.groups ?? []).map((one, index) => [one.group, index]));
  const at = (band: Band) => order.get(band.left || band.right) ?? 999;
  const bands = gather(comparison.crossing as Band[]).sort((a, b) => at(a) - at(b) || rank(a.fate) - rank(b.fate));
  const total = bands.reduce((sum, band) => sum + band.rows, 0);
  const sections = new Set(bands.flatMap((band) => [band.left, band.right])).size;
  const scale = Math.max(60, HEIGHT - sections * GAP) / Math.max(1, total);
  const left = bars(bands, "left", scale);
  const right = bars(bands, "right", scale);
  const low = Math.max(...[...left.values(), ...right.values()].map((bar) => bar.y + Math.max(bar.height, 22)), 60);
  const used = { left: new Map<string, number>(), right: new Map<string, number>() };

  function take(side: "left" | "right", bar: Bar | undefined, rows: number): [number, number] {
    if (!bar) return [0, 0];
    const before = used[side].get(bar.name) ?? 0;
    used[side].set(bar.name, before + rows);
    const unit = bar.height / bar.rows;
    return [bar.y + before * unit, Math.max(1, rows * unit)];
  }

  function open(band: Band) {
    const show = new URLSearchParams();
    const section = band.left || band.right;
    if (band.fate !== "kept") show.set("verdict", band.fate);
    if (section !== OTHERS) show.set("group", section);
    void navigate(`/moves/${move}/pages?${show.toString()}`);
  }
  const placed = bands.map((band) => ({
    band,
    start: take("left", left.get(band.left), band.rows),
    end: take("right", right.get(band.right), band.rows),
  }));
  // What breaks off is drawn last, so that its words lie above the bands that pass by.
  const flowing = (fate: Fate) => fate !== "new" && !STUB[fate];
  const drawn = [...placed.filter((one) => flowing(one.band.fate)), ...placed.filter((one) => !flowing(one.band.fate))];

  return (
    <div className="border-edge min-w-0 border-t px-2 pb-6">
      <svg viewBox={`0 0 ${WIDTH} ${low + 20}`} className="w-full max-w-[900px]" role="group" aria-label="The sections crossing">
        {drawn.map(({ band, start: [ly, lh], end: [ry, rh] }) => {
          const stub = STUB[band.fate];
          const said = `${band.rows.toLocaleString("en")} ${stub?.word ?? band.fate}, ${band.left || band.right}`;
          return (
            <g
              key={[band.left, band.right, band.fate].join()}
              role="link"
              tabIndex={0}
              aria-label={said}
              className="cursor-pointer hover:opacity-80"
              onClick={() => open(band)}
              onKeyDown={(event) => event.key === "Enter" && open(band)}
            >
              <title>{said}</title>
              {band.fate === "new" ? (
                <NewBand y={ry + rh / 2} rows={band.rows} />
              ) : stub ? (
                <Stub y={ly} height={lh} rows={band.rows} {...stub} />
              ) : (
                <path
                  d={`M${LEFT + BAR + 2} ${ly}C${(LEFT + RIGHT) / 2} ${ly} ${(LEFT + RIGHT) / 2} ${ry} ${RIGHT - 2} ${ry}v${rh}C${(LEFT + RIGHT) / 2} ${ry + rh} ${(LEFT + RIGHT) / 2} ${ly + lh} ${LEFT + BAR + 2} ${ly + lh}z`}
                  fill={band.fate === "moved" ? "var(--band-moved)" : "var(--band)"}
                />
              )}
            </g>
          );
        })}
        {[...left.values()].map((bar) => (
          <Label key={bar.name} bar={bar} x={LEFT} anchor="end" />
        ))}
        {[...right.values()].map((bar) => (
          <Label key={bar.name} bar={bar} x={RIGHT} anchor="start" moved={bands.some((b) => b.right === bar.name && b.fate === "moved")} />
        ))}
      </svg>
    </div>
  );
}

function rank(fate: Fate): number {
  return ["kept", "altered", "moved", "retired", "unknown", "lost", "new"].indexOf(fate);
}

function Stub({ y, height, rows, word, ink, dash }: { y: number; height: number; rows: number; word: string; ink: string; dash?: string }) {
  const middle = y + height / 2;
  const end = LEFT + BAR + 96;
  return (
    <>
      <rect x={LEFT} y={middle - 9} width={190} height={18} fill="transparent" />
      {dash ? (
        <path d={`M${LEFT + BAR + 2} ${middle}H${end}`} stroke={ink} strokeWidth={Math.max(3, Math.min(height, 12))} strokeDasharray={dash} />
      ) : (
        <>
          <rect x={LEFT + BAR + 2} y={middle - Math.max(3, height) / 2} width={94} height={Math.max(3, height)} fill={ink} />
          <path d={`M${end + 1} ${middle - Math.max(9, height / 2 + 3)}V${middle + Math.max(9, height / 2 + 3)}`} stroke={ink} strokeWidth={3} />
        </>
      )}
      <text x={end + 12} y={middle + 5} fontSize={14} fontWeight={700} fill={dash ? "var(--soft)" : ink} stroke="var(--paper)" strokeWidth={4} paintOrder="stroke">
        {rows.toLocaleString("en")} {word}
      </text>
    </>
  );
}

function NewBand({ y, rows }: { y: number; rows: number }) {
  return (
    <g stroke="var(--verdigris)" strokeWidth={2} fill="none">
      <circle cx={RIGHT - 48} cy={y} r={5} />
      <path d={`M${RIGHT - 43} ${y}H${RIGHT - 2}`} />
      <text x={RIGHT - 62} y={y + 5} fontSize={14} fontWeight={700} textAnchor="end" stroke="none" fill="var(--verdigris)">
        {rows.toLocaleString("en")} new
      </text>
    </g>
  );
}

function Label({ bar, x, anchor, moved = false }: { bar: Bar; x: number; anchor: "start" | "end"; moved?: boolean }) {
  const at = anchor === "end" ? x - 10 : x + BAR + 10;
  const middle = bar.y + Math.max(bar.height, 0) / 2;
  const name = bar.name.length > 26 ? `${bar.name.slice(0, 25)}…` : bar.name;
  return (
    <g>
      <rect x={x} y={bar.y} width={BAR} height={bar.height} fill={moved ? "var(--indigo)" : "var(--ink)"} />
      <text x={at} y={middle + 1} textAnchor={anchor} fontSize={14} fontFamily="var(--font-mono)" fill="var(--ink)">
        {name}
        <title>{bar.name}</title>
      </text>
      <text x={at} y={middle + 16} textAnchor={anchor} fontSize={12} fill="var(--soft)">
        {bar.rows.toLocaleString("en")}
        {moved ? " moved" : ""}
      </text>
    </g>
  );
}
