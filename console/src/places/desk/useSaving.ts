import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { afresh, put } from "../../api/afresh";
import { Problem, writeKey } from "../../api/client";
import { counted, words } from "../../format/show";
import type { Habit } from "../../format/parse";
import { useSay } from "../../ui/said";
import { getDocument, reopenDocument, restoreVersion, saveChanges } from "./acts";
import { changesOf } from "./edits";
import type { useEditing } from "./useEditing";
import { useRenew } from "./useRenew";
import { focusPath, type WorkDocument } from "./work";

interface Around {
  document: WorkDocument;
  habit: Habit;
  editing: ReturnType<typeof useEditing>;
  next: () => void;
  onProblem: (problem: Error | null) => void;
}

/** Saving, and what follows an act: what was done is said, and the next document comes. */
export function useSaving({ document, habit, editing, next, onProblem }: Around) {
  const say = useSay();
  const go = useNavigate();
  const queries = useQueryClient();
  const renew = useRenew();
  const [busy, setBusy] = useState(false);
  const tried = useRef({ wish: "", key: "" });
  const { edits, empty, setWrong, mine, reset } = editing;

  const refused = useCallback(
    async (error: Error) => {
      onProblem(error);
      if (!(error instanceof Problem)) return;
      const [first] = error.places;
      if (first) {
        setWrong(Object.fromEntries(error.places.map((each) => [each.path, each.message])));
        focusPath(first.path);
      }
      if (error.status === 412 || error.status === 409) {
        // The newest version comes in below the edits; what differs is told.
        const now = await getDocument(document.id).catch(() => null);
        if (now) put(queries, ["document", document.id], now);
      }
    },
    [document.id, onProblem, queries, setWrong],
  );

  const undo = useCallback(
    (after: WorkDocument, number: number) => {
      restoreVersion(after, number).then((back) => {
        mine();
        renew(back);
      }, onProblem);
    },
    [mine, onProblem, renew],
  );

  const save = useCallback(
    async (goOn: boolean) => {
      if (busy) return;
      if (empty) {
        if (goOn) next();
        return;
      }
      const { changes, wrong } = changesOf(edits, document.reading, habit);
      setWrong(wrong);
      const [first] = Object.keys(wrong);
      if (first) {
        focusPath(first);
        return;
      }
      setBusy(true);
      try {
        const wish = JSON.stringify([document.etag, changes]);
        if (tried.current.wish !== wish) tried.current = { wish, key: writeKey() };
        const after = await saveChanges(document, changes, tried.current.key);
        mine();
        reset();
        renew(after);
        onProblem(null);
        const name = after.number || after.file_name;
        if (after.state === "at_desk") {
          const left = after.findings.filter((each) => each.weight === "block").length;
          const still = left ? counted(left, "finding still stops it", "findings still stop it") : "it still waits to be posted";
          say(`${name} is saved; ${still}.`, { label: "Undo", run: () => undo(after, document.reading_version) });
        } else {
          say(`${name} is saved and ${words(after.state)}.`);
          if (goOn) next();
        }
      } catch (error) {
        await refused(error as Error);
      } finally {
        setBusy(false);
      }
    },
    [busy, empty, edits, document, habit, next, renew, reset, mine, say, setWrong, onProblem, refused, undo],
  );

  const finished = useCallback(
    (after: WorkDocument | null, said: string) => {
      onProblem(null);
      void afresh(queries, ["story", document.id]);
      if (!after) return say(said);
      mine();
      const reopen = () => {
        reopenDocument(after).then((back) => {
          renew(back);
          void go(`/desk/${back.id}`);
        }, onProblem);
      };
      say(said, after.state === "discarded" ? { label: "Undo", run: reopen } : undefined);
      const ends = after.state !== "at_desk" || after.held_until !== null;
      if (ends) reset();
      renew(after);
      if (ends) next();
    },
    [document.id, go, mine, next, onProblem, queries, renew, reset, say],
  );
  return { save, busy, finished };
}
