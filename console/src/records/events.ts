/** Entries of the trail as sentences that a controller reads. */
import type { Schemas } from "../api/client";
import { actor, counted, words } from "../format/show";
import { plain, specOf } from "./reading";
import type { Mark } from "../ui/Icon";

export type Event = Schemas["Event"];

interface Told {
  mark: Mark;
  said: string;
  /** What goes with it, line by line. */
  more: string[];
}

type Details = Record<string, unknown>;
type Tell = (details: Details, who: string) => Told;

const text = (value: unknown) => plain(value);
const list = (value: unknown): string[] => (Array.isArray(value) ? value.map(text) : []);
const quoted = (value: unknown) => (text(value) ? [`“${text(value)}”`] : []);

const TELL: Record<string, Tell> = {
  "mail.taken": (d) => ({ mark: "mail", said: `Mail from ${text(d.sender)} taken in from ${text(d.mailbox)}, ${text(d.folder)}`, more: [...quoted(d.subject), ...(list(d.files).length ? [`${counted(list(d.files).length, "file")}: ${list(d.files).join(", ")}`] : []), ...(d.repeat_of ? [`the same mail as ${text(d.repeat_of)}; nothing new in it`] : [])] }),
  "mail.moved": (d) => ({ mark: "mail", said: `Mail moved to ${text(d.folder)}`, more: [] }),
  "file.uploaded": (d, who) => ({ mark: "load", said: `Uploaded by ${who}`, more: text(d.name) ? [text(d.name)] : [] }),
  "file.failed": (d) => ({ mark: "stop", said: "The file could not be read", more: [text(d.reason)] }),
  "document.read": (d) => ({ mark: "documents", said: `Read as ${text(d.kind)}`, more: list(d.findings) }),
  "document.checked": (d) => ({ mark: d.outcome === "at_desk" ? "hand" : "check", said: checked(d), more: [...(list(d.reasons).length ? list(d.reasons) : []), ...[["vendor", d.vendor], ["order", d.order]].flatMap(([name, value]) => (value ? [`${text(name)} ${text(value)}`] : []))] }),
  "document.corrected": (d, who) => ({ mark: "note", said: d.restored ? `${who} went back to version ${text(d.restored)}` : `${who} corrected ${counted(Object.keys((d.changes ?? {}) as Details).length, "value")}`, more: [...changes(d.changes), ...choices(d.chosen), ...(d.restored ? [] : quoted(d.note))] }),
  "document.chosen": (d, who) => ({ mark: "hand", said: `${who} said who it is`, more: [...choices(d.chosen), ...quoted(d.note)] }),
  "document.cleared": (d, who) => ({ mark: "check", said: `${who} let it through`, more: [...(list(d.accepted).length ? [`accepted: ${list(d.accepted).join(", ")}`] : []), ...quoted(d.reason)] }),
  "document.discarded": (d, who) => ({ mark: "bin", said: `${who} discarded it`, more: quoted(d.reason) }),
  "document.reopened": (_, who) => ({ mark: "undo", said: `${who} brought it back`, more: [] }),
  "document.returned": (d, who) => ({ mark: "back", said: `${who} returned it to ${text(d.to)}`, more: [text(d.subject), ...text(d.text).split("\n").filter(Boolean)] }),
  "document.letter_queued": (d, who) => ({ mark: "back", said: `${who} sends it back to ${text(d.to)}, ${text(d.address)}`, more: [text(d.subject), ...text(d.text).split("\n").filter(Boolean)] }),
  "document.taken": (d, who) => ({ mark: "hand", said: text(d.by) === who ? `${who} took it` : `${who} gave it to ${text(d.by)}`, more: d.from ? [`${text(d.from)} had it before`] : [] }),
  "document.released": (_, who) => ({ mark: "hand", said: `${who} gave it free`, more: [] }),
  "document.held": (d, who) => ({ mark: "pause", said: `${who} put it on hold until ${text(d.until)}`, more: quoted(d.reason) }),
  "document.hold_ended": (_, who) => ({ mark: "pause", said: `${who} ended the hold`, more: [] }),
  "document.called": (d, who) => ({ mark: "hand", said: who === "clock" ? "Called to the desk" : `${who} called it to the desk`, more: quoted(d.reason) }),
  "document.let_wait": (_, who) => ({ mark: "clock", said: `${who} let it wait again`, more: [] }),
  "document.still_waits": (d) => ({ mark: "clock", said: `People were told that it still waits, after ${counted(Number(d.days), "day")}`, more: [] }),
  "document.coded": (d, who) => ({ mark: "note", said: `${who} said under what it is booked`, more: Object.entries((d.lines ?? {}) as Details).map(([line, said]) => `${line}: ${text(said)}`) }),
  "item.learned": (d, who) => ({ mark: "note", said: `${who} showed that ${text(d.vendor)} calls ${text(d.code)} ${text(d.vendor_code)}`, more: [] }),
  "order.recounted": (d, who) => ({ mark: "check", said: `${who} had the bills of ${text(d.order)} counted anew`, more: [`mended: document ${list(d.mended).join(", ")}`] }),
  "document.commented": (d, who) => ({ mark: "speech", said: `${who} said`, more: [text(d.text)] }),
  "document.failed": (d) => ({ mark: "stop", said: "Stopped for a technical reason", more: [text(d.reason)] }),
  "document.resumed": (d, who) => ({ mark: "undo", said: `${who} let it go on at ${words(text(d.at))}`, more: [] }),
  "document.again": (d, who) => ({ mark: "undo", said: `${who} had it processed again from its ${d.from === "read" ? "file" : "values"}`, more: [...quoted(d.reason), `it was ${words(text(d.was))}`, ...(d.before === d.pipeline_version ? [] : [`under version ${text(d.pipeline_version)} of its pipeline, ${text(d.before)} before`])] }),
  "document.read_again": (d) => ({ mark: "documents", said: d.kept ? "Read again, and left as it was" : `Read again as ${text(d.kind)}`, more: d.kept ? [text(d.kept)] : [`version ${text(d.version)} of the reading`] }),
  "document.posted": (d) => ({ mark: "check", said: `Complete in the ledger as ${text(d.number)}: original attached, bill read back`, more: list(d.differences) }),
  "posting.asked": () => ({ mark: "clock", said: "The ledger did not answer; it was asked whether it booked", more: [] }),
  "posting.booked": (d) => ({ mark: "check", said: `Booked in ${text(d.ledger)} as ${text(d.number)}`, more: [`reference ${text(d.reference)}, ${counted(Number(d.attempts ?? 1), "attempt")}`] }),
  "posting.refused": (d) => ({ mark: "stop", said: "The ledger refused it", more: [text(d.reason ?? d.problem)] }),
  "posting.unsure": (d) => ({ mark: "warn", said: "Whether it was booked is not known", more: [text(d.problem)] }),
  "notice.sent": (d) => ({ mark: "send", said: `${d.event === "returned" ? "The letter" : "A notice"} went to ${text(d.to)}`, more: [text(d.subject)] }),
  "notice.again": (d, who) => ({ mark: "send", said: `${who} sends it to ${text(d.to)} again`, more: [text(d.subject)] }),
  "notice.failed": (d) => ({ mark: "stop", said: `A notice to ${text(d.to)} could not be sent`, more: [text(d.problem)] }),
};

function choices(value: unknown): string[] {
  return Object.entries((value ?? {}) as Details).map(([what, code]) => `${what}: ${text(code) || "as the bill says"}`);
}

function checked(d: Details): string {
  const outcome = text(d.outcome);
  if (outcome === "at_desk") return `Checked: to the desk, queue ${text(d.queue)}`;
  if (outcome === "cleared") return "Checked: everything fits, cleared for the ledger";
  return `Checked: ${words(outcome)}`;
}

function changes(value: unknown): string[] {
  return Object.entries((value ?? {}) as Record<string, [unknown, unknown]>).map(([name, [before, after]]) => {
    const title = /[[\]]/.test(name) ? name : specOf(name).title;
    return `${title}: ${text(before) || "nothing"} became ${text(after) || "nothing"}`;
  });
}

/** What an entry says; one that we have no words for is shown as it stands. */
export function tell(event: Pick<Event, "act" | "actor" | "details">): Told {
  const who = actor(event.actor);
  const known = TELL[event.act]?.(event.details as Details, who);
  return known ?? { mark: "note", said: `${event.act} by ${who}`, more: Object.entries(event.details).map(([key, value]) => `${key}: ${typeof value === "object" ? JSON.stringify(value) : String(value)}`) };
}
