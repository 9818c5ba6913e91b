/** The rows of a check in groups: sections, causes or templates, each with what became of its rows. */
import { useNavigate } from "react-router";

import { api, data, type Check, type Comparison, type Schemas } from "../api/client";
import { Thread, verdictOf } from "./Thread";
import { Ledger, type Page } from "./Ledger";
import { count } from "../lib/format";

type Group = Schemas["Group"];

/** The ways in which the rows of a check are grouped, with what each is called. */
export function groupings(check: Check): Record<string, string> {
  return {
    ...(check.groups_label ? { group: `By ${check.groups_label.toLowerCase()}` } : {}),
    cause: "By cause",
    ...Object.fromEntries(check.filters.map((one) => [one, `By ${one}`])),
  };
}

type Props = {
  comparison: Comparison;
  check: Check;
  move: number;
  by: string;
  selected: number;
  onSelect: (index: number) => void;
  onTotal: (total: number, open: (index: number) => void) => void;
};

export function Groups({ comparison, check, move, by, selected, onSelect, onTotal }: Props) {
  const navigate = useNavigate();
  const words = check.verdicts.map((one) => one.word);

  function link(group: Group) {
    const chosen: Record<string, string> = by === "group" ? { group: group.key } : by === "cause" ? { cause: group.key } : { filter: `${by}:${group.key}` };
    return `/moves/${move}/${check.view}?${new URLSearchParams(chosen).toString()}`;
  }

  return (
    <Ledger<Group>
      parts={[
        {
          name: ["groups", comparison.id, comparison.judgement, check.name, by],
          ask: async (first, rows) => {
            const path = { id: comparison.id, check: check.name };
            const groups = await data(api.GET("/api/comparisons/{id}/checks/{check}/groups/", { params: { path, query: { by } } }));
            return { total: groups.length, at_least: false, counts: {}, rows: groups.slice(first, first + rows) } as Page<Group>;
          },
        },
      ]}
      selected={selected}
      onSelect={onSelect}
      link={link}
      left={(group) => (
        <span title={group.name}>
          <span className={by === "cause" ? "text-[15px] font-semibold" : "font-mono text-[14px]"}>{group.name}</span>
          <span className="text-soft ml-2 text-[14px]">{count(group.rows, "row")}</span>
        </span>
      )}
      mid={(group) => {
        const { label, shape } = verdictOf(check, words.find((word) => group.verdicts[word]) ?? "");
        return <Thread shape={shape} label={label} />;
      }}
      right={(group) => (
        <span className="text-[14px]">
          {words
            .filter((word) => group.verdicts[word])
            .map((word) => `${(group.verdicts[word] ?? 0).toLocaleString("en")} ${verdictOf(check, word).label.toLowerCase()}`)
            .join(", ")}
        </span>
      )}
      onPages={(pages, at) =>
        onTotal(pages[0]?.total ?? 0, (index) => {
          const group = at(index);
          if (group) void navigate(link(group));
        })
      }
      onVisible={() => undefined}
      empty={<p className="font-serif text-[17px]">{by === "cause" ? "No cause stands on any row." : "There are no rows to group."}</p>}
    />
  );
}
