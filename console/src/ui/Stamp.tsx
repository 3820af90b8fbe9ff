import { words } from "../format/show";
import { Icon, type Mark } from "./Icon";

interface Look {
  mark: Mark;
  ink: string;
}

const GOOD: Look = { mark: "check", ink: "border-moss/60 text-moss" };
const WAITS: Look = { mark: "hand", ink: "border-amber/60 text-amber" };
const WRONG: Look = { mark: "stop", ink: "border-brick/60 text-brick" };
const MOVES: Look = { mark: "clock", ink: "border-rule-strong/60 text-ink-soft" };
const QUIET: Look = { mark: "minus", ink: "border-rule-strong/60 text-ink-soft" };

const LOOKS: Record<string, Look> = {
  received: MOVES, read: MOVES, checked: MOVES, cleared: MOVES,
  at_desk: WAITS, asked: WAITS, with_approver: WAITS, waiting: { ...WAITS, mark: "clock" }, on_hold: { ...WAITS, mark: "pause" },
  failed: WRONG, refused: WRONG, unsure: WRONG,
  posted: GOOD, kept: GOOD, sent: GOOD, done: GOOD, good: GOOD,
  returned: { mark: "back", ink: "border-rule-strong/60 text-ink" },
  discarded: { mark: "bin", ink: "border-rule-strong/60 text-ink-soft" },
  aside: QUIET, "set aside": QUIET, repeat: QUIET, "left out": QUIET, left: QUIET, "not wanted": QUIET, "under way": MOVES, "to be read": MOVES, "not taken yet": MOVES, "with people": WAITS, "at desk": WAITS, "would be taken": GOOD, "taken in": GOOD, unexplained: WRONG, lost: WRONG, arrived: MOVES, people: WAITS, prepared: MOVES, sending: MOVES, drafted: MOVES,
  open: GOOD, closed: QUIET, blocked: WRONG, gone: QUIET, paused: QUIET,
};

/** A state as a stamp: mark and word. A state that we do not know is shown as it is called. */
export function Stamp({ state, as }: { state: string; as?: string }) {
  const look = LOOKS[state] ?? { mark: "note" as const, ink: "border-rule-strong/60 text-ink-soft" };
  return (
    <span
      className={`inline-flex items-center gap-1 whitespace-nowrap rounded-[3px] border px-1.5 text-[13px] leading-5 ${look.ink}`}
    >
      <Icon mark={look.mark} className="size-3.5" />
      {as ?? words(state)}
    </span>
  );
}
