import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useSearchParams } from "react-router";
import { useDocuments, type DocumentRow } from "../../records/documents";
import { useSession } from "../../ui/session";
import { fetchNear } from "../../records/near";

export interface DeskFilters {
  queue?: string | undefined;
  finding?: string | undefined;
  show?: string | undefined;
  ordering?: string | undefined;
}

/** The filters of the desk's list as the service takes them. */
export function deskQuery({ queue, finding, show, ordering }: DeskFilters, me: string | null) {
  return {
    queue,
    finding,
    ordering,
    held: show === "held" ? "yes" : "no",
    taken_by: show === "mine" ? (me ?? undefined) : show === "free" ? "nobody" : undefined,
  };
}

/** The list that the filters ask for: at the desk, or what waits for what comes by itself. */
export function useDeskDocuments(filters: DeskFilters, me: string | null) {
  const byItself = filters.show === "waits";
  return useDocuments(byItself ? "documents" : "desk", byItself ? { state: "waiting", finding: filters.finding, ordering: filters.ordering ?? "id" } : deskQuery(filters, me));
}

/** The documents before and after one, in the list that it was opened from. */
export function useAround(id: number, ready: boolean) {
  const { session } = useSession();
  const queries = useQueryClient();
  const [query] = useSearchParams();
  const of = (name: string) => query.get(name) ?? undefined;
  const { data: rows = [] } = useDeskDocuments({ queue: of("queue"), finding: of("finding"), show: of("show"), ordering: of("ordering") }, session.username);
  const suffix = query.size ? `?${query}` : "";
  const at = rows.findIndex((row) => row.id === id);
  const free = (row: DocumentRow) => row.id !== id && (row.taken_by === null || row.taken_by === session.username);
  const href = (row: DocumentRow | undefined) => (row ? `/desk/${row.id}${suffix}` : undefined);
  const next = rows.slice(at + 1).find(free) ?? rows.slice(0, Math.max(0, at)).find(free);
  const before = rows.slice(0, Math.max(0, at)).findLast(free);
  useEffect(() => {
    // It and its picture are there before one gets to it.
    if (next && ready) fetchNear(queries, next);
  }, [next, ready, queries]);
  return {
    list: `/desk${suffix}`,
    next: href(next),
    before: href(before),
    place: at >= 0 ? `${at + 1} of ${rows.length}` : "",
  };
}
