import { useCallback, useEffect, useRef } from "react";
import { releaseDocument, takeDocument } from "./acts";
import { useRenew } from "./useRenew";
import type { WorkDocument } from "./work";

/** Taken by the first change, given free when one leaves without changes. */
export function useTaking(document: WorkDocument, empty: boolean, onProblem: (problem: Error | null) => void) {
  const renew = useRenew();
  const here = useRef(false);
  const take = useCallback(
    async (over: boolean) => {
      try {
        renew(await takeDocument(document.id, "", over));
        onProblem(null);
      } catch (error) {
        onProblem(error as Error);
      }
    },
    [document.id, onProblem, renew],
  );
  const release = useCallback(async () => {
    here.current = false;
    try {
      renew(await releaseDocument(document.id));
    } catch (error) {
      onProblem(error as Error);
    }
  }, [document.id, onProblem, renew]);
  const free = document.may.includes("take");
  useEffect(() => {
    if (empty || here.current || !free) return;
    here.current = true;
    void take(false);
  }, [empty, free, take]);
  const latest = useRef({ empty, document });
  latest.current = { empty, document };
  useEffect(
    () => () => {
      const { empty: nothing, document: last } = latest.current;
      // Nobody is there any more to be told; whoever comes next may take it over.
      if (here.current && nothing && last.may.includes("release")) void releaseDocument(last.id).catch(() => undefined);
    },
    [],
  );
  const forget = useCallback(() => {
    here.current = false;
  }, []);
  return { take, release, forget };
}
