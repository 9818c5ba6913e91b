/** Describe a move, or edit its description: two sides, who answers, the address rule worked through. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { useNavigate } from "react-router";

import { api, data, Refused, type Move } from "../api/client";
import { Button } from "../parts/Button";
import { DeleteMove } from "../parts/DeleteMove";
import { Field } from "../parts/Field";
import { FurtherHosts } from "../parts/FurtherHosts";
import { Members } from "../parts/Members";
import { RuleEditor } from "../parts/RuleEditor";
import { SideForm } from "../parts/SideForm";
import { WhoGutter } from "../parts/Who";
import { emptySide, facingHosts, furtherBody, sideBody, sideOf, type FacingHosts, type SideValue } from "../lib/host";
import { useRestedValue } from "../lib/restedValue";
import { parse, renamed, temporaryOf, withTemporary, write, type RuleForm } from "../lib/rule";

const KINDS: [NonNullable<Move["kind"]>, string][] = [
  ["name", "moves to a new host, under a new name"],
  ["host", "moves to a new host, under the same name"],
  ["restore", "is restored under the same name"],
  ["folder", "moves from one folder to another"],
  ["scheme", "moves from plain HTTP to HTTPS"],
];

export function Describe({ move, head }: { move: Move | null; head: (action: React.ReactNode) => React.ReactNode }) {
  const [name, setName] = useState(move?.name ?? "");
  const [kind, setKind] = useState<Move["kind"] | null>(move?.kind ?? null);
  const [source, setSource] = useState<SideValue>(move ? sideOf(move.source) : emptySide());
  const [destination, setDestination] = useState<SideValue>(move ? sideOf(move.destination) : emptySide());
  const [further, setFurther] = useState<FacingHosts[]>(move ? facingHosts(move) : []);
  const [rule, setRule] = useState<RuleForm | null>(move ? parse(move.rule ?? "") : null);
  const [tried, setTried] = useState("");
  const [correcting, setCorrecting] = useState(false);
  const navigate = useNavigate();
  const queries = useQueryClient();

  const sides = useMemo(() => {
    const reached = (base: string) => (rule && temporaryOf(rule, base).trim()) || base;
    const hosts = furtherBody(further, "destination", (host) => reached(host.base));
    return {
      source: sideBody(source, furtherBody(further, "source")),
      destination: { ...sideBody(destination, hosts), base: reached(destination.base) },
      move: move?.id ?? null,
    };
  }, [source, destination, further, rule, move]);
  const asked = useRestedValue(sides, 700);
  const both = /^https?:\/\/[^/\s]/i;
  const who = useQuery({
    queryKey: ["who", asked],
    queryFn: () => data(api.POST("/api/who/", { body: asked })),
    enabled: both.test(asked.source.base) && both.test(asked.destination.base),
    staleTime: 60_000,
    retry: false,
    placeholderData: keepPreviousData,
  });

  const text = rule ? write(rule) : "";
  const examples = who.data?.source.examples ?? [];
  const question = useRestedValue(
    useMemo(
      () => ({
        source: source.base,
        destination: destination.base,
        rule: text,
        connects: Boolean(destination.connect_to),
        further: further.map((row) => ({ source: row.source.base, destination: row.destination.base })),
        addresses: [...examples, tried],
      }),
      // eslint-disable-next-line react-hooks/exhaustive-deps -- examples is a new list at each answer
      [source.base, destination.base, text, destination.connect_to, further, examples.join("\n"), tried],
    ),
  );
  const worked = useQuery({
    queryKey: ["rule", question],
    queryFn: () => data(api.POST("/api/rule/", { body: question })),
    placeholderData: keepPreviousData,
  });

  const save = useMutation({
    mutationFn: () => {
      const written = text ? { rule: text } : {};
      const chosen = kind ? { kind } : {};
      const all = {
        name,
        source: sideBody(source, furtherBody(further, "source")),
        destination: sideBody(destination, furtherBody(further, "destination")),
        ...written,
        ...chosen,
      };
      return move
        ? data(api.PATCH("/api/moves/{id}/", { params: { path: { id: move.id } }, body: all }))
        : data(api.POST("/api/moves/", { body: all }));
    },
    onSuccess: async (saved) => {
      queries.setQueryData(["move", saved.id], saved);
      await queries.invalidateQueries({ queryKey: ["moves"] });
      await queries.invalidateQueries({ queryKey: ["comparisons", saved.id] });
      await navigate(`/moves/${saved.id}`);
    },
  });
  const faults = { ...worked.data?.faults, ...(save.error instanceof Refused ? save.error.fields : {}) };
  const read = kind ?? worked.data?.kind;
  const words = KINDS.find(([one]) => one === read)?.[1];

  const setTemporary = (base: string, to: string) =>
    setRule(withTemporary(rule ?? parse(worked.data?.derived ?? ""), base, to));

  return (
    <>
      {head(
        <Button look="head" onClick={() => save.mutate()} disabled={save.isPending}>
          {move ? "Save" : "Make this move"}
        </Button>,
      )}
      <main className="min-h-0 flex-1 overflow-y-auto">
        <div className="border-edge flex flex-wrap items-end gap-x-4 gap-y-2 border-b px-6 py-4">
          <h1 className="text-[26px] leading-8">
            {name || "A site"} {words ?? "moves"}.
          </h1>
          {read ? (
            <p className="text-soft pb-1 text-[14px]">
              {kind === null ? "Read from the two addresses. " : kind === move?.kind ? "As it was described. " : "As you said. "}
              {correcting ? (
                <select
                  aria-label="What kind of move it is"
                  className="border-line bg-leaf rounded-[3px] border px-2 py-0.5"
                  value={read}
                  onChange={(event) => setKind(event.target.value as Move["kind"])}
                >
                  {KINDS.map(([one, said]) => (
                    <option key={one} value={one}>
                      {said}
                    </option>
                  ))}
                </select>
              ) : (
                <button type="button" className="text-ink underline underline-offset-2" onClick={() => setCorrecting(true)}>
                  Change it
                </button>
              )}
            </p>
          ) : null}
          {save.error ? (
            <p role="alert" className="text-madder w-full font-semibold">
              {save.error.message}
            </p>
          ) : null}
        </div>
        <div className="border-edge border-b px-6 py-3">
          <Field
            className="max-w-[420px]"
            label="Name of the site"
            value={name}
            onChange={setName}
            autoFocus={!move}
            fault={faults.name}
            placeholder="As you call it"
          />
        </div>
        <div className="facing bg-leaf border-edge border-b">
          <SideForm
            which="source"
            value={source}
            stored={move ? sideOf(move.source) : null}
            onChange={setSource}
            faults={faults}
            answers={who.isError ? null : (who.data?.source ?? null)}
            asking={who.isFetching}
            refused={who.isError ? who.error.message : ""}
          />
          <WhoGutter answers={who.data ?? null} moves={read !== "restore" && read !== "host"} />
          <SideForm
            which="destination"
            value={destination}
            stored={move ? sideOf(move.destination) : null}
            onChange={(to) => {
              setDestination(to);
              setRule(rule && renamed(rule, destination.base, to.base));
            }}
            temporary={rule ? temporaryOf(rule, destination.base) : ""}
            onTemporary={(to) => setTemporary(destination.base, to)}
            faults={faults}
            answers={who.isError ? null : (who.data?.destination ?? null)}
            asking={who.isFetching}
            refused={who.isError ? who.error.message : ""}
          />
        </div>
        <FurtherHosts
          rows={further}
          stored={move ? facingHosts(move) : []}
          onChange={(rows) => {
            setFurther(rows);
            const before = (place: number) => further.find((row) => row.place === place)?.destination.base ?? "";
            setRule(rule && rows.reduce((form, row) => renamed(form, before(row.place), row.destination.base), rule));
          }}
          temporaryOf={(base) => (rule ? temporaryOf(rule, base) : "")}
          onTemporary={setTemporary}
          faults={faults}
          answers={who.isError ? [] : (who.data?.further ?? [])}
          asking={who.isFetching}
        />
        <RuleEditor
          form={rule}
          added={worked.data?.added ?? []}
          derived={worked.data?.derived ?? ""}
          onChange={setRule}
          fault={faults.rule}
          worked={worked.data?.worked ?? []}
          tried={tried}
          onTry={setTried}
        />
        {move ? <Members move={move} /> : null}
        {move ? <DeleteMove move={move} /> : null}
      </main>
    </>
  );
}
