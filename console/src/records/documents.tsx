import { api, ask, type Schemas } from "../api/client";
import { age, counted } from "../format/show";
import { Age, Amount, At, Day } from "../ui/Shown";
import { Stamp } from "../ui/Stamp";
import type { RowColumn } from "../ui/Rows";
import { Icon } from "../ui/Icon";
import { useList } from "./useList";

export type DocumentRow = Schemas["DocumentRow"];
export type Filters = Record<string, string | undefined>;

/** Documents page by page, from all of them or from the desk, fresh every few seconds. */
export function useDocuments(from: "documents" | "desk", filters: Filters) {
  const query = Object.fromEntries(Object.entries(filters).filter(([, value]) => value));
  return useList([from, "list", query], (page) => {
    const params = { query: { ...query, ...page } };
    return ask(from === "desk" ? api.GET("/api/v1/desk", { params }) : api.GET("/api/v1/documents", { params }));
  });
}

/** How many there are, as far as is known. */
export function howMany(rows: DocumentRow[], complete: boolean): string {
  return complete ? counted(rows.length, "document") : `more than ${counted(rows.length, "document")}`;
}

export function vendorOf(row: DocumentRow): string {
  return row.vendor_name ?? row.seller_name;
}

function Number_({ row }: { row: DocumentRow }) {
  return row.number ? <>{row.number}</> : <span className="italic text-ink-soft">{row.file_name}</span>;
}

export function Holder({ row }: { row: DocumentRow }) {
  if (!row.taken_by) return null;
  return (
    <span className="inline-flex items-center gap-1" title={row.taken_at ? `for ${age(row.taken_at)}` : ""}>
      <Icon mark="hand" className="size-3.5 text-amber" />
      {row.taken_by}
    </span>
  );
}

/** The first order that a bill names, and how many there are besides. */
export function ordersOf(row: { orders: string[] }): string {
  const [first, ...others] = row.orders;
  return first === undefined ? "" : others.length ? `${first} +${others.length}` : first;
}

export const COLUMNS: Record<string, RowColumn<DocumentRow>> = {
  number: { key: "number", title: "Number", width: "minmax(120px,1fr)", orders: "number", cell: (row) => <Number_ row={row} /> },
  vendor: { key: "vendor", title: "Vendor", width: "minmax(150px,1.5fr)", cell: (row) => vendorOf(row) || <span className="text-ink-soft">not known</span> },
  kind: { key: "kind", title: "Kind", width: "104px", cell: (row) => row.kind },
  issue_date: { key: "issue_date", title: "Issued", width: "104px", orders: "issue_date", cell: (row) => <Day date={row.issue_date} /> },
  gross_total: { key: "gross_total", title: "Total", width: "132px", right: true, orders: "gross_total", cell: (row) => <Amount value={row.gross_total} currency={row.currency} /> },
  net_total: { key: "net_total", title: "Net", width: "132px", right: true, cell: (row) => <Amount value={row.net_total} currency={row.currency} /> },
  order: { key: "order", title: "Order", width: "112px", cell: (row) => <span title={row.orders.join(", ")}>{ordersOf(row)}</span> },
  state: { key: "state", title: "State", width: "128px", cell: (row) => <Stamp state={row.state} /> },
  posting: { key: "posting", title: "Ledger number", width: "124px", cell: (row) => row.posting?.number },
  queue: { key: "queue", title: "Queue", width: "100px", cell: (row) => row.queue },
  reason: { key: "reason", title: "Why it stopped", width: "minmax(180px,3fr)", cell: (row) => <span title={row.reasons.join("\n")} className="line-clamp-2 whitespace-normal text-sm leading-tight">{row.reasons[0]}</span> },
  taken_by: { key: "taken_by", title: "Taken by", width: "92px", cell: (row) => <Holder row={row} /> },
  held_until: { key: "held_until", title: "On hold until", width: "112px", cell: (row) => (row.held_until ? <Day date={row.held_until} /> : null) },
  entity: { key: "entity", title: "Entity", width: "124px", cell: (row) => row.entity },
  pipeline: { key: "pipeline", title: "Pipeline", width: "150px", cell: (row) => row.pipeline },
  file_name: { key: "file_name", title: "File", width: "minmax(120px,1fr)", cell: (row) => row.file_name },
  received_at: { key: "received_at", title: "Received", width: "116px", orders: "received_at", cell: (row) => <At time={row.received_at} /> },
  waits: { key: "waits", title: "Waits", width: "68px", orders: "state_at", cell: (row) => <Age since={row.state_at} /> },
  ended_at: { key: "ended_at", title: "Ended", width: "116px", cell: (row) => (row.ended_at ? <At time={row.ended_at} /> : null) },
};

export function columns(...names: string[]): RowColumn<DocumentRow>[] {
  return names.flatMap((name) => COLUMNS[name] ?? []);
}
