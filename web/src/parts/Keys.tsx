/** The keys of a view: the line at its foot, and the whole list behind `?`. */
import type { ReactNode } from "react";

import { Dialog } from "./Dialog";

export type KeyLine = { keys: string[]; does: string };

function Key({ name }: { name: string }) {
  return (
    <kbd className="border-line bg-leaf inline-block min-w-[22px] rounded-[3px] border px-1.5 text-center font-mono text-[12px] leading-[18px]">
      {name}
    </kbd>
  );
}

export function KeyFoot({ lines, said, children }: { lines: KeyLine[]; said?: string; children?: ReactNode }) {
  return (
    <footer className="border-edge bg-leaf text-soft flex min-h-[36px] shrink-0 items-center gap-x-5 border-t px-6 text-[13px] max-[899px]:flex-wrap max-[899px]:px-4 max-[899px]:py-1">
      {/* Keys that do not fit stand on a line of their own, which is not seen. */}
      <div className="flex h-[36px] min-w-0 flex-1 flex-wrap items-center gap-x-5 overflow-hidden max-[899px]:hidden">
        {lines.map((line) => (
          <span key={line.does} className="flex h-[36px] items-center gap-1 whitespace-nowrap">
            {line.keys.map((key) => (
              <Key key={key} name={key} />
            ))}
            <span className="ml-0.5">{line.does}</span>
          </span>
        ))}
      </div>
      {children ? <span className="min-[900px]:whitespace-nowrap">{children}</span> : null}
      <span className="ml-auto whitespace-nowrap" role="status">
        {said}
      </span>
    </footer>
  );
}

export function KeyList({ lines, open, onClose }: { lines: KeyLine[]; open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Keys of this view">
      <ul className="space-y-2">
        {lines.map((line) => (
          <li key={line.does} className="flex items-center gap-2">
            {line.keys.map((key) => (
              <Key key={key} name={key} />
            ))}
            <span>{line.does}</span>
          </li>
        ))}
      </ul>
      <p className="text-soft mt-4 text-[13px]">Escape closes this.</p>
    </Dialog>
  );
}
