import { counted } from "../../format/show";
import { Button } from "../../ui/Button";
import type { Mark } from "../../ui/Icon";
import type { Asking } from "./Dialogs";
import { countOf } from "./edits";
import { SumStrip } from "./SumStrip";
import { useWork } from "./work";

const ACTS: { act: Asking; may: string[]; mark: Mark; key?: string; label: string; bare?: boolean }[] = [
  { act: "prove", may: ["prove"], mark: "people", key: "V", label: "Prove" },
  { act: "post", may: ["post"], mark: "check", key: "P", label: "Post" },
  { act: "return", may: ["return"], mark: "back", key: "R", label: "Return" },
  { act: "hold", may: ["hold"], mark: "pause", key: "H", label: "Hold" },
  { act: "call", may: ["call"], mark: "hand", key: "W", label: "Call to the desk" },
  { act: "let_wait", may: ["let_wait"], mark: "clock", key: "W", label: "Let it wait" },
  { act: "discard", may: ["discard"], mark: "bin", key: "D", label: "Discard" },
  { act: "comment", may: ["comment"], mark: "speech", label: "Comment (C)", bare: true },
  { act: "give", may: ["take", "release"], mark: "hand", label: "Give it to a colleague", bare: true },
];

/** The sums, and the acts that may be done now and no others. */
export function Footer({ busy, onAsk, onSave }: { busy: boolean; onAsk: (act: Asking) => void; onSave: () => void }) {
  const { document, edits, dispatch } = useWork();
  const count = countOf(edits);
  const may = document.may as string[];
  const offered = ACTS.filter((each) => each.may.some((name) => may.includes(name)));
  return (
    <footer className="border-t border-rule bg-ground">
      <SumStrip />
      <div className="flex flex-wrap items-center gap-1.5 border-t border-rule px-4 py-2">
        {offered.map(({ act, mark, key, label, bare }) => (
          <Button key={act} look="quiet" small {...(bare ? { mark } : {})} {...(key ? { keyHint: key } : {})} {...(bare ? { "aria-label": label, title: label } : {})} onClick={() => onAsk(act)}>
            {bare ? null : label}
          </Button>
        ))}
        <div className="ml-auto flex items-center gap-1.5">
          {count ? <Button look="bare" small mark="undo" aria-label="Undo" title={`${counted(count, "change")}, not saved yet; undo with Ctrl Z`} onClick={() => dispatch({ do: "undo" })} /> : null}
          <Button disabled={busy} keyHint="Ctrl ↵" onClick={onSave}>
            {busy ? "Saving" : count ? "Save and next" : "Next"}
          </Button>
        </div>
      </div>
    </footer>
  );
}
