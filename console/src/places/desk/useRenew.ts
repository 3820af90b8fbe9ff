import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import type { WorkDocument } from "./work";

/** Puts a document as it stands after an act into everything that shows it. */
export function useRenew() {
  const queries = useQueryClient();
  return useCallback(
    (after: WorkDocument) => {
      queries.setQueryData(["document", after.id], after);
      void queries.invalidateQueries({ queryKey: ["desk"] });
      void queries.invalidateQueries({ queryKey: ["documents"] });
      void queries.invalidateQueries({ queryKey: ["story", after.id] });
    },
    [queries],
  );
}
