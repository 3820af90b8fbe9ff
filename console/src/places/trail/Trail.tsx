import { useMutation, useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { actor, counted } from "../../format/show";
import { tell } from "../../records/events";
import { askRun, RunShown, useRun } from "../../records/runs";
import { useList } from "../../records/useList";
import { Button, buttonLook } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Icon } from "../../ui/Icon";
import { Menu, MenuItem } from "../../ui/Menu";
import { Notice } from "../../ui/Notice";
import { Place } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";

type Entry = Schemas["Entry"];
type Head = Schemas["Head"];

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
  const [asked, setAsked] = useState<number>();
  const check = useRun(asked);
  const begin = useMutation({ mutationFn: (head: Head | null) => askRun({ kind: "trail", ...(head ? { head } : {}) }), onSuccess: (run) => setAsked(run.id) });
  const chosen = useRef<HTMLInputElement>(null);
  const [unread, setUnread] = useState("");
  const compare = async (file: File) => {
    setUnread("");
    try {
      begin.mutate(JSON.parse(await file.text()) as Head);
    } catch {
      setUnread(`${file.name} is no head of a trail: it holds an object of number, seal, mark and at.`);
    }
  };
  const result = check.data?.result;
  return (
    <>
      <Button
        look="quiet"
        small
        mark="check"
        onClick={() => {
          setOpen(true);
          begin.mutate(null);
        }}
      >
        Verify
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title="The trail, checked" about="Every entry's seal is computed anew, from the first to the newest, and heads that were kept are compared." wide>
        <div className="grid gap-3">
          {unread ? <Notice kind="wrong">{unread}</Notice> : null}
          <RunShown run={check.data} error={begin.error ?? check.error} noun="entry" nouns="entries" />
          {result?.good ? <Notice kind="good">{counted(result.entries ?? 0, "entry holds", "entries hold")}; nothing was changed, taken out or put in{result.compared?.length ? `, and ${counted(result.compared.length, "kept head agrees", "kept heads agree")}` : ""}.</Notice> : null}
          {result?.problems?.map((each) => <Notice key={each} kind="wrong">{each}</Notice>)}
          {result ? (
            <p className="break-all text-sm text-ink-soft">
              <Icon mark="link" className="mr-1 inline size-4" />
              Newest seal: <code>{result.head}</code>
            </p>
          ) : null}
          <p className="text-sm text-ink-soft">
            The entries cannot show by themselves that the newest ones were cut off: a head that was kept elsewhere can.
          </p>
          <div className="flex gap-2">
            <a className={buttonLook("quiet", true)} href="/api/v1/trail/head" download="trail-head.json">Download the head of now</a>
            <input
              ref={chosen}
              type="file"
              accept=".json,application/json"
              aria-label="A kept head"
              className="sr-only"
              tabIndex={-1}
              onChange={(event) => {
                const file = event.target.files?.[0];
                if (file) void compare(file);
                event.target.value = "";
              }}
            />
            <Button look="quiet" small onClick={() => chosen.current?.click()}>Compare a kept head</Button>
          </div>
        </div>
      </Dialog>
    </>
  );
}
