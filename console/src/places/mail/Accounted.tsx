import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link } from "react-router";
import { api, ask } from "../../api/client";
import { counted, day, moment } from "../../format/show";
import { askRun, RunShown, useRun, type Run } from "../../records/runs";
import { Button } from "../../ui/Button";
import { Chips } from "../../ui/Chips";
import { Menu, MenuItem } from "../../ui/Menu";
import { Notice } from "../../ui/Notice";
import { Place, Sheet } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { MailTabs } from "./MailTabs";
import { useMailboxes } from "./MailboxChoice";
import { useRunRows, type RunRow } from "./runRows";

const FIELD = "h-8 rounded-[5px] border border-rule-strong/60 bg-sheet px-2 text-ink";
const GRID = "grid grid-cols-[104px_130px_minmax(0,2fr)_minmax(0,3fr)_130px_minmax(0,3fr)] items-center gap-3 px-4";
const EVERYTHING = "";

/** What came in against what is stored, and what became of each: counted by a worker, shown page by page. */
export default function Accounted() {
  const [{ mailbox, since, until, stands, run: asked }, change] = useAddress("mailbox", "since", "until", "stands", "run");
  const names = useMailboxes();
  const begin = useMutation({
    mutationFn: () => askRun({ kind: "accounted", ...(mailbox ? { mailbox } : {}), ...(since ? { since } : {}), ...(until ? { until } : {}) }),
    onSuccess: (run) => change({ run: String(run.id), stands: null }),
  });
  // Without a run of its own, the address shows the newest one of this mailbox.
  const newest = useQuery({ queryKey: ["runs", "accounted"], queryFn: () => ask(api.GET("/api/v1/reports/runs", { params: { query: { limit: 50 } } })), enabled: !asked });
  const before = newest.data?.results.find((each) => each.kind === "accounted" && (each.wanted.mailbox ?? EVERYTHING) === (mailbox ?? EVERYTHING) && (each.wanted.since ?? undefined) === (since ?? undefined));
  const run = useRun(asked ? Number(asked) : before?.id);
  const { mutate, isIdle } = begin;
  useEffect(() => {
    if (!asked && newest.isSuccess && !before && isIdle) mutate();
  }, [asked, newest.isSuccess, before, isIdle, mutate]);
  const exported = (as: string) => run.data && window.location.assign(`/api/v1/reports/runs/${run.data.id}/export?${new URLSearchParams({ as, ...(stands ? { stands } : {}) })}`);
  const other = (values: Record<string, string | null>) => {
    begin.reset();
    change({ ...values, run: null, stands: null });
  };
  return (
    <Place
      title="Mail"
      beside={
        <>
          <MailTabs />
          <div className="ml-auto flex flex-wrap items-center gap-2 text-sm text-ink-soft">
            <label className="flex items-center gap-2">
              Came by
              <select value={mailbox ?? EVERYTHING} onChange={(event) => other({ mailbox: event.target.value || null })} className={FIELD}>
                <option value={EVERYTHING}>every way</option>
                {names.map((name) => <option key={name}>{name}</option>)}
              </select>
            </label>
            <label className="flex items-center gap-1.5">from<input type="date" className={FIELD} value={since ?? run.data?.result?.since ?? ""} onChange={(event) => other({ since: event.target.value })} /></label>
            <label className="flex items-center gap-1.5">to<input type="date" className={FIELD} value={until ?? run.data?.result?.until ?? ""} onChange={(event) => other({ until: event.target.value })} /></label>
            <Button look="quiet" small mark="undo" disabled={begin.isPending} onClick={() => mutate()}>Count now</Button>
            <Menu button={<Button look="quiet" small mark="load" disabled={run.data?.state !== "done"}>Export</Button>}>
              <MenuItem onSelect={() => exported("xlsx")}>As XLSX</MenuItem>
              <MenuItem onSelect={() => exported("csv")}>As CSV</MenuItem>
            </Menu>
          </div>
        </>
      }
    >
      <div className="grid gap-4">
        <RunShown run={run.data} error={begin.error ?? run.error} noun="mail or file" nouns="mails and files" />
        {run.data?.state === "done" ? <Shown run={run.data} stands={stands} onStands={(value) => change({ stands: value })} /> : null}
      </div>
    </Place>
  );
}

function Shown({ run, stands, onStands }: { run: Run; stands: string | undefined; onStands: (value: string | null) => void }) {
  const rows = useRunRows(run.id, stands);
  const { result } = run;
  if (!result) return null;
  const totals = Object.entries(result.totals ?? {});
  const all = totals.reduce((sum, [, count]) => sum + count, 0);
  const shown = totals.filter(([name, count]) => count > 0 || ["taken in", "unexplained", "lost"].includes(name));
  const before = (result.refused_before ?? []).reduce((sum, each) => sum + each.count, 0);
  const missing = (result.totals?.unexplained ?? 0) + (result.totals?.lost ?? 0);
  return (
    <>
      {result.good ? (
        <Notice kind="good">
          Everything is accounted for: {counted(all, "mail or file", "mails and files")} {result.mailbox ? `of ${result.mailbox}` : "that came in"} from {day(result.since ?? "")} to {day(result.until ?? "")}, counted {moment(result.counted_at ?? run.asked_at)}.
          {before ? ` Unwanted and no longer there: ${before.toLocaleString("en")}.` : ""}
        </Notice>
      ) : result.problems?.length ? (
        <Notice kind="wrong">{result.problems.join(" ")}</Notice>
      ) : null}
      {missing ? (
        <Notice kind="wrong">{counted(missing, "mail or file", "mails and files")} not accounted for. Look at the connection or directory, then at the rows below.</Notice>
      ) : null}
      <Chips label="How they stand" value={stands} onChange={onStands} chips={shown.map(([value, count]) => ({ value, label: value, count }))} />
      <Sheet>
        {rows.list.length ? (
          <div role="table" aria-label="Mails and files">
            <div role="row" className={`${GRID} h-9 border-b border-rule text-sm text-ink-soft`}>
              {["Received", "Came by", "Sender", "Subject or name", "Stands", "What became of it"].map((title) => <span key={title} role="columnheader">{title}</span>)}
            </div>
            {rows.list.map((row) => <Row key={row.id} row={row} />)}
          </div>
        ) : rows.isPending ? null : (
          <Empty title={stands ? `Nothing is ${stands}` : "Nothing came in these days"} />
        )}
      </Sheet>
      {rows.hasNextPage ? <Button look="quiet" disabled={rows.isFetchingNextPage} onClick={() => void rows.fetchNextPage()}>Show more</Button> : null}
    </>
  );
}

function Row({ row }: { row: RunRow }) {
  const name = row.subject || "no subject";
  return (
    <div role="row" className={`${GRID} min-h-10 border-b border-rule/60 py-1`}>
      <span role="cell"><At time={row.received_at} /></span>
      <span role="cell" className="truncate" title={`${row.source} ${row.folder}`}>{row.source}{row.folder && row.folder !== "INBOX" ? `, ${row.folder}` : ""}</span>
      <span role="cell" className="truncate" title={row.sender}>{row.sender.replace(/^person:/, "")}</span>
      <span role="cell" className="truncate" title={row.subject}>{row.message ? <Link className="underline" to={`/mail/${row.message}`}>{name}</Link> : name}</span>
      <span role="cell"><Stamp state={row.stands} as={row.stands} /></span>
      <span role="cell" className="truncate text-ink-soft" title={row.why}>{row.why}</span>
    </div>
  );
}
