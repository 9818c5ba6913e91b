/** Fields of the heads of two pages, facing: what both say, and whether that is the same. */
import type { Pair } from "../../api/client";
import type { Meant } from "../Expect";
import { DIFFERS } from "./Differences";

export type FieldRow = Pair["fields"][number];

type Props = { fields: FieldRow[]; address: string | null; onMeant: (meant: Meant) => void };

export function Fields({ fields, address, onMeant }: Props) {
  return fields.map((field) => {
    const differs = field.verdict === "differs";
    return (
      <div key={field.name} className="facing border-edge border-b" {...(differs ? { [DIFFERS]: "" } : {})}>
        <Value side="left" name={field.name} value={field.left} />
        <div className={`mid flex-col text-[13px] ${differs ? "text-ochre font-bold" : "text-soft"}`}>
          {field.verdict}
          {differs && address ? (
            <button
              type="button"
              className="text-ink text-[12px] font-normal underline underline-offset-2"
              onClick={() => onMeant({ kind: field.kind, label: field.name, address })}
            >
              Mark as expected
            </button>
          ) : null}
        </div>
        <Value side="right" name={field.name} value={field.right} came={differs} />
      </div>
    );
  });
}

function Value({ side, name, value, came }: { side: "left" | "right"; name: string; value: string; came?: boolean }) {
  return (
    <div className={`${side} grid grid-cols-[110px_minmax(0,1fr)] py-1.5 text-[14px]`}>
      <span className="text-soft first-letter:capitalize">{name}</span>
      <bdi className={`break-words ${came ? "decoration-indigo underline decoration-2 underline-offset-3" : ""}`}>
        {value || <span className="text-soft">none</span>}
      </bdi>
    </div>
  );
}
