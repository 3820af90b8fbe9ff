import { api, ask, type Schemas } from "../../api/client";
import { counted } from "../../format/show";
import { Link } from "react-router";
import { ImportTable } from "../../records/ImportTable";
import { SyncButton, useStanding } from "../../records/SyncButton";
import { useList } from "../../records/useList";
import { Place } from "../../ui/Place";
import { Rows, type RowColumn } from "../../ui/Rows";
import { SearchField } from "../../ui/SearchField";
import { At } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";

type Vendor = Schemas["Vendor"];

const COLUMNS: RowColumn<Vendor>[] = [
  { key: "code", title: "Code", width: "100px", orders: "code", cell: (row) => row.code },
  { key: "name", title: "Name", width: "minmax(200px,2fr)", orders: "name", cell: (row) => row.name },
  { key: "tax_id", title: "Tax id", width: "150px", cell: (row) => row.tax_id },
  { key: "country", title: "Country", width: "80px", cell: (row) => row.country },
  { key: "terms", title: "Terms", width: "minmax(120px,1fr)", cell: (row) => row.terms },
  { key: "tax", title: "Usual tax", width: "minmax(110px,1fr)", cell: (row) => [row.treatment, (row.rates as string[]).map((each) => `${each} %`).join(", ")].filter(Boolean).join(" ") },
  { key: "needs_order", title: "Orders", width: "110px", cell: (row) => (row.needs_order ? "needed" : "not needed") },
  { key: "state", title: "State", width: "100px", cell: (row) => <Stamp state={row.gone_at ? "gone" : row.blocked ? "blocked" : "open"} /> },
  { key: "updated", title: "As of", width: "120px", cell: (row) => <At time={row.updated_at} /> },
];

export default function Vendors() {
  const [{ search, ordering }, change] = useAddress("search", "ordering");
  const query = { ...(search ? { search } : {}), ...(ordering ? { ordering: ordering as "code" } : {}) };
  const list = useList(["vendors", query], (page) => ask(api.GET("/api/v1/vendors", { params: { query: { ...query, ...page } } })));
  const standing = useStanding("vendors");
  return (
    <Place
      fills
      title="Vendors"
      beside={
        <>
          <p className="text-ink-soft">{list.data ? counted(list.data.length, "vendor") : ""}</p>
          {standing?.held ? (
            <Link className="font-semibold text-amber underline" to="/vendors/held">
              {counted(standing.held, "change")} {standing.held === 1 ? "waits" : "wait"} for a second person
            </Link>
          ) : null}
          <div className="ml-auto flex items-center gap-3">
            <SyncButton what="vendors" />
            <ImportTable what="vendors" columns="code, name, tax_id, country, email, needs_order, blocked, terms, treatment, rates, accounts, domains, names, ..." />
          </div>
        </>
      }
    >
      <div className="grid min-h-0 grid-rows-[auto_1fr] gap-3">
        <SearchField label="Name or code" value={search} onChange={(value) => change({ search: value })} />
        <Fetched from={list}>
          {(rows) =>
            rows.length ? (
              <Rows label="Vendors" columns={COLUMNS} rows={rows} keyOf={(row) => `${row.ledger} ${row.code}`} href={(row) => `/vendors/${encodeURIComponent(row.code)}${row.ledger ? `?ledger=${row.ledger}` : ""}`} more={list.more} ordering={ordering ?? "code"} onOrder={(next) => change({ ordering: next })} />
            ) : (
              <Empty title={search ? "No vendor is called like this" : "No vendors yet"}>{search ? null : "Sync them from a ledger, or import them as a table."}</Empty>
            )
          }
        </Fetched>
      </div>
    </Place>
  );
}
