import { useNavigate } from "react-router";
import { useKeys, type KeyDoes } from "../../ui/keys";
import type { useAround } from "./around";
import type { Asking } from "./Dialogs";
import type { Step } from "./edits";
import type { useTaking } from "./useTaking";
import { focusPath, type WorkDocument } from "./work";

interface Does {
  document: WorkDocument;
  empty: boolean;
  around: ReturnType<typeof useAround>;
  taking: ReturnType<typeof useTaking>;
  onSave: (goOn: boolean) => Promise<void>;
  onAsk: (act: Asking) => void;
  onLeave: () => void;
  dispatch: (step: Step) => void;
}

const ASKED: [act: Asking, key: string, does: string][] = [
  ["prove", "v", "Say how it was proven"],
  ["post", "p", "Post it"],
  ["return", "r", "Return it to the vendor"],
  ["hold", "h", "Hold it until a day"],
  ["call", "w", "Call it to the desk"],
  ["let_wait", "w", "Let it wait again"],
  ["discard", "d", "Discard it"],
  ["comment", "c", "Comment"],
];

/** The keys of the work screen: those that may be used now. */
export function useScreenKeys({ document: shown, empty, around, taking, onSave, onAsk, onLeave, dispatch }: Does): void {
  const go = useNavigate();
  const may = (act: string) => (shown.may as string[]).includes(act);
  function leave() {
    const at = document.activeElement;
    if (at instanceof HTMLElement) at.blur();
    onLeave();
  }
  const keys: KeyDoes[] = [
    { key: "mod+Enter", does: empty ? "Go to the next document" : "Save and go to the next document", run: () => void onSave(true), whileTyping: true },
    { key: "mod+s", does: "Save and stay", run: () => void onSave(false), whileTyping: true },
    { key: "mod+z", does: "Undo the last change", run: () => dispatch({ do: "undo" }), whileTyping: true },
    { key: "mod+y", does: "Do it again", run: () => dispatch({ do: "redo" }), whileTyping: true },
    { key: "Escape", does: "Leave the field", run: leave, whileTyping: true },
    { key: "f", does: "To the first field", run: () => focusPath("number") },
  ];
  const { before, next } = around;
  if (next) keys.push({ key: "j", does: "Next document", run: () => void go(next) });
  if (before) keys.push({ key: "k", does: "Document before", run: () => void go(before) });
  if (may("take")) keys.push({ key: "t", does: "Take it", run: () => void taking.take(false) });
  if (may("release")) keys.push({ key: "t", does: "Release it", run: () => void taking.release() });
  for (const [act, key, does] of ASKED) if (may(act)) keys.push({ key, does, run: () => onAsk(act) });
  useKeys(keys);
}
