/** Whether a dump fits a new host: its limits typed, and what fits and what does not. */
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, data, Refused } from "../api/client";
import { useRestedValue } from "../lib/restedValue";
import { OptionField } from "./Options";

export function FitCheck({ capture }: { capture: number }) {
  const [open, setOpen] = useState(false);
  const [values, setValues] = useState<Record<string, unknown>>({});
  const path = { id: capture };
  const limits = useQuery({
    queryKey: ["fit-limits", capture],
    queryFn: () => data(api.GET("/api/captures/{id}/fit/", { params: { path } })),
    enabled: open,
    staleTime: Infinity,
  });
  const tried = useRestedValue(JSON.stringify(values), 400);
  const points = useQuery({
    queryKey: ["fit", capture, tried],
    queryFn: () => data(api.POST("/api/captures/{id}/fit/", { params: { path }, body: { limits: given(JSON.parse(tried) as Record<string, unknown>) } })),
    enabled: open && tried !== "{}",
    retry: false,
  });
  const fault = points.error instanceof Refused ? points.error : undefined;
  return (
    <details className="pt-4 text-[14px]" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="cursor-pointer font-semibold">Will it fit the new host?</summary>
      <div className="grid grid-cols-[repeat(auto-fill,minmax(230px,1fr))] gap-x-6 pt-3">
        {limits.data?.map((one) => (
          <OptionField key={one.name} option={one} lines={2} value={values[one.name] ?? one.default} fault={fault?.fields[one.name]} onChange={(value) => setValues({ ...values, [one.name]: value })} />
        ))}
      </div>
      {fault && !Object.keys(fault.fields).length ? (
        <p role="alert" className="text-madder">
          {fault.message}
        </p>
      ) : null}
      <div role="status">
        <ul className="space-y-1">
          {points.data?.map((one) => (
            <li key={one.said} className={one.fits ? "text-soft" : "text-madder font-semibold"}>
              {one.said}
            </li>
          ))}
        </ul>
      </div>
      {points.data && !points.data.length ? <p className="text-soft">Type a limit of the new host.</p> : null}
    </details>
  );
}

/** Numbers that were cleared, and empty lines, are limits that nobody knows. */
function given(values: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, value === null ? 0 : Array.isArray(value) ? value.filter((line) => String(line).trim()) : value]),
  );
}
