import { useMutation, useQuery } from "@tanstack/react-query";
import { useId, useState, type KeyboardEvent } from "react";
import { api, ask, Problem, type Schemas } from "../../api/client";
import { Button, MarkButton } from "../../ui/Button";
import { Notice } from "../../ui/Notice";
import { codeLines } from "./acts";
import { calledLine, changedLines, DIMENSIONS, draftOf, splitOf, withoutShare, type Dimension, type Draft } from "./coding";
import type { WorkDocument } from "./work";

type Line = Schemas["CodedLine"];

const TITLES: Record<Dimension, string> = { gl_account: "GL account", cost_centre: "Cost centre", tax_code: "Tax code", project: "Project" };
const TRACKS = { gridTemplateColumns: "minmax(90px,1.4fr) 92px repeat(4, minmax(76px,1fr)) 56px" };

/** Under what each line is booked: who says each code stands below it; what one types prevails. */
export function Coding({ document, unsaved, onDone }: { document: WorkDocument; unsaved: boolean; onDone: (after: WorkDocument, said: string) => void }) {
  const [typed, setTyped] = useState<Record<string, Draft>>({});
  const may = (document.may as string[]).includes("code") && !unsaved;
  const send = useMutation({
    mutationFn: () => codeLines(document, changedLines(document.coding, typed)),
    onSuccess: (after) => {
      setTyped({});
      onDone(after, "The codes are kept.");
    },
  });
  const changed = Object.keys(changedLines(document.coding, typed)).length;
  const draft = (line: Line) => typed[line.key] ?? draftOf(line);
  const change = (line: Line, next: Draft) => setTyped((now) => ({ ...now, [line.key]: next }));
  function keys(event: KeyboardEvent) {
    if (event.key !== "Enter" || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    if (changed && may) send.mutate();
  }
  return (
    <section aria-label="Coding" onKeyDown={keys}>
      <div className="mb-1 flex items-baseline gap-3">
        <h2 className="font-semibold">Coding</h2>
        <span className="text-sm text-ink-soft">{unsaved ? "save your changes first" : may ? "type a code to prevail; Enter keeps it" : "under what it is booked"}</span>
        {changed ? (
          <Button look="quiet" small className="ml-auto" disabled={!may || send.isPending} keyHint="↵" onClick={() => send.mutate()}>
            Keep codes
          </Button>
        ) : null}
      </div>
      <div role="table" aria-label="Coding" className="overflow-x-auto rounded-[4px] border border-rule-strong/50 bg-sheet">
        <div role="row" style={TRACKS} className="grid border-b border-rule text-[13px] text-ink-soft">
          <div role="columnheader" className="px-1.5 py-1">Line</div>
          <div role="columnheader" className="px-1.5 py-1 text-right">Amount</div>
          {DIMENSIONS.map((each) => <div key={each} role="columnheader" className="px-1.5 py-1">{TITLES[each]}</div>)}
          <div role="columnheader"><span className="sr-only">Acts</span></div>
        </div>
        {document.coding.map((line) => (
          <Parts key={line.key} line={line} draft={draft(line)} may={may} onChange={(next) => change(line, next)} entity={document.entity ?? ""} />
        ))}
      </div>
      {send.error ? <Notice kind="wrong">{send.error instanceof Problem && send.error.places.length ? send.error.places.map((each) => each.message).join("; ") : send.error.message}</Notice> : null}
    </section>
  );
}

function Parts({ line, draft, may, onChange, entity }: { line: Line; draft: Draft; may: boolean; onChange: (next: Draft) => void; entity: string }) {
  const shares = draft.shares.length ? draft.shares : null;
  const rows = shares ?? line.parts.map(() => null);
  return (
    <>
      {rows.map((share, at) => {
        const part = line.parts[at];
        const set = (name: Dimension, value: string) =>
          share ? onChange({ ...draft, shares: draft.shares.map((each, n) => (n === at ? { ...each, codes: { ...each.codes, [name]: value } } : each)) }) : onChange({ ...draft, codes: { ...draft.codes, [name]: value } });
        return (
          <div key={at} role="row" style={TRACKS} className="grid border-b border-rule/70 last:border-b-0">
            <div role="cell" className="truncate px-1.5 py-1 text-[13px]" title={line.description}>
              {at ? null : line.line > 0 ? `${line.line}. ${line.description}` : line.line ? `${line.key} at its foot` : "the whole bill"}
            </div>
            <div role="cell" className="px-1.5 py-1 text-right">
              {share && may ? (
                <input aria-label={`Share ${at + 1} of ${calledLine(line)}`} placeholder="the rest" value={share.how} onChange={(event) => onChange({ ...draft, shares: draft.shares.map((each, n) => (n === at ? { ...each, how: event.target.value } : each)) })} className="w-full bg-transparent text-right outline-offset-[-2px]" />
              ) : (
                part?.amount
              )}
            </div>
            {DIMENSIONS.map((name) => (
              <Code key={name} name={name} label={`${TITLES[name]} of ${calledLine(line)}${share ? `, share ${at + 1}` : ""}`} proposed={part?.[name]} value={share ? (share.codes[name] ?? "") : (draft.codes[name] ?? "")} may={may && (share !== null || line.parts.length === 1)} entity={entity} onChange={(value) => set(name, value)} />
            ))}
            <div role="cell" className="flex justify-end">
              {may && share ? <MarkButton tabIndex={-1} mark="cross" label={`Take share ${at + 1} of ${calledLine(line)} away`} className="!size-7" onClick={() => onChange(withoutShare(draft, at))} /> : null}
              {may && at === rows.length - 1 ? <MarkButton mark="plus" label={`Split ${calledLine(line)}`} className="!size-7" onClick={() => onChange(splitOf(draft, line))} /> : null}
            </div>
          </div>
        );
      })}
    </>
  );
}

const LISTS = { gl_account: "/api/v1/gl-accounts", cost_centre: "/api/v1/cost-centres", tax_code: "/api/v1/tax-codes", project: "/api/v1/projects" } as const;

/** One code: what was proposed stands greyed in it, with who says so below. */
function Code({ name, label, proposed, value, may, entity, onChange }: { name: Dimension; label: string; proposed: Schemas["Coded"] | undefined; value: string; may: boolean; entity: string; onChange: (value: string) => void }) {
  const id = useId();
  const [looking, setLooking] = useState(false);
  const codes = useQuery({
    queryKey: ["codes", name, entity, value],
    queryFn: async (): Promise<readonly { code: string; name: string }[]> => {
      const query = { limit: 20, ...(entity ? { entity } : {}), ...(value ? { search: value } : {}) };
      return (await ask(api.GET(LISTS[name], { params: { query } }))).results;
    },
    enabled: looking,
    staleTime: 60_000,
  });
  const by = proposed && !value ? `${proposed.source === "person" ? "by hand" : proposed.source}${proposed.chance < 1 ? ` ${Math.round(proposed.chance * 100)} %` : ""}` : value ? "by hand" : "";
  return (
    <div role="cell" className="border-l border-rule/50 px-1.5 py-0.5" title={proposed?.why}>
      {may ? (
        <>
          <input aria-label={label} list={id} value={value} placeholder={proposed?.code ?? ""} onFocus={() => setLooking(true)} onChange={(event) => onChange(event.target.value)} className="w-full bg-transparent placeholder:text-ink" />
          <datalist id={id}>
            {codes.data?.map((each) => <option key={each.code} value={each.code}>{each.name}</option>)}
          </datalist>
        </>
      ) : (
        (value || proposed?.code) ?? ""
      )}
      <span className="block truncate text-[11px] leading-tight text-ink-soft">{by}</span>
    </div>
  );
}
