/** A thread in the gutter: its shape says what became of the row; colour only helps. */
import type { Check, ThreadShape } from "../api/client";

/** Classes of the words beside a thread. */
export const THREAD_INK: Record<ThreadShape, string> = {
  cut: "text-madder",
  dots: "text-soft",
  wavy: "text-ochre",
  bent: "text-indigo",
  ring: "text-verdigris",
  dashed: "text-soft",
  straight: "text-soft",
};

const WAVE = "M4 17h26c4 0 4-8 8-8s4 16 9 16 5-16 10-16 5 8 9 8h38";

function drawn(shape: ThreadShape, wave: boolean) {
  switch (shape) {
    case "cut":
      return <path d="M4 17h44M48 9v16" strokeWidth={3} />;
    case "dots":
      return (
        <>
          <path d="M4 17h34" />
          <path d="M40 17h64" strokeDasharray="1.5 6" strokeLinecap="round" strokeWidth={3} />
        </>
      );
    case "wavy":
      return <path d={WAVE} />;
    case "bent":
      return wave ? (
        <path d="M4 22h14c4 0 4-6 8-6s4 12 8 12 4-14 10-16c6-2 8-1 12-1h46m-7-5 7 5-7 5" />
      ) : (
        <path d="M4 22h32c12 0 10-11 22-11h44m-7-5 7 5-7 5" />
      );
    case "ring":
      return (
        <>
          <circle cx="56" cy="17" r="5" />
          <path d="M61 17h43" />
        </>
      );
    case "dashed":
      return <path d="M4 17h50" strokeDasharray="5 4" />;
    case "straight":
      return <path d="M4 17h100" />;
  }
}

export function Thread({ shape, label, wave = false }: { shape: ThreadShape; label: string; wave?: boolean }) {
  const ink = shape === "straight" ? "text-thread" : THREAD_INK[shape];
  return (
    <svg viewBox="0 0 108 34" width={108} height={34} className={`shrink-0 ${ink}`} fill="none" stroke="currentColor" strokeWidth={2} role="img" aria-label={label}>
      {drawn(shape, wave)}
    </svg>
  );
}

/** What a check says by a word of its own: its label and the shape of its thread. */
export function verdictOf(check: Check | undefined, word: string): { label: string; shape: ThreadShape } {
  const found = check?.verdicts.find((one) => one.word === word);
  return { label: found?.label ?? word, shape: found?.thread ?? "straight" };
}
