import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * Everything below the key is asked for again. An answer that is still on its way was given before
 * what makes it stale, so it is not waited for: left alone, a first answer would be kept as fresh.
 */
export function afresh(queries: QueryClient, key?: QueryKey): Promise<void> {
  const below = key ? { queryKey: key } : {};
  void queries.cancelQueries(below);
  return queries.invalidateQueries(below);
}

/** What an act answered takes the place of any answer asked for before it. */
export function put(queries: QueryClient, key: QueryKey, data: unknown): void {
  void queries.cancelQueries({ queryKey: key });
  queries.setQueryData(key, data);
}
