/** The rows of all checks of a view as files: where there are several checks, behind one button. */
import { useState } from "react";

import type { Check } from "../api/client";
import { Dialog } from "./Dialog";
import { ExportLinks } from "./ExportLinks";

export function ExportRows({ comparison, checks }: { comparison: number; checks: Check[] }) {
  const [open, setOpen] = useState(false);
  const path = (check: Check) => `/api/comparisons/${comparison}/checks/${check.name}/export/`;
  const [alone] = checks;
  if (checks.length === 1 && alone)
    return (
      <>
        all rows as
        <ExportLinks path={path(alone)} />
      </>
    );
  return (
    <>
      <button type="button" className="text-ink underline" onClick={() => setOpen(true)}>
        Rows as files …
      </button>
      <Dialog open={open} onClose={() => setOpen(false)} title="All rows as files">
        <ul className="space-y-2">
          {checks.map((check) => (
            <li key={check.name}>
              {check.title}:
              <ExportLinks path={path(check)} />
            </li>
          ))}
        </ul>
      </Dialog>
    </>
  );
}
