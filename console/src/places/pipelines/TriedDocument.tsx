import { useState } from "react";
import type { Schemas } from "../../api/client";
import { words } from "../../format/show";
import { Sheet } from "../../ui/Place";
import { Stamp } from "../../ui/Stamp";

type Tried = Schemas["TriedDocument"];

interface Read {
  value: string | { amount: string; currency: string };
  text: string;
  page: number | null;
  box: [number, number, number, number] | null;
  confidence: number;
  origin: string;
}

interface Reading {
  document: { kind: string; confidence: number };
  fields: Record<string, Read>;
  lines: unknown[];
}

/** One document: what was read with its places, each stage with its figures, what would be done. */
export function TriedDocument({ found }: { found: Tried }) {
  const [field, setField] = useState<string | null>(null);
  const reading = found.reading as Reading;
  const spot = field ? reading.fields[field] : undefined;
  return (
    <Sheet
      title={`${found.file}: ${reading.document.kind}`}
      beside={found.state ? <><Stamp state={found.state} />{found.queue ? <span className="text-sm text-ink-soft">queue {found.queue}</span> : null}</> : null}
    >
      <div className="grid gap-x-5 gap-y-4 p-4 xl:grid-cols-[minmax(300px,2fr)_minmax(0,5fr)]">
        <Pages pages={found.pages} spot={spot} />
        <div className="grid min-w-0 content-start gap-4">
          {found.reasons.length ? (
            <ul className="grid gap-1">{found.reasons.map((each, at) => <li key={at} className="font-semibold">{each}</li>)}</ul>
          ) : null}
          <table className="w-full text-left">
            <thead className="text-sm text-ink-soft">
              <tr className="[&>th]:py-1 [&>th]:pr-3 [&>th]:font-normal"><th scope="col">Read</th><th scope="col">Value</th><th scope="col">As printed</th><th scope="col" className="text-right">Sure</th><th scope="col">From</th></tr>
            </thead>
            <tbody>
              {Object.entries(reading.fields).map(([name, each]) => (
                <tr key={name} className={`border-t border-rule/70 [&>td]:py-1 [&>td]:pr-3 ${name === field ? "bg-accent-soft" : ""}`} onMouseEnter={() => setField(name)}>
                  <td><button type="button" className="text-left hover:underline" onFocus={() => setField(name)} onClick={() => setField(name)}>{name}</button></td>
                  <td className="break-words">{shown(each.value)}</td>
                  <td className="break-words text-ink-soft">{each.text}</td>
                  <td className="whitespace-nowrap text-right">{Math.floor(each.confidence * 1000) / 10} %</td>
                  <td className="text-ink-soft">{each.page ? `page ${each.page}` : words(each.origin)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <table className="w-full text-left">
            <thead className="text-sm text-ink-soft">
              <tr className="[&>th]:py-1 [&>th]:pr-3 [&>th]:font-normal"><th scope="col">Stage</th><th scope="col">What it saw</th><th scope="col">Then</th></tr>
            </thead>
            <tbody>
              {found.steps.filter((step) => step.looked.length || step.then !== "on").map((step) => (
                <tr key={step.stage} className="border-t border-rule/70 align-top [&>td]:py-1.5 [&>td]:pr-3">
                  <td className="font-semibold">{words(step.stage)}</td>
                  <td><ul className="grid gap-0.5">{step.looked.map((line, at) => <li key={at} className={/, block:|: yes$|cannot be evaluated|^stops:/.test(line) ? "text-brick" : ""}>{line}</li>)}</ul></td>
                  <td className="whitespace-nowrap text-ink-soft">{step.then === "on" ? "on" : words(step.then)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {found.rehearsal ? <p className="font-semibold">{found.rehearsal}</p> : null}
          {found.bill ? <Bill bill={found.bill as Record<string, unknown>} /> : null}
          {found.sent.filter((each) => !each.goes && !each.problem).map((each, at) => (
            <p key={at} className="text-ink-soft">Not told when {each.event}: {each.when}</p>
          ))}
          {found.sent.filter((each) => each.goes || each.problem).map((each, at) => (
            <figure key={at} className="rounded-md border border-rule">
              <figcaption className="border-b border-rule px-3 py-1.5 text-sm text-ink-soft">
                When {each.event}: {each.channel ? `chat, #${each.channel}` : `mail to ${each.to || "nobody"}`}
                {each.when ? `, if ${each.when}` : ""}
                {each.problem ? <span className="text-brick"> It does not go: {each.problem}</span> : null}
              </figcaption>
              <div className="px-3 py-2">
                {each.subject ? <p className="font-semibold">{each.subject}</p> : null}
                <pre className="whitespace-pre-wrap font-[inherit]">{each.text}</pre>
              </div>
            </figure>
          ))}
        </div>
      </div>
    </Sheet>
  );
}

function shown(value: Read["value"]): string {
  return typeof value === "object" ? `${value.amount} ${value.currency}` : value;
}

function Bill({ bill }: { bill: Record<string, unknown> }) {
  const facts = Object.entries(bill).filter(([name, value]) => value && name !== "lines") as [string, string][];
  const lines = (bill.lines ?? []) as Record<string, string>[];
  return (
    <details>
      <summary>The bill as it would be posted, {lines.length} {lines.length === 1 ? "line" : "lines"}</summary>
      <dl className="grid grid-cols-[max-content_1fr] gap-x-4 py-2">
        {facts.map(([name, value]) => <div key={name} className="contents"><dt className="text-ink-soft">{words(name)}</dt><dd>{value}</dd></div>)}
        {lines.map((line, at) => <div key={at} className="contents"><dt className="text-ink-soft">line {at + 1}</dt><dd>{Object.entries(line).map(([key, value]) => `${words(key)} ${value}`).join(", ")}</dd></div>)}
      </dl>
    </details>
  );
}

/** Pages as pictures; the spot of the value that is looked at lies over them. */
function Pages({ pages, spot }: { pages: Tried["pages"]; spot: Read | undefined }) {
  if (!pages.length) return <p className="text-ink-soft">No page is shown.</p>;
  return (
    <div className="grid content-start gap-3 self-start xl:sticky xl:top-0">
      {pages.map((page) => {
        const box = spot?.page === page.number ? spot.box : null;
        return (
          <svg key={page.number} role="img" aria-label={`Page ${page.number}`} viewBox={`0 0 ${page.width} ${page.height}`} className="w-full rounded border border-rule bg-white">
            <image href={`data:image/png;base64,${page.picture}`} width={page.width} height={page.height} />
            {box ? <rect x={box[0] - 3} y={box[1] - 3} width={box[2] - box[0] + 6} height={box[3] - box[1] + 6} className="fill-accent/15 stroke-accent" strokeWidth={1.5} rx={2} /> : null}
          </svg>
        );
      })}
    </div>
  );
}
