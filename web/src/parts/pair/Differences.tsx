/** The differences of a pair: gone to by key, opened at the first, and drawn in the gutter as a map of the page. */
import { useCallback, useEffect, useState, type RefObject } from "react";

export const DIFFERS = "data-differs";
/** How far below the top of the pane a difference stands once it was gone to, as a part of the pane. */
const AT = 0.2;
const NEAR = 4;

function all(pane: HTMLElement): HTMLElement[] {
  return [...pane.querySelectorAll<HTMLElement>(`[${DIFFERS}]`)];
}

/** Where the pane is scrolled to, to show a difference. */
function placeOf(pane: HTMLElement, one: HTMLElement): number {
  const top = one.getBoundingClientRect().top - pane.getBoundingClientRect().top + pane.scrollTop;
  return Math.max(0, Math.min(top - pane.clientHeight * AT, pane.scrollHeight - pane.clientHeight));
}

/** Go to the next or the previous difference in a pane; to the first where none was gone to. */
export function useDifferences(pane: RefObject<HTMLElement | null>) {
  const go = useCallback(
    (by: number) => {
      if (!pane.current) return;
      const here = pane.current.scrollTop;
      const places = all(pane.current).map((one) => placeOf(pane.current as HTMLElement, one));
      const next = by > 0 ? places.find((one) => one > here + NEAR) : places.findLast((one) => one < here - NEAR);
      if (next !== undefined) pane.current.scrollTop = next;
    },
    [pane],
  );
  /** Open at the first difference, unless it is seen already. */
  const open = useCallback(() => {
    const first = pane.current ? all(pane.current)[0] : undefined;
    if (!pane.current || !first) return;
    const box = pane.current.getBoundingClientRect();
    if (first.getBoundingClientRect().bottom > box.bottom) pane.current.scrollTop = placeOf(pane.current, first);
  }, [pane]);
  return { go, open };
}

type Mark = { at: number; size: number };

/** A map of the page in its gutter: a mark for each difference, where it stands in the whole of it. */
export function DifferenceMap({ pane, shown }: { pane: RefObject<HTMLElement | null>; shown: unknown }) {
  const [marks, setMarks] = useState<Mark[]>([]);
  useEffect(() => {
    const here = pane.current;
    if (!here) return;
    function draw() {
      if (!here) return;
      const top = here.getBoundingClientRect().top - here.scrollTop;
      const whole = Math.max(1, here.scrollHeight);
      setMarks(all(here).map((one) => ({ at: (one.getBoundingClientRect().top - top) / whole, size: one.offsetHeight / whole })));
    }
    draw();
    // What is folded may be opened.
    const watch = new ResizeObserver(draw);
    for (const one of here.children) watch.observe(one);
    return () => watch.disconnect();
  }, [pane, shown]);
  if (!marks.length) return null;
  return (
    <div aria-hidden className="absolute inset-y-0 left-[calc(50%-68px)] w-[5px] max-[900px]:hidden">
      {marks.map((one, index) => (
        <span
          key={index}
          className="bg-ochre absolute inset-x-0 cursor-pointer"
          style={{ top: `${one.at * 100}%`, height: `max(2px, ${one.size * 100}%)` }}
          onClick={() => {
            if (pane.current) pane.current.scrollTop = one.at * pane.current.scrollHeight - pane.current.clientHeight * AT;
          }}
        />
      ))}
    </div>
  );
}
