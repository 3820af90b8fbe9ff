import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { actor, counted } from "../../format/show";
import { tell } from "../../records/events";
import { useList } from "../../records/useList";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Icon } from "../../ui/Icon";
import { Menu, MenuItem } from "../../ui/Menu";
import { Notice } from "../../ui/Notice";
import { Place } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";

type Entry = Schemas["Entry"];

const SUBJECTS: Record<string, string> = { document: "/documents", message: "/mail", connection: "/connections", pipeline: "/pipelines", person: "/people" };

/** Who did what and when; checked against tampering, and exported with every seal. */
export default function Trail() {
  const [filters, change] = useAddress("actor", "act", "subject", "subject_id", "from", "to");
  const names = useQuery({ queryKey: ["trail names"], queryFn: () => ask(api.GET("/api/v1/trail/names")) });
  const query = { ...filters, ...(filters.from ? { from: begin(filters.from) } : {}), ...(filters.to ? { to: begin(filters.to, 1) } : {}) };
  const list = useList(["trail", query], (page) => ask(api.GET("/api/v1/trail", { params: { query: { ...query, ...page } } })));
  const exported = (as: string) => `/api/v1/trail/export?${new URLSearchParams({ ...query, as })}`;
  const look = (on: boolean) => `h-8 rounded-[5px] border px-2 ${on ? "border-accent bg-accent-soft" : "border-rule-strong/60 bg-sheet"}`;
  return (
    <Place
      title="Trail"
      beside={
        <>
          <p className="text-ink-soft">{list.data ? `${list.complete ? "" : "more than "}${counted(list.data.length, "entry", "entries")}` : ""}</p>
          <div className="ml-auto flex gap-2">
            <Verify />
            <Menu button={<Button look="quiet" small mark="load">Export</Button>}>
              <MenuItem onSelect={() => window.location.assign(exported("xlsx"))}>What is shown as XLSX</MenuItem>
              <MenuItem onSelect={() => window.location.assign(exported("csv"))}>What is shown as CSV</MenuItem>
            </Menu>
          </div>
        </>
      }
    >
      <div className="grid gap-3">
        <div role="group" aria-label="Filters" className="flex flex-wrap items-center gap-2">
          <select aria-label="Who" value={filters.actor ?? ""} onChange={(event) => change({ actor: event.target.value })} className={look(Boolean(filters.actor))}>
            <option value="">Who: anybody</option>
            {names.data?.actors.map((each) => <option key={each} value={each}>{actor(each)}</option>)}
          </select>
          <select aria-label="What" value={filters.act ?? ""} onChange={(event) => change({ act: event.target.value })} className={look(Boolean(filters.act))}>
            <option value="">What: anything</option>
            {names.data?.acts.map((each) => <option key={each}>{each}</option>)}
          </select>
          <label className="flex items-center gap-1.5 text-sm text-ink-soft">from <input type="date" value={filters.from ?? ""} onChange={(event) => change({ from: event.target.value })} className={look(Boolean(filters.from))} /></label>
          <label className="flex items-center gap-1.5 text-sm text-ink-soft">to <input type="date" value={filters.to ?? ""} onChange={(event) => change({ to: event.target.value })} className={look(Boolean(filters.to))} /></label>
          {filters.subject ? (
            <Button look="quiet" small onClick={() => change({ subject: null, subject_id: null })}>
              {filters.subject} {filters.subject_id} ✕
            </Button>
          ) : null}
        </div>
        <Fetched from={list} lines={12}>
          {(rows) => (rows.length ? <Entries rows={rows} /> : <Empty title="No entry is like this" />)}
        </Fetched>
        {list.more ? <Button look="quiet" className="justify-self-center" onClick={list.more}>Show older entries</Button> : null}
      </div>
    </Place>
  );
}

/** Midnight of a day in the reader's zone. */
function begin(date: string, later = 0): string {
  const at = new Date(`${date}T00:00:00`);
  at.setDate(at.getDate() + later);
  return Number.isNaN(at.getTime()) ? date : at.toISOString();
}

function Entries({ rows }: { rows: Entry[] }) {
  return (
    <table className="w-full table-fixed rounded-md border border-rule bg-sheet">
      <thead className="text-left text-sm text-ink-soft">
        <tr className="[&>th]:px-3 [&>th]:py-2 [&>th]:font-normal">
          <th scope="col" className="w-16 text-right">No.</th>
          <th scope="col" className="w-32">When</th>
          <th scope="col" className="w-36">Who</th>
          <th scope="col">What</th>
          <th scope="col" className="w-40">On</th>
          <th scope="col" className="w-28">Seal</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((entry) => <EntryRow key={entry.number} entry={entry} />)}
      </tbody>
    </table>
  );
}

function EntryRow({ entry }: { entry: Entry }) {
  const { said, more } = tell({ ...entry, details: entry.details as Record<string, unknown> });
  const place = SUBJECTS[entry.subject];
  const on = `${entry.subject} ${entry.subject_id}`;
  return (
    <tr className="border-t border-rule/70 align-top [&>td]:px-3 [&>td]:py-1.5">
      <td className="text-right text-ink-soft">{entry.number}</td>
      <td><At time={entry.at} /></td>
      <td className="truncate" title={entry.actor}>{actor(entry.actor)}</td>
      <td className="min-w-0">
        {more.length ? (
          <details>
            <summary className="truncate">{said}</summary>
            <div className="pb-1 pl-4 text-sm text-ink-soft">{more.map((line, at) => <p key={at} className="break-words">{line}</p>)}</div>
          </details>
        ) : (
          <span className="pl-4">{said}</span>
        )}
      </td>
      <td className="truncate" title={on}>{place ? <Link className="underline" to={`${place}/${entry.subject_id}`}>{on}</Link> : on}</td>
      <td className="truncate font-mono text-xs leading-6 text-ink-soft" title={entry.seal}>{entry.seal.slice(0, 10)}</td>
    </tr>
  );
}

function Verify() {
  const [open, setOpen] = useState(false);
  const check = useMutation({ mutationFn: () => ask(api.GET("/api/v1/trail/verify")) });
  return (
    <>
      <Button look="quiet" small mark="check" disabled={check.isPending} onClick={() => check.mutate(undefined, { onSettled: () => setOpen(true) })}>
        {check.isPending ? "Checking" : "Verify"}
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title="The trail, checked" about="Every entry's seal was computed anew, from the first to the newest." wide>
        <div className="grid gap-3">
          {check.error ? <Notice kind="wrong">{check.error.message}</Notice> : null}
          {check.data?.good ? <Notice kind="good">{counted(check.data.entries, "entry holds", "entries hold")}; nothing was changed, taken out or put in.</Notice> : null}
          {check.data?.problems.map((each) => <Notice key={each} kind="wrong">{each}</Notice>)}
          {check.data ? (
            <p className="break-all text-sm text-ink-soft">
              <Icon mark="link" className="mr-1 inline size-4" />
              Newest seal, to be kept elsewhere and compared: <code>{check.data.head}</code>
            </p>
          ) : null}
        </div>
      </Dialog>
    </>
  );
}
