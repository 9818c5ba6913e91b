/** The differences of a pair: gone to by key, opened at the first, and drawn in the gutter as a map of the page. */
import { useCallback, useEffect, useState, type RefObject } from "react";

export const DIFFERS = "data-differs";
/** How far below the top of the pane a difference stands once it was gone to, as a part of the pane. */
const AT = 0.2;
const NEAR = 4;
/** Frames in which the place of a difference is looked at again. */
const LOOKS = 5;

function all(pane: HTMLElement): HTMLElement[] {
  return [...pane.querySelectorAll<HTMLElement>(`[${DIFFERS}]`)];
}

/** Where the pane is scrolled to, to show a difference. */
function placeOf(pane: HTMLElement, one: HTMLElement): number {
  const top = one.getBoundingClientRect().top - pane.getBoundingClientRect().top + pane.scrollTop;
  return Math.max(0, Math.min(top - pane.clientHeight * AT, pane.scrollHeight - pane.clientHeight));
}

/** Scroll to a difference; what stands beside it gets its size only as it is seen, so that its place is looked at again. */
function scrollTo(pane: HTMLElement, one: HTMLElement, looks = LOOKS) {
  const place = placeOf(pane, one);
  if (Math.abs(place - pane.scrollTop) > NEAR || looks === LOOKS) pane.scrollTop = place;
  if (looks > 0) requestAnimationFrame(() => scrollTo(pane, one, looks - 1));
}

/** Open at the first difference, unless it is seen already. */
function openAtFirst(pane: RefObject<HTMLElement | null>, looks = LOOKS) {
  const first = pane.current ? all(pane.current)[0] : undefined;
  if (!pane.current || !first) return;
  if (first.getBoundingClientRect().bottom > pane.current.getBoundingClientRect().bottom) scrollTo(pane.current, first);
  else if (looks > 0) requestAnimationFrame(() => openAtFirst(pane, looks - 1));
}

/** Go to the next or the previous difference in a pane; to the first where none was gone to. */
export function useDifferences(pane: RefObject<HTMLElement | null>) {
  const go = useCallback(
    (by: number) => {
      if (!pane.current) return;
      const here = pane.current.scrollTop;
      const place = (one: HTMLElement) => placeOf(pane.current as HTMLElement, one);
      const every = all(pane.current);
      const next = by > 0 ? every.find((one) => place(one) > here + NEAR) : every.findLast((one) => place(one) < here - NEAR);
      if (next) scrollTo(pane.current, next);
    },
    [pane],
  );
  const open = useCallback(() => openAtFirst(pane), [pane]);
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
