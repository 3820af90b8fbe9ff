import { useInfiniteQuery } from "@tanstack/react-query";
import { useMemo } from "react";

interface Page<T> {
  results: T[];
  next: string | null;
}

/** A list of the service, fetched page by page by its cursor. */
export function useList<T>(key: unknown[], fetch: (page: { limit: number; cursor?: string }) => Promise<Page<T>>) {
  const asked = useInfiniteQuery({
    queryKey: key,
    queryFn: ({ pageParam }) => fetch({ limit: 200, ...(pageParam ? { cursor: pageParam } : {}) }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    // Only short lists refresh by themselves: a long one would be fetched anew as a whole.
    refetchInterval: ({ state }) => ((state.data?.pages.length ?? 0) > 2 ? false : 10_000),
  });
  const data = useMemo(() => asked.data?.pages.flatMap((page) => page.results), [asked.data]);
  const more = asked.hasNextPage && !asked.isFetchingNextPage ? () => void asked.fetchNextPage() : undefined;
  return { data, more, complete: !asked.hasNextPage, error: asked.error, refetch: asked.refetch };
}
