/** The ledger of pages in groups: sections, causes or templates, each with what became of its pages. */
import { useNavigate } from "react-router";

import { api, data, type Comparison, type Fate, type Schemas } from "../api/client";
import { FATE_WORDS, Thread } from "./Thread";
import { Ledger, type Page } from "./Ledger";
import { count } from "../lib/format";

export type Grouping = "section" | "cause" | "template";
type Group = Schemas["Group"];

export const GROUPINGS: Record<Grouping, string> = { section: "By section", cause: "By cause", template: "By template" };

const FATES = Object.keys(FATE_WORDS) as Fate[];

type Props = {
  comparison: Comparison;
  move: number;
  by: Grouping;
  selected: number;
  onSelect: (index: number) => void;
  onTotal: (total: number, open: (index: number) => void) => void;
};

export function Groups({ comparison, move, by, selected, onSelect, onTotal }: Props) {
  const navigate = useNavigate();

  function link(group: Group) {
    return `/moves/${move}/pages?${new URLSearchParams({ [by]: group.key }).toString()}`;
  }

  return (
    <Ledger<Group>
      name={["groups", comparison.id, by]}
      ask={async (first, rows) => {
        const groups = await data(api.GET("/api/comparisons/{id}/groups/", { params: { path: { id: comparison.id }, query: { by } } }));
        return { total: groups.length, at_least: false, counts: {}, rows: groups.slice(first, first + rows) } as Page<Group>;
      }}
      selected={selected}
      onSelect={onSelect}
      link={link}
      left={(group) => (
        <span title={group.name}>
          <span className={by === "cause" ? "text-[15px] font-semibold" : "font-mono text-[14px]"}>{group.name}</span>
          <span className="text-soft ml-2 text-[14px]">{count(group.rows, "row")}</span>
        </span>
      )}
      mid={(group) => <Thread fate={FATES.find((fate) => group.fates[fate]) ?? "kept"} />}
      right={(group) => (
        <span className="text-[14px]">
          {FATES.filter((fate) => group.fates[fate])
            .map((fate) => `${(group.fates[fate] ?? 0).toLocaleString("en")} ${FATE_WORDS[fate].toLowerCase()}`)
            .join(", ")}
        </span>
      )}
      onPage={(page, at) =>
        onTotal(page.total, (index) => {
          const group = at(index);
          if (group) void navigate(link(group));
        })
      }
      onVisible={() => undefined}
      empty={<p className="font-serif text-[17px]">{by === "cause" ? "No cause stands on any page." : "There are no rows to group."}</p>}
    />
  );
}
