/** A thread in the gutter: its shape says what became of the row; colour only helps. */
import type { Fate } from "../api/client";

export const FATE_WORDS: Record<Fate, string> = {
  lost: "Lost",
  unknown: "Not judged",
  altered: "Altered",
  moved: "Moved",
  new: "New",
  retired: "Retired",
  kept: "Kept",
};

/** Classes of the words beside a thread. */
export const FATE_INK: Record<Fate, string> = {
  lost: "text-madder",
  unknown: "text-soft",
  altered: "text-ochre",
  moved: "text-indigo",
  new: "text-verdigris",
  retired: "text-soft",
  kept: "text-soft",
};

const WAVE = "M4 17h26c4 0 4-8 8-8s4 16 9 16 5-16 10-16 5 8 9 8h38";

function shape(fate: Fate, altered: boolean) {
  switch (fate) {
    case "lost":
      return <path d="M4 17h44M48 9v16" strokeWidth={3} />;
    case "unknown":
      return (
        <>
          <path d="M4 17h34" />
          <path d="M40 17h64" strokeDasharray="1.5 6" strokeLinecap="round" strokeWidth={3} />
        </>
      );
    case "altered":
      return <path d={WAVE} />;
    case "moved":
      return altered ? (
        <path d="M4 22h14c4 0 4-6 8-6s4 12 8 12 4-14 10-16c6-2 8-1 12-1h46m-7-5 7 5-7 5" />
      ) : (
        <path d="M4 22h32c12 0 10-11 22-11h44m-7-5 7 5-7 5" />
      );
    case "new":
      return (
        <>
          <circle cx="56" cy="17" r="5" />
          <path d="M61 17h43" />
        </>
      );
    case "retired":
      return <path d="M4 17h50" strokeDasharray="5 4" />;
    case "kept":
      return <path d="M4 17h100" />;
  }
}

export function Thread({ fate, altered = false }: { fate: Fate; altered?: boolean }) {
  const ink = fate === "kept" ? "text-thread" : FATE_INK[fate];
  return (
    <svg
      viewBox="0 0 108 34"
      width={108}
      height={34}
      className={`shrink-0 ${ink}`}
      fill="none"
      stroke="currentColor"
      strokeWidth={2}
      role="img"
      aria-label={`${FATE_WORDS[fate]}${fate === "moved" && altered ? " and altered" : ""}`}
    >
      {shape(fate, altered)}
    </svg>
  );
}
