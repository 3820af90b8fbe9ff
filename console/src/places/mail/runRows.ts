import { useInfiniteQuery } from "@tanstack/react-query";
import { api, ask, type Schemas } from "../../api/client";

export type RunRow = Schemas["RunRow"];

/** Rows of a report's run, page by page. */
export function useRunRows(id: number, stands: string | undefined) {
  const found = useInfiniteQuery({
    queryKey: ["run-rows", id, stands ?? ""],
    queryFn: ({ pageParam }) =>
      ask(api.GET("/api/v1/reports/runs/{id}/rows", { params: { path: { id }, query: { limit: 200, ...(stands ? { stands } : {}), ...(pageParam ? { cursor: pageParam } : {}) } } })),
    initialPageParam: "",
    getNextPageParam: (page) => page.next ?? undefined,
  });
  return { ...found, list: found.data?.pages.flatMap((page) => page.results) ?? [] };
}
