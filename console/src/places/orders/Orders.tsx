import { api, ask, type Schemas } from "../../api/client";
import { counted } from "../../format/show";
import { ImportTable } from "../../records/ImportTable";
import { SyncButton } from "../../records/SyncButton";
import { useList } from "../../records/useList";
import { Chips } from "../../ui/Chips";
import { Place } from "../../ui/Place";
import { Rows, type RowColumn } from "../../ui/Rows";
import { SearchField } from "../../ui/SearchField";
import { Amount, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";

type Order = Schemas["Order"];

const COLUMNS: RowColumn<Order>[] = [
  { key: "number", title: "Number", width: "130px", orders: "number", cell: (row) => row.number },
  { key: "vendor", title: "Vendor", width: "minmax(180px,2fr)", cell: (row) => row.vendor_name },
  { key: "entity", title: "Entity", width: "150px", cell: (row) => row.entity },
  { key: "ordered", title: "Ordered", width: "120px", orders: "ordered_on", cell: (row) => <Day date={row.ordered_on} /> },
  { key: "lines", title: "Lines", width: "60px", right: true, cell: (row) => row.lines.length },
  { key: "net", title: "Net total", width: "150px", right: true, cell: (row) => <Amount value={row.net_total} currency={row.currency} /> },
  { key: "state", title: "State", width: "130px", cell: (row) => <Stamp state={row.gone_at ? "gone" : row.closed ? "closed" : row.approved ? "open" : "not approved"} /> },
];

export default function Orders() {
  const [{ search, closed, ordering }, change] = useAddress("search", "closed", "ordering");
  const query = { ...(search ? { search } : {}), ...(closed ? { closed } : {}), ...(ordering ? { ordering: ordering as "number" } : {}) };
  const list = useList(["orders", query], (page) => ask(api.GET("/api/v1/orders", { params: { query: { ...query, ...page } } })));
  return (
    <Place
      fills
      title="Orders"
      beside={
        <>
          <p className="text-ink-soft">{list.data ? counted(list.data.length, "order") : ""}</p>
          <div className="ml-auto flex items-center gap-3">
            <SyncButton what="orders" />
            <ImportTable what="orders" columns="number, entity, vendor, currency, ordered_on, status, line, item_code, description, quantity, unit, unit_price, needs_receipt" />
          </div>
        </>
      }
    >
      <div className="grid min-h-0 grid-rows-[auto_1fr] gap-3">
        <div className="flex flex-wrap items-center gap-4">
          <SearchField label="Number or vendor" value={search} onChange={(value) => change({ search: value })} />
          <Chips label="State" value={closed} onChange={(value) => change({ closed: value })} chips={[{ value: "no", label: "Open" }, { value: "yes", label: "Closed" }]} />
        </div>
        <Fetched from={list}>
          {(rows) =>
            rows.length ? (
              <Rows label="Orders" columns={COLUMNS} rows={rows} keyOf={(row) => `${row.entity} ${row.number}`} href={(row) => `/orders/${encodeURIComponent(row.number)}?entity=${row.entity}`} more={list.more} ordering={ordering ?? "number"} onOrder={(next) => change({ ordering: next })} />
            ) : (
              <Empty title={search || closed ? "No order is like this" : "No orders yet"}>{search || closed ? null : "Sync them from a ledger, or import them as a table."}</Empty>
            )
          }
        </Fetched>
      </div>
    </Place>
  );
}
