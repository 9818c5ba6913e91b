/** The site's sections, left and right in proportion, with bands between them; what is lost breaks off. */
import { useNavigate } from "react-router";

import type { Comparison, Fate } from "../api/client";
import { folded, type Band } from "../lib/foldedSections";
import { useNarrow } from "../lib/narrow";

type Bar = { name: string; rows: number; y: number; height: number };

/** Where bars and words stand, in a window that is wide or narrow. */
/** `letters` fit left and right of the bars. */
type Frame = { width: number; left: number; right: number; stub: number; letters: [number, number] };
const WIDE: Frame = { width: 760, left: 262, right: 586, stub: 96, letters: [29, 18] };
const NARROW: Frame = { width: 400, left: 128, right: 272, stub: 40, letters: [13, 13] };
const TOP = 14;
const HEIGHT = 480;
const GAP = 16;
const BAR = 8;
const LEAST = 3;
const STUB: Partial<Record<Fate, { word: string; ink: string; dash?: string }>> = {
  lost: { word: "lost", ink: "var(--madder)" },
  unknown: { word: "not judged", ink: "var(--thread)", dash: "2 5" },
  retired: { word: "retired", ink: "var(--thread)", dash: "7 5" },
};

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
  const frame = useNarrow() ? NARROW : WIDE;
  const { left: LEFT, right: RIGHT } = frame;
  const order = new Map((comparison.checks.find((one) => one.name === "pages")?.groups ?? []).map((one, index) => [one.group, index]));
  const at = (band: Band) => order.get(band.left || band.right) ?? 999;
  const bands = folded(comparison.crossing as Band[]).sort((a, b) => at(a) - at(b) || rank(a.fate) - rank(b.fate));
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
    if (order.has(section)) show.set("group", section);
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
      <svg viewBox={`0 0 ${frame.width} ${low + 20}`} className="w-full max-w-[900px]" role="group" aria-label="The sections crossing">
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
                <NewBand y={ry + rh / 2} rows={band.rows} right={RIGHT} stub={frame.stub} />
              ) : stub ? (
                <Stub y={ly} height={lh} rows={band.rows} frame={frame} {...stub} />
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
          <Label key={bar.name} bar={bar} x={LEFT} anchor="end" letters={frame.letters[0]} />
        ))}
        {[...right.values()].map((bar) => (
          <Label key={bar.name} bar={bar} x={RIGHT} anchor="start" letters={frame.letters[1]} moved={bands.some((b) => b.right === bar.name && b.fate === "moved")} />
        ))}
      </svg>
    </div>
  );
}

function rank(fate: Fate): number {
  return ["kept", "altered", "moved", "retired", "unknown", "lost", "new"].indexOf(fate);
}

type StubProps = { y: number; height: number; rows: number; word: string; ink: string; dash?: string; frame: Frame };

function Stub({ y, height, rows, word, ink, dash, frame }: StubProps) {
  const { left, stub } = frame;
  const middle = y + height / 2;
  const end = left + BAR + stub;
  return (
    <>
      <rect x={left} y={middle - 9} width={stub + 94} height={18} fill="transparent" />
      {dash ? (
        <path d={`M${left + BAR + 2} ${middle}H${end}`} stroke={ink} strokeWidth={Math.max(3, Math.min(height, 12))} strokeDasharray={dash} />
      ) : (
        <>
          <rect x={left + BAR + 2} y={middle - Math.max(3, height) / 2} width={stub - 2} height={Math.max(3, height)} fill={ink} />
          <path d={`M${end + 1} ${middle - Math.max(9, height / 2 + 3)}V${middle + Math.max(9, height / 2 + 3)}`} stroke={ink} strokeWidth={3} />
        </>
      )}
      <text x={end + 12} y={middle + 5} fontSize={14} fontWeight={700} fill={dash ? "var(--soft)" : ink} stroke="var(--paper)" strokeWidth={4} paintOrder="stroke">
        {rows.toLocaleString("en")} {word}
      </text>
    </>
  );
}

function NewBand({ y, rows, right, stub }: { y: number; rows: number; right: number; stub: number }) {
  const ring = right - stub / 2;
  return (
    <g stroke="var(--verdigris)" strokeWidth={2} fill="none">
      <circle cx={ring} cy={y} r={5} />
      <path d={`M${ring + 5} ${y}H${right - 2}`} />
      <text x={ring - 14} y={y + 5} fontSize={14} fontWeight={700} textAnchor="end" stroke="none" fill="var(--verdigris)">
        {rows.toLocaleString("en")} new
      </text>
    </g>
  );
}

type LabelProps = { bar: Bar; x: number; anchor: "start" | "end"; letters: number; moved?: boolean };

function Label({ bar, x, anchor, letters, moved = false }: LabelProps) {
  const at = anchor === "end" ? x - 10 : x + BAR + 10;
  const middle = bar.y + Math.max(bar.height, 0) / 2;
  const name = bar.name.length > letters ? `${bar.name.slice(0, letters - 1)}…` : bar.name;
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
