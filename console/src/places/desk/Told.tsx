import { NoAnswer, Problem } from "../../api/client";
import { words } from "../../format/show";
import { Button } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import type { Meanwhile } from "./useEditing";

interface Props {
  silent: Error | null;
  problem: Error | null;
  meanwhile: Meanwhile | null;
  empty: boolean;
  onTakeOver: () => void;
  onSaveAgain: () => void;
  onSeen: () => void;
}

/** What went otherwise than hoped; the edits are never part of the loss. */
export function Told({ silent, problem, meanwhile, empty, onTakeOver, onSaveAgain, onSeen }: Props) {
  const button = (label: string, run: () => void) => (
    <Button look="quiet" small onClick={run}>
      {label}
    </Button>
  );
  const taken = problem instanceof Problem && problem.slug === "taken";
  return (
    <>
      {silent instanceof NoAnswer && !problem ? <Notice kind="careful">{silent.message}</Notice> : null}
      {problem ? (
        <Notice kind="wrong" act={taken ? button("Take over", onTakeOver) : problem instanceof NoAnswer ? button("Save again", onSaveAgain) : null}>
          {problem.message} {empty || problem instanceof NoAnswer ? "" : "What you typed is still here."}
        </Notice>
      ) : null}
      {meanwhile ? (
        <Notice kind="careful" act={button("I have seen it", onSeen)}>
          {meanwhile.state === "at_desk"
            ? "Somebody changed this document while you worked on it. Your own changes lie on top of theirs; look, then save."
            : `This document is ${words(meanwhile.state)} now; your changes cannot be saved any more.`}
          {meanwhile.changes.length ? (
            <ul className="mt-1 list-disc pl-5">
              {meanwhile.changes.slice(0, 8).map((each) => (
                <li key={each.title}>
                  {each.title}: {each.before || "nothing"} became {each.after || "nothing"}
                </li>
              ))}
            </ul>
          ) : null}
        </Notice>
      ) : null}
    </>
  );
}
