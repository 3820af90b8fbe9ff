import { useCallback } from "react";
import { useSearchParams } from "react-router";

/** The address's query as plain values: what a list is narrowed down by lives in its URL. */
export function useAddress<K extends string>(...names: K[]): [Partial<Record<K, string>>, (changes: Partial<Record<K, string | null>>) => void] {
  const [query, setQuery] = useSearchParams();
  const values: Partial<Record<K, string>> = {};
  for (const name of names) {
    const value = query.get(name);
    if (value) values[name] = value;
  }
  const change = useCallback(
    (changes: Partial<Record<K, string | null>>) =>
      setQuery(
        (before) => {
          const next = new URLSearchParams(before);
          for (const [name, value] of Object.entries(changes) as [K, string | null][]) {
            if (value) next.set(name, value);
            else next.delete(name);
          }
          return next;
        },
        { replace: true },
      ),
    [setQuery],
  );
  return [values, change];
}
