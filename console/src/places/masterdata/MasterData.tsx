import { api, ask, type Schemas } from "../../api/client";
import { amount, counted } from "../../format/show";
import { ImportTable } from "../../records/ImportTable";
import { SyncButton } from "../../records/SyncButton";
import { useList } from "../../records/useList";
import { Chips } from "../../ui/Chips";
import { Place } from "../../ui/Place";
import { Rows, type RowColumn } from "../../ui/Rows";
import { SearchField } from "../../ui/SearchField";
import { Amount, Day } from "../../ui/Shown";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";

const KINDS = [
  { value: "", label: "Our companies" },
  { value: "rates", label: "Rates of exchange" },
  { value: "books", label: "In the books" },
];

/** What the service knows beside vendors and orders: each kind with how fresh it is. */
export default function MasterData() {
  const [{ what }, change] = useAddress("what", "search");
  const shown = what === "rates" ? <Rates /> : what === "books" ? <Books /> : <Companies />;
  return (
    <Place fills title="Master data" beside={<Chips label="Kind" chips={KINDS} value={what ?? ""} onChange={(value) => change({ what: value, search: null })} />}>
      {shown}
    </Place>
  );
}

interface KindProps<T> {
  what: "entities" | "rates" | "books";
  /** One of them, as people count them. */
  one: string;
  many?: string;
  columns: string;
  shown: RowColumn<T>[];
  keyOf: (row: T) => string;
  list: ReturnType<typeof useList<T>>;
  search?: { label: string; value: string | undefined; onChange: (value: string | null) => void };
}

function Kind<T>({ what, one, many, columns, shown, keyOf, list, search }: KindProps<T>) {
  return (
    <div className="grid min-h-0 grid-rows-[auto_1fr] gap-3">
      <div className="flex flex-wrap items-center gap-4">
        {search ? <SearchField {...search} /> : null}
        <p className="text-ink-soft">{list.data ? `${list.complete ? "" : "the first "}${counted(list.data.length, one, many)}` : ""}</p>
        <div className="ml-auto flex items-center gap-3">
          <SyncButton what={what} />
          <ImportTable what={what} columns={columns} />
        </div>
      </div>
      <Fetched from={list}>
        {(rows) =>
          rows.length ? (
            <Rows label={one} columns={shown} rows={rows} keyOf={keyOf} more={list.more} />
          ) : (
            <Empty title={search?.value ? `No ${one} is like this` : `No ${many ?? `${one}s`} yet`}>{search?.value ? null : "Sync from a ledger, or import a table."}</Empty>
          )
        }
      </Fetched>
    </div>
  );
}

const joined = (values: unknown) => (values as string[]).join(", ");

const COMPANY: RowColumn<Schemas["Entity"]>[] = [
  { key: "code", title: "Code", width: "110px", cell: (row) => row.code },
  { key: "name", title: "Name", width: "minmax(190px,2fr)", cell: (row) => [row.name, ...(row.names as string[])].join(", ") },
  { key: "country", title: "Country", width: "70px", cell: (row) => row.country },
  { key: "currency", title: "Books in", width: "80px", cell: (row) => row.currency },
  { key: "tax", title: "Tax id", width: "120px", cell: (row) => row.tax_id },
  { key: "recipients", title: "Bills are sent to", width: "minmax(210px,1.5fr)", cell: (row) => joined(row.recipients) },
  { key: "closed", title: "Closed periods", width: "minmax(170px,1fr)", cell: (row) => joined(row.closed) || "none" },
];

function Companies() {
  const list = useList(["entities"], (page) => ask(api.GET("/api/v1/entities", { params: { query: page } })));
  return <Kind what="entities" one="company" many="companies" columns="code, name, country, currency, tax_id, names, tax_ids, recipients, closed" shown={COMPANY} keyOf={(row) => row.code} list={list} />;
}

const RATE: RowColumn<Schemas["DayRate"]>[] = [
  { key: "day", title: "Day", width: "140px", cell: (row) => <Day date={row.day} /> },
  { key: "one", title: "One", width: "80px", cell: (row) => row.currency },
  { key: "rate", title: "Is", width: "100px", right: true, cell: (row) => row.rate.replace(/(\.\d*?)0+$/, "$1").replace(/\.$/, "") },
  { key: "into", title: "Of", width: "80px", cell: (row) => row.into },
  { key: "source", title: "Published by", width: "minmax(200px,1fr)", cell: (row) => row.source },
];

function Rates() {
  const [{ search }, change] = useAddress("search");
  const query = search ? { currency: search } : {};
  const list = useList(["rates", query], (page) => ask(api.GET("/api/v1/rates", { params: { query: { ...query, ...page } } })));
  return <Kind what="rates" one="rate" columns="currency, into, day, rate, source" shown={RATE} keyOf={(row) => `${row.day} ${row.currency} ${row.into}`} list={list} search={{ label: "Currency", value: search, onChange: (value) => change({ search: value }) }} />;
}

const BOOKED: RowColumn<Schemas["BookedBill"]>[] = [
  { key: "booked_as", title: "Booked as", width: "115px", cell: (row) => row.booked_as },
  { key: "vendor", title: "Vendor", width: "minmax(150px,2fr)", cell: (row) => row.vendor_name },
  { key: "number", title: "Number", width: "minmax(115px,1fr)", cell: (row) => (row.kind === "credit note" ? `${row.number}, a credit` : row.number) },
  { key: "issued", title: "Issued", width: "100px", cell: (row) => <Day date={row.issue_date} /> },
  { key: "total", title: "Total", width: "130px", right: true, cell: (row) => <Amount value={row.gross_total} currency={row.currency} /> },
  { key: "open", title: "Open", width: "80px", right: true, cell: (row) => (row.open_amount === null ? "not told" : amount(row.open_amount, row.currency)) },
  { key: "order", title: "Order", width: "100px", cell: (row) => row.order_number },
  { key: "from", title: "Came from", width: "80px", cell: (row) => (row.gone_at ? "gone" : row.reference ? "here" : "elsewhere") },
];

function Books() {
  const [{ search }, change] = useAddress("search");
  const query = search ? { search } : {};
  const list = useList(["books", query], (page) => ask(api.GET("/api/v1/books", { params: { query: { ...query, ...page } } })));
  return <Kind what="books" one="bill" columns="booked_as, vendor, entity, kind, number, issue_date, currency, gross_total, open_amount, order_number, reference" shown={BOOKED} keyOf={(row) => `${row.ledger} ${row.booked_as}`} list={list} search={{ label: "Number", value: search, onChange: (value) => change({ search: value }) }} />;
}
