import type { QueryClient } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import type { DocumentRow } from "./documents";

/** The address of a page's picture. */
export function picture(id: number, page: number, dpi: number): string {
  return `/api/v1/documents/${id}/pages/${page}?dpi=${dpi}`;
}

/** Fetches a document and its first page's picture before somebody opens it. */
export function fetchNear(queries: QueryClient, { id, page_count }: Pick<DocumentRow, "id" | "page_count">): void {
  void queries.prefetchQuery({
    queryKey: ["document", id],
    queryFn: () => ask(api.GET("/api/v1/documents/{id}", { params: { path: { id } } })),
  });
  if (page_count > 0) new Image().src = picture(id, 1, 110);
}
