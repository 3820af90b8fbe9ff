import { useQueryClient } from "@tanstack/react-query";
import { useCallback } from "react";
import { afresh, put } from "../../api/afresh";
import type { WorkDocument } from "./work";

/** Puts a document as it stands after an act into everything that shows it. */
export function useRenew() {
  const queries = useQueryClient();
  return useCallback(
    (after: WorkDocument) => {
      put(queries, ["document", after.id], after);
      void afresh(queries, ["desk"]);
      void afresh(queries, ["documents"]);
      void afresh(queries, ["story", after.id]);
    },
    [queries],
  );
}
