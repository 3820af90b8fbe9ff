import { api, ask, type Schemas } from "../../api/client";
import { counted, moment } from "../../format/show";
import { HandIn } from "../../records/HandIn";
import { useList } from "../../records/useList";
import { Button } from "../../ui/Button";
import { Chips } from "../../ui/Chips";
import { Menu, MenuItem } from "../../ui/Menu";
import { Place } from "../../ui/Place";
import { Rows, type RowColumn } from "../../ui/Rows";
import { SearchField } from "../../ui/SearchField";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { MailTabs } from "./MailTabs";

type Mail = Schemas["MessageRow"];
const OUTCOMES = ["under way", "done", "with people", "failed", "set aside", "repeat"] as const;
const NAMES = ["search", "outcome", "place", "mailbox", "ordering", "taken_from", "taken_to", "received_from", "received_to"] as const;

const COLUMNS: RowColumn<Mail>[] = [
  { key: "subject", title: "Subject", width: "minmax(200px,3fr)", cell: (row) => row.subject || <span className="italic text-ink-soft">no subject</span> },
  { key: "sender", title: "Sender", width: "minmax(150px,2fr)", cell: sender },
  { key: "files", title: "Files and what became of them", width: "minmax(220px,3fr)", cell: files },
  { key: "outcome", title: "Outcome", width: "118px", cell: (row) => <Stamp state={row.outcome} as={row.outcome} /> },
  { key: "mailbox", title: "Mailbox", width: "92px", cell: (row) => row.mailbox ?? <span className="text-ink-soft">by hand</span> },
  { key: "received", title: "Received", width: "112px", orders: "received_at", cell: (row) => <At time={row.received_at} /> },
];

function sender(row: Mail) {
  if (row.forwarded_from) return <span title={`forwarded by ${row.sender_address}`}>{row.forwarded_from}</span>;
  return <span title={row.sender_address}>{row.sender_name || row.sender_address}</span>;
}

function files(row: Mail) {
  const all = row.file_outcomes;
  if (!all.length) return <span className="text-ink-soft">{row.kind === "letter" ? "none" : row.kind}</span>;
  const said = all.map((file) => `${file.name}: ${file.outcome}`).join("; ");
  const read = all.filter((file) => file.outcome !== "left out");
  const out = all.length - read.length;
  const parts = [...read.map((file) => `${file.name}: ${file.outcome}`), ...(out ? [`${out} left out`] : [])];
  return <span title={said}>{parts.join("; ")}</span>;
}

/** The message log: mails that were taken in, and what became of each and of its files. */
export default function Mails() {
  const [{ ordering, ...filters }, change] = useAddress(...NAMES);
  const query = Object.fromEntries(Object.entries({ ...filters, ordering }).filter(([, value]) => value));
  const list = useList(["mails", query], (page) => ask(api.GET("/api/v1/messages", { params: { query: { ...query, ...page } } })));
  const narrowed = Object.values(filters).some(Boolean);
  const exported = (as: string) => window.location.assign(`/api/v1/messages/export?${new URLSearchParams({ ...filters, as })}`);
  return (
    <Place
      fills
      title="Mail"
      beside={
        <>
          <MailTabs />
          <p className="text-ink-soft">{list.data ? `${list.complete ? "" : "more than "}${counted(list.data.length, "mail")}` : ""}</p>
          <div className="ml-auto flex gap-2">
            <HandIn />
            <Menu button={<Button look="quiet" small mark="load">Export</Button>}>
              <MenuItem onSelect={() => exported("xlsx")}>What is shown as XLSX</MenuItem>
              <MenuItem onSelect={() => exported("csv")}>What is shown as CSV</MenuItem>
            </Menu>
          </div>
        </>
      }
    >
      <div className="grid min-h-0 grid-rows-[auto_1fr] gap-3">
        <div className="flex flex-wrap items-center gap-4">
          <SearchField label="Sender, subject, text, file name" value={filters.search} onChange={(value) => change({ search: value })} />
          <Chips label="What became of them" value={filters.outcome} onChange={(value) => change({ outcome: value, place: null })} chips={OUTCOMES.map((value) => ({ value, label: value }))} />
          {(["taken", "received"] as const).map((name) =>
            filters[`${name}_from`] ? (
              <Button key={name} look="quiet" small onClick={() => change({ [`${name}_from`]: null, [`${name}_to`]: null })}>
                {name === "taken" ? "taken in" : "received"} from {moment(filters[`${name}_from`] ?? "")} ✕
              </Button>
            ) : null,
          )}
          {filters.place ? <Button look="quiet" small onClick={() => change({ place: null })}>lies in: {filters.place} ✕</Button> : null}
          {filters.mailbox ? <Button look="quiet" small onClick={() => change({ mailbox: null })}>{filters.mailbox} ✕</Button> : null}
        </div>
        <Fetched from={list}>
          {(rows) =>
            rows.length ? (
              <Rows label="Mails" columns={COLUMNS} rows={rows} keyOf={(row) => row.id} href={(row) => `/mail/${row.id}`} more={list.more} ordering={ordering ?? "-id"} onOrder={(next) => change({ ordering: next })} />
            ) : (
              <Empty title={narrowed ? "No mail is like this" : "No mail yet"}>{narrowed ? null : "Mails appear here as soon as a pipeline takes them from its mailbox."}</Empty>
            )
          }
        </Fetched>
      </div>
    </Place>
  );
}
