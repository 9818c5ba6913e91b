/** Options of a check: what would come of them is shown before they are saved. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused, type Check, type Schemas } from "../api/client";
import { count, moment } from "../lib/format";
import { useRestedValue } from "../lib/restedValue";
import { Button } from "./Button";
import { Dialog } from "./Dialog";

type Option = Schemas["DescribedOption"];
type Values = Record<string, unknown>;

/** ``named``: several checks of the view have options. */
export function Options({ move, comparison, check, named = false }: { move: number; comparison: number; check: Check; named?: boolean }) {
  const [open, setOpen] = useState(false);
  const held = useQuery({
    queryKey: ["options", move],
    queryFn: () => data(api.GET("/api/moves/{id}/options/", { params: { path: { id: move } } })),
    enabled: open,
  });
  const mine = held.data?.find((one) => one.check === check.name);
  return (
    <>
      <button type="button" className="text-[14px] whitespace-nowrap underline underline-offset-2" onClick={() => setOpen(true)}>
        {named ? `Options of ${check.title.toLowerCase()} …` : "Options …"}
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title={`Options of ${check.title.toLowerCase()}`} wide>
        {mine ? (
          <Form key={mine.made_at ?? ""} move={move} comparison={comparison} check={check} held={mine} onDone={() => setOpen(false)} />
        ) : (
          <p role="status">{held.error ? held.error.message : "Reading the options …"}</p>
        )}
      </Dialog>
    </>
  );
}

type FormProps = { move: number; comparison: number; check: Check; held: Schemas["Options"]; onDone: () => void };

function Form({ move, comparison, check, held, onDone }: FormProps) {
  const [values, setValues] = useState<Values>(Object.fromEntries(held.options.map((one) => [one.name, one.value])));
  const queries = useQueryClient();
  const changed = held.options.some((one) => JSON.stringify(values[one.name]) !== JSON.stringify(one.value));
  const tried = useRestedValue(JSON.stringify(values), 400);
  const path = { id: comparison, check: check.name };
  const draft = useQuery({
    queryKey: ["draft", comparison, check.name, tried],
    queryFn: () =>
      data(api.POST("/api/comparisons/{id}/checks/{check}/draft/", { params: { path }, body: { values: JSON.parse(tried) as Values } })),
    enabled: changed,
    retry: false,
  });
  const save = useMutation({
    mutationFn: () =>
      data(api.PUT("/api/moves/{id}/options/{check}/", { params: { path: { id: move, check: check.name } }, body: { values } })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ["options", move] });
      void queries.invalidateQueries({ queryKey: ["comparisons", move] });
      onDone();
    },
  });
  const fault = [save.error, draft.error].find((one) => one instanceof Refused);
  const set = (name: string, value: unknown) => setValues({ ...values, [name]: value });
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      {held.options.map((one) => (
        <OptionField key={one.name} option={one} value={values[one.name]} fault={fault?.fields[`values.${one.name}`]} onChange={(value) => set(one.name, value)} />
      ))}
      <p role="status" className="text-soft mb-3 min-h-6 text-[14px]">
        {!changed
          ? held.made_at
            ? `Set by ${held.author}, ${moment(held.made_at)}.`
            : "These are the defaults."
          : draft.data
            ? `With these: ${draft.data.verdicts.filter((one) => one.rows).map((one) => `${one.rows.toLocaleString("en")} ${one.label.toLowerCase()}`).join(", ") || "no rows"}; ${count(draft.data.findings, "finding")}.`
            : draft.error
              ? ""
              : "Trying them …"}
      </p>
      {fault && !Object.keys(fault.fields).length ? (
        <p role="alert" className="text-madder mb-3">
          {fault.message}
        </p>
      ) : null}
      <div className="flex gap-3">
        <Button look="strong" type="submit" disabled={!changed || save.isPending}>
          Save and compare
        </Button>
        <Button look="bare" onClick={() => setValues(Object.fromEntries(held.options.map((one) => [one.name, one.default])))}>
          Defaults
        </Button>
      </div>
    </form>
  );
}

type OptionProps = { option: Option; value: unknown; fault?: string; lines?: number; onChange: (value: unknown) => void };

export function OptionField({ option, value, fault, lines = 7, onChange }: OptionProps) {
  const look = "border-line bg-leaf w-full rounded-[3px] border px-2 py-1.5";
  const id = `option-${option.name}`;
  const more = { id, "aria-describedby": `${id}-help`, "aria-invalid": fault ? true : undefined };
  return (
    <div className="mb-3">
      <label htmlFor={id} className="font-bold">
        {option.label}
      </label>
      {option.kind === "truth" ? (
        <input {...more} type="checkbox" className="ml-2" checked={value === true} onChange={(event) => onChange(event.target.checked)} />
      ) : option.kind === "lines" ? (
        <textarea {...more} rows={lines} spellCheck={false} className={`${look} font-mono text-[14px]`} value={(value as string[]).join("\n")} onChange={(event) => onChange(event.target.value.split("\n"))} />
      ) : (
        <input
          {...more}
          className={look}
          type={option.kind === "number" ? "number" : "text"}
          step="any"
          value={String(value)}
          onChange={(event) => onChange(option.kind === "number" ? event.target.valueAsNumber : event.target.value)}
        />
      )}
      <p id={`${id}-help`} className={`text-[14px] ${fault ? "text-madder" : "text-soft"}`} role={fault ? "alert" : undefined}>
        {fault ?? option.help}
      </p>
    </div>
  );
}
