import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { counted, day, moment } from "../../format/show";
import { Button } from "../../ui/Button";
import { Chips } from "../../ui/Chips";
import { Menu, MenuItem } from "../../ui/Menu";
import { Notice } from "../../ui/Notice";
import { Place, Sheet } from "../../ui/Place";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { MailTabs } from "./MailTabs";
import { MailboxChoice, useMailboxes } from "./MailboxChoice";

type Report = Schemas["Accounted"];
const DAY = "h-8 rounded-[5px] border border-rule-strong/60 bg-sheet px-2 text-ink";
const GRID = "grid grid-cols-[110px_110px_minmax(0,2fr)_minmax(0,3fr)_130px_minmax(0,3fr)] items-center gap-3 px-4";

/** What the server lists against what is stored, and what became of each mail. */
export default function Accounted() {
  const [{ mailbox, since, until, stands }, change] = useAddress("mailbox", "since", "until", "stands");
  const names = useMailboxes();
  const chosen = mailbox ?? names[0];
  const query = { mailbox: chosen ?? "", ...(since ? { since } : {}), ...(until ? { until } : {}) };
  const report = useQuery({ queryKey: ["accounted", query], queryFn: () => ask(api.GET("/api/v1/reports/accounted", { params: { query } })), enabled: chosen !== undefined, staleTime: 0 });
  const exported = (as: string) => window.location.assign(`/api/v1/reports/accounted/export?${new URLSearchParams({ ...query, as })}`);
  return (
    <Place
      title="Mail"
      beside={
        <>
          <MailTabs />
          <div className="ml-auto flex flex-wrap items-center gap-2 text-sm text-ink-soft">
            <MailboxChoice names={names} value={chosen} onChange={(value) => change({ mailbox: value })} />
            <label className="flex items-center gap-1.5">from<input type="date" className={DAY} value={since ?? report.data?.since ?? ""} onChange={(event) => change({ since: event.target.value })} /></label>
            <label className="flex items-center gap-1.5">to<input type="date" className={DAY} value={until ?? report.data?.until ?? ""} onChange={(event) => change({ until: event.target.value })} /></label>
            <Menu button={<Button look="quiet" small mark="load">Export</Button>}>
              <MenuItem onSelect={() => exported("xlsx")}>As XLSX</MenuItem>
              <MenuItem onSelect={() => exported("csv")}>As CSV</MenuItem>
            </Menu>
          </div>
        </>
      }
    >
      {chosen === undefined ? <Empty title="No mailbox yet" /> : <Fetched from={report}>{(data) => <Shown data={data} stands={stands} onStands={(value) => change({ stands: value })} />}</Fetched>}
    </Place>
  );
}

function Shown({ data, stands, onStands }: { data: Report; stands: string | undefined; onStands: (value: string | null) => void }) {
  const rows = stands ? data.rows.filter((row) => row.stands === stands) : data.rows;
  const totals = Object.entries(data.totals).filter(([name, count]) => count > 0 || ["taken in", "unexplained", "lost"].includes(name));
  return (
    <div className="grid gap-4">
      {data.good ? (
        <Notice kind="good">Everything is accounted for: {counted(data.rows.length, "mail")} of {data.mailbox} from {day(data.since)} to {day(data.until)}, counted {moment(data.counted_at)}.</Notice>
      ) : (
        <Notice kind="wrong">{counted((data.totals.unexplained ?? 0) + (data.totals.lost ?? 0), "mail")} not accounted for. Look at the connection, then at the rows below.</Notice>
      )}
      <Chips label="How mails stand" value={stands} onChange={onStands} chips={totals.map(([value, count]) => ({ value, label: value, count }))} />
      <Sheet>
        {rows.length ? (
          <div role="table" aria-label="Mails">
            <div role="row" className={`${GRID} h-9 border-b border-rule text-sm text-ink-soft`}>
              {["Received", "Lies in", "Sender", "Subject", "Stands", "What became of it"].map((title) => <span key={title} role="columnheader">{title}</span>)}
            </div>
            {rows.map((row, at) => (
              <div key={at} role="row" className={`${GRID} min-h-10 border-b border-rule/60 py-1`}>
                <span role="cell"><At time={row.received_at} /></span>
                <span role="cell" className="truncate">{row.folder}</span>
                <span role="cell" className="truncate" title={row.sender}>{row.sender}</span>
                <span role="cell" className="truncate" title={row.subject}>{row.message ? <Link className="underline" to={`/mail/${row.message}`}>{row.subject || "no subject"}</Link> : row.subject || "no subject"}</span>
                <span role="cell"><Stamp state={row.stands} as={row.stands} /></span>
                <span role="cell" className="truncate text-ink-soft" title={row.why}>{row.why}</span>
              </div>
            ))}
          </div>
        ) : (
          <Empty title={stands ? `No mail is ${stands}` : "No mail came in these days"} />
        )}
      </Sheet>
    </div>
  );
}
