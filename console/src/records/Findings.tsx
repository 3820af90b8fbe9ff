import type { Schemas } from "../api/client";
import { Icon, type Mark } from "../ui/Icon";

type Finding = Schemas["Finding"];

const NOTE = { mark: "note" as Mark, look: "text-ink-soft", word: "Note" };
const LOOKS: Record<string, typeof NOTE> = {
  block: { mark: "stop", look: "text-brick", word: "Stops it" },
  warn: { mark: "warn", look: "text-amber", word: "Careful" },
  note: NOTE,
};

/** Findings as sentences with their figures, the gravest first. */
export function Findings({ findings, accepted = [], onGo }: { findings: Finding[]; accepted?: Schemas["Accepted"][]; onGo?: (finding: Finding) => void }) {
  const order = ["block", "warn", "note"];
  const sorted = findings.toSorted((a, b) => order.indexOf(a.weight) - order.indexOf(b.weight));
  return (
    <ul className="grid gap-2">
      {sorted.map((finding, at) => {
        const { mark, look, word } = LOOKS[finding.weight] ?? NOTE;
        const reason = accepted.find((each) => each.code === finding.code && each.message === finding.message);
        return (
          <li key={at} className="flex items-start gap-2.5">
            <Icon mark={mark} className={`mt-0.5 size-[18px] ${look}`} />
            <div className="min-w-0">
              <span className="sr-only">{word}: </span>
              {onGo && (finding.fields.length > 0 || finding.box) ? (
                <button type="button" onClick={() => onGo(finding)} className={`rounded-[3px] text-left font-semibold hover:underline ${look}`}>
                  {finding.message}
                </button>
              ) : (
                <span className={`font-semibold ${look}`}>{finding.message}</span>
              )}
              {reason ? <span className="block text-sm">Accepted by {reason.by.replace("person:", "")}: {reason.reason}</span> : null}
              {finding.hint && !reason ? <span className="block text-sm text-ink-soft">{finding.hint}</span> : null}
            </div>
          </li>
        );
      })}
    </ul>
  );
}
