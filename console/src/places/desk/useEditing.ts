import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { differences, type Difference, type Reading } from "../../records/reading";
import { isEmpty, loosened, NONE, start, step, type Edits, type History, type Wrong } from "./edits";
import type { WorkDocument } from "./work";

interface Kept {
  version: number;
  edits: Edits;
}

const keyOf = (id: number) => `veridox.edits.${id}`;

function kept(id: number): Kept | null {
  try {
    return JSON.parse(sessionStorage.getItem(keyOf(id)) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

/** What somebody else did to the document while it was edited here. */
export interface Meanwhile {
  changes: Difference[];
  state: string;
}

/**
 * Unsaved edits of one document. They outlive a reload, a restart of the service and
 * changes by others: those are told, and the edits stay on top of the newer values.
 */
export function useEditing(document: WorkDocument) {
  const [history, dispatch] = useReducer(step, document, (first): History => start(kept(first.id)?.edits ?? NONE));
  const [wrong, setWrong] = useState<Wrong>({});
  const [meanwhile, setMeanwhile] = useState<Meanwhile | null>(null);
  const seen = useRef<{ version: number; reading: Reading; own: boolean }>({ version: document.version, reading: document.reading, own: false });
  const edits = history.now;
  const empty = isEmpty(edits);

  useEffect(() => {
    const key = keyOf(document.id);
    if (empty) sessionStorage.removeItem(key);
    else sessionStorage.setItem(key, JSON.stringify({ version: document.version, edits } satisfies Kept));
  }, [document.id, document.version, edits, empty]);

  useEffect(() => {
    const before = seen.current;
    if (document.version === before.version) return;
    seen.current = { version: document.version, reading: document.reading, own: false };
    if (before.own || empty) return;
    const changes = differences(before.reading, document.reading);
    setMeanwhile({ changes, state: document.state });
    if (changes.some((each) => each.title.includes("ine "))) {
      // Their lines are no longer the ones that ours were made from.
      dispatch({ do: "change", mark: "", change: loosened });
    }
  }, [document, empty]);

  /** The next version is our own doing and needs no telling. */
  const mine = useCallback(() => {
    seen.current.own = true;
  }, []);
  const reset = useCallback(() => {
    dispatch({ do: "reset" });
    setWrong({});
    setMeanwhile(null);
  }, []);
  const forget = useCallback((path: string) => setWrong((all) => Object.fromEntries(Object.entries(all).filter(([key]) => key !== path))), []);
  return { history, edits, empty, dispatch, wrong, setWrong, forget, meanwhile, setMeanwhile, mine, reset };
}
