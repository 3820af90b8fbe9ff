import { Link, useNavigate } from "react-router";
import { vendorOf } from "../../records/documents";
import { Button, MarkButton } from "../../ui/Button";
import { Age, Amount, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import type { WorkDocument } from "./work";

interface Props {
  document: WorkDocument;
  me: string | null;
  place: string;
  back: string;
  before: string | undefined;
  next: string | undefined;
  onTake: (over: boolean) => void;
  onRelease: () => void;
}

/** What this is, who has it, and the way to the documents around it. */
export function Header({ document, me, place, back, before, next, onTake, onRelease }: Props) {
  const go = useNavigate();
  const total = document.reading.fields.gross_total?.value as { amount: string; currency: string } | undefined;
  return (
    <header className="flex min-h-14 items-center gap-3 border-b border-rule px-4">
      <Link to={back} className="rounded-[3px] text-ink-soft hover:text-ink hover:underline">
        Desk
      </Link>
      <span aria-hidden="true" className="text-rule-strong">/</span>
      <h1 className="min-w-0 truncate text-lg font-semibold">
        {document.number || document.file_name}
        <span className="font-normal text-ink-soft"> · {vendorOf(document) || "vendor not known"}</span>
      </h1>
      {total ? <Amount value={total.amount} currency={total.currency} /> : null}
      <Stamp
        state={document.held_until ? "on_hold" : document.state}
        {...(document.letter_out ? { as: "letter on its way" } : document.held_until ? { as: "on hold" } : {})}
      />
      {document.held_until ? <span className="text-sm text-ink-soft">until <Day date={document.held_until} /></span> : null}
      <div className="ml-auto flex items-center gap-2 whitespace-nowrap">
        <Taking document={document} me={me} onTake={onTake} onRelease={onRelease} />
        <span className="text-sm text-ink-soft">{place}</span>
        <MarkButton mark="left" label="Document before (K)" disabled={!before} onClick={() => before && void go(before)} />
        <MarkButton mark="right" label="Next document (J)" disabled={!next} onClick={() => next && void go(next)} />
      </div>
    </header>
  );
}

function Taking({ document, me, onTake, onRelease }: Pick<Props, "document" | "me" | "onTake" | "onRelease">) {
  if (document.taken_by && document.taken_by !== me) {
    return (
      <>
        <span className="inline-flex items-center gap-1.5 rounded-[3px] bg-amber-soft px-2 py-1 text-sm text-amber">
          {document.taken_by} works on it{document.taken_at ? <> for <Age since={document.taken_at} /></> : null}
        </span>
        {document.may.includes("take_over") ? (
          <Button look="quiet" small onClick={() => onTake(true)}>
            Take over
          </Button>
        ) : null}
      </>
    );
  }
  if (document.may.includes("release")) {
    return (
      <>
        <span className="text-sm text-ink-soft">You have it</span>
        <Button look="quiet" small keyHint="T" onClick={onRelease}>
          Release
        </Button>
      </>
    );
  }
  if (document.may.includes("take")) {
    return (
      <Button look="quiet" small keyHint="T" onClick={() => onTake(false)}>
        Take
      </Button>
    );
  }
  return null;
}
