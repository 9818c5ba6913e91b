/** What views ask the API for; each question has one key, so that an answer is asked for once. */
import { useQuery } from "@tanstack/react-query";

import { api, data, Refused, type Capture } from "../api/client";

export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: () => data(api.GET("/api/session/")), staleTime: 60_000 });
}

export function useMoves() {
  return useQuery({ queryKey: ["moves"], queryFn: () => data(api.GET("/api/moves/")), refetchInterval: 5_000 });
}

export function useMove(id: number) {
  return useQuery({
    queryKey: ["move", id],
    queryFn: () => data(api.GET("/api/moves/{id}/", { params: { path: { id } } })),
  });
}

/** Whether the API refused: asking again and again would not change that. */
function refused(query: { state: { error: Error | null } }): boolean {
  return query.state.error instanceof Refused && query.state.error.status === 404;
}

export function isOpen(capture: Capture): boolean {
  return capture.state !== "closed";
}

/** A crawl or a copy, which opens a round; others belong to the set of one. */
export function holdsPages(capture: Capture): boolean {
  return capture.kind === "crawl" || capture.kind === "copy";
}

/** The captures of a move; asked every second while one runs. */
export function useCaptures(id: number) {
  return useQuery({
    queryKey: ["captures", id],
    queryFn: () => data(api.GET("/api/moves/{id}/captures/", { params: { path: { id } } })),
    refetchInterval: (query) =>
      refused(query) ? false : query.state.data?.some((one) => one.state === "running" || one.state === "ending") ? 1_000 : 5_000,
    // Also in a tab that nobody looks at: its title and a notification say when a capture ends.
    refetchIntervalInBackground: true,
  });
}

/** One comparison, waited for while it is being made. */
export function useOneComparison(id: number) {
  return useQuery({
    queryKey: ["comparison", id],
    queryFn: () => data(api.GET("/api/comparisons/{id}/", { params: { path: { id } } })),
    enabled: id > 0,
    refetchInterval: (query) => (query.state.data?.state === "waiting" ? 500 : false),
  });
}

/** The latest comparison of a move, waited for while it is being made; undefined while asking. */
export function useComparison(id: number) {
  const found = useQuery({
    queryKey: ["comparisons", id],
    queryFn: () => data(api.GET("/api/moves/{id}/comparisons/", { params: { path: { id } } })),
    refetchInterval: (query) => (refused(query) ? false : query.state.data?.[0]?.state === "waiting" ? 500 : 5_000),
  });
  const made = found.data?.find((one) => one.state === "made") ?? null;
  return { ...found, latest: found.data?.[0] ?? null, made: found.data ? made : undefined };
}
