/** The address rule: its lines, and addresses worked through as they are typed. */
import type { Schemas } from "../api/client";
import { path } from "../lib/format";
import { parse, type RuleForm, type RuleLine } from "../lib/rule";
import { Button } from "./Button";
import { Thread } from "./Thread";

const INPUT = "bg-leaf border-line w-full min-w-0 rounded-[3px] border px-2 py-1 font-mono text-[14px]";

export function RuleEditor({
  form,
  derived,
  added,
  onChange,
  fault,
  worked,
  tried,
  onTry,
}: {
  /** null while the rule is the derived one. */
  form: RuleForm | null;
  derived: string;
  /** Lines for further hosts that come to it as the move is saved. */
  added: string[];
  onChange: (form: RuleForm) => void;
  fault?: string;
  worked: Schemas["Worked"][];
  tried: string;
  onTry: (text: string) => void;
}) {
  const now = form ?? parse(derived);
  const set = (lines: RuleLine[]) => onChange({ ...now, lines });
  const change = (index: number, changes: Partial<RuleLine>) =>
    set(now.lines.map((line, at) => (at === index ? { ...line, ...changes } : line)));
  const typed = worked.at(-1);
  return (
    <>
      <section aria-label="Address rule">
        <div className="border-edge flex max-[899px]:flex-wrap items-center gap-3 border-b px-6 py-2.5">
          <h2 className="text-[17px]">Address rule</h2>
          <p className="text-soft text-[14px]">Which old address is expected where. Exceptions first, then the longest path.</p>
          <label className="text-soft ml-auto text-[14px]">
            Trailing slash{" "}
            <select
              className="border-line bg-leaf text-ink rounded-[3px] border px-1 py-0.5"
              value={now.slash}
              onChange={(event) => onChange({ ...now, slash: event.target.value as RuleForm["slash"] })}
            >
              <option value="keep">as it is</option>
              <option value="add">added</option>
              <option value="remove">removed</option>
            </select>
          </label>
          <Button
            look="bare"
            onClick={() => set([...now.lines, { left: "/", right: "/", only: false, dropsQuery: false }])}
          >
            Add a line
          </Button>
        </div>
        {fault ? (
          <p role="alert" className="text-madder bg-leaf px-6 py-2 font-semibold">
            {fault}
          </p>
        ) : null}
        {now.lines.map((line, index) => (
          <div key={index} className="facing bg-leaf border-edge border-b">
            <div className="left py-1.5">
              <input aria-label={`Line ${index + 1}, old`} className={INPUT} spellCheck={false} value={line.left} onChange={(event) => change(index, { left: event.target.value })} />
            </div>
            <div className="mid">
              <select
                aria-label={`Line ${index + 1}, what it takes`}
                className="bg-gutter text-soft rounded-[3px] text-center text-[13px]"
                value={line.only ? "only" : line.dropsQuery ? "drop" : "all"}
                onChange={(event) => change(index, { only: event.target.value === "only", dropsQuery: event.target.value === "drop" })}
              >
                <option value="all">becomes</option>
                <option value="drop">without query</option>
                <option value="only">only this one</option>
              </select>
            </div>
            <div className="right flex items-center gap-2 py-1.5">
              <input aria-label={`Line ${index + 1}, new`} className={INPUT} spellCheck={false} value={line.right} onChange={(event) => change(index, { right: event.target.value })} />
              {now.lines.length > 1 ? (
                <Button look="bare" onClick={() => set(now.lines.filter((_, at) => at !== index))} aria-label={`Take out line ${index + 1}`}>
                  Take out
                </Button>
              ) : null}
            </div>
          </div>
        ))}
        {added.map((line) => (
          <div key={line} className="facing bg-leaf border-edge min-h-[34px] border-b">
            <div className="left self-center truncate font-mono text-[14px]">{line.split(" -> ")[0]}</div>
            <div className="mid text-soft text-[13px]">becomes</div>
            <div className="right self-center truncate">
              <span className="font-mono text-[14px]">{line.split(" -> ")[1]}</span>
              <span className="text-soft ml-2 text-[14px]">from the further hosts</span>
            </div>
          </div>
        ))}
        {now.lines.length ? null : <p className="text-soft bg-leaf border-edge border-b px-6 py-2">It is read from the two addresses.</p>}
      </section>
      <section aria-label="Worked through">
        <div className="border-edge flex items-baseline gap-3 border-b px-6 py-2.5">
          <h2 className="text-[17px]">Worked through</h2>
          <p className="text-soft text-[14px]">
            {worked.length > 1 ? `${worked.length - 1} addresses of the source as it answers now, and one of yours.` : "Type an address of the source to see what is expected of it."}
          </p>
        </div>
        {worked.slice(0, -1).map((one) => (
          <div key={one.typed} className="facing bg-leaf border-edge h-[34px] border-b max-[899px]:h-[64px]">
            <div className="left truncate self-center font-mono text-[14px]">{path(one.typed)}</div>
            <div className="mid">
              <Thread shape={one.moves ? "bent" : "straight"} label={one.moves ? "Moves" : "Stays"} />
            </div>
            <div className="right self-center truncate">
              <Expected one={one} />
            </div>
          </div>
        ))}
        <div className="facing bg-leaf border-edge border-b">
          <div className="left py-1.5">
            <input aria-label="Try an address" className={INPUT} spellCheck={false} placeholder="an address of yours" value={tried} onChange={(event) => onTry(event.target.value)} />
          </div>
          <div className="mid">{typed?.expected ? <Thread shape={typed.moves ? "bent" : "straight"} label={typed.moves ? "Moves" : "Stays"} /> : null}</div>
          <div className="right self-center truncate" aria-live="polite">
            {typed ? <Expected one={typed} /> : null}
          </div>
        </div>
      </section>
    </>
  );
}

function Expected({ one }: { one: Schemas["Worked"] }) {
  if (one.fault) return <span className="text-madder text-[14px]">{one.fault}</span>;
  if (!one.expected) return null;
  const notes = [...(one.line ? [`line ${one.line}`] : []), ...one.notes].join(", ");
  return (
    <>
      <span className="font-mono text-[14px]">{one.expected.replace(/^https?:\/\//, "")}</span>
      <span className="text-soft ml-2 text-[14px]">{notes}</span>
    </>
  );
}
