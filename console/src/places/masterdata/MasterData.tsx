import type { ReactNode } from "react";
import { Link } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { amount, counted, price, quantity } from "../../format/show";
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
  { value: "receipts", label: "Goods receipts" },
  { value: "items", label: "Items" },
  { value: "cards", label: "Rate cards" },
  { value: "gl-accounts", label: "GL accounts" },
  { value: "cost-centres", label: "Cost centres" },
  { value: "projects", label: "Projects" },
  { value: "tax-codes", label: "Tax codes" },
  { value: "rates", label: "Rates of exchange" },
  { value: "books", label: "In the books" },
];

const SHOWN: Record<string, ReactNode> = { receipts: <Receipts />, items: <Items />, cards: <Cards />, "gl-accounts": <GlAccounts />, "cost-centres": <CostCentres />, projects: <Projects />, "tax-codes": <TaxCodes />, rates: <Rates />, books: <Books /> };

/** What the service knows beside vendors and orders: each kind with how fresh it is. */
export default function MasterData() {
  const [{ what }, change] = useAddress("what", "search");
  const shown = SHOWN[what ?? ""] ?? <Companies />;
  return (
    <Place fills title="Master data" beside={<Chips label="Kind" chips={KINDS} value={what ?? ""} onChange={(value) => change({ what: value, search: null })} />}>
      {shown}
    </Place>
  );
}

interface KindProps<T> {
  what: "entities" | "receipts" | "items" | "cards" | "gl-accounts" | "cost-centres" | "projects" | "tax-codes" | "rates" | "books";
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

const RECEIPT: RowColumn<Schemas["GoodsReceipt"]>[] = [
  { key: "number", title: "Number", width: "140px", cell: (row) => row.number },
  { key: "day", title: "Booked", width: "110px", cell: (row) => <Day date={row.received_on} /> },
  { key: "order", title: "Order", width: "140px", cell: (row) => <Link className="underline" to={`/orders/${encodeURIComponent(row.order_number)}?entity=${row.entity}`}>{row.order_number}</Link> },
  { key: "line", title: "Line", width: "60px", right: true, cell: (row) => row.line },
  { key: "quantity", title: "Came in", width: "100px", right: true, cell: (row) => (row.quantity.startsWith("-") ? `${quantity(row.quantity.slice(1))} back` : quantity(row.quantity)) },
  { key: "unit", title: "Unit", width: "100px", cell: (row) => row.unit || <span className="text-ink-soft">the order's</span> },
  { key: "entity", title: "Entity", width: "140px", cell: (row) => row.entity },
  { key: "note", title: "Note", width: "minmax(160px,1fr)", cell: (row) => row.note },
];

function Receipts() {
  const [{ search }, change] = useAddress("search");
  const query = search ? { search } : {};
  const list = useList(["receipts", query], (page) => ask(api.GET("/api/v1/receipts", { params: { query: { ...query, ...page } } })));
  return <Kind what="receipts" one="goods receipt" columns="number, entity, order_number, line, quantity, unit, received_on, note" shown={RECEIPT} keyOf={(row) => `${row.entity} ${row.number} ${row.order_number} ${row.line}`} list={list} search={{ label: "Receipt or order", value: search, onChange: (value) => change({ search: value }) }} />;
}

const ITEM: RowColumn<Schemas["Item"]>[] = [
  { key: "code", title: "Item", width: "120px", cell: (row) => row.code },
  { key: "vendor", title: "Vendor", width: "minmax(150px,1fr)", cell: (row) => row.vendor_name },
  { key: "theirs", title: "Vendor's code", width: "120px", cell: (row) => row.vendor_code },
  { key: "description", title: "Description", width: "minmax(200px,2fr)", cell: (row) => row.description },
  { key: "unit", title: "Unit", width: "90px", cell: (row) => row.unit },
  { key: "packs", title: "Packs", width: "minmax(160px,1fr)", cell: (row) => Object.entries(row.packs).map(([name, count]) => `${name} of ${count}`).join(", ") },
];

function Items() {
  const [{ search }, change] = useAddress("search");
  const query = search ? { search } : {};
  const list = useList(["items", query], (page) => ask(api.GET("/api/v1/items", { params: { query: { ...query, ...page } } })));
  return <Kind what="items" one="item" columns="vendor, code, vendor_code, description, unit, packs" shown={ITEM} keyOf={(row) => `${row.vendor} ${row.code} ${row.vendor_code}`} list={list} search={{ label: "Item", value: search, onChange: (value) => change({ search: value }) }} />;
}

const CARD: RowColumn<Schemas["CardRate"]>[] = [
  { key: "card", title: "Card", width: "90px", cell: (row) => row.card },
  { key: "vendor", title: "Vendor", width: "minmax(150px,1fr)", cell: (row) => row.vendor_name },
  { key: "charge", title: "Charge", width: "minmax(180px,1.5fr)", cell: (row) => [row.code, row.wording].filter(Boolean).join(" ") },
  { key: "agreed", title: "Agreed", width: "120px", right: true, cell: (row) => (row.percent === null ? `${price(row.price ?? "0", row.currency)} ${row.currency}` : `${quantity(row.percent)} %`) },
  { key: "for", title: "For", width: "110px", cell: (row) => (row.percent === null ? row.unit && `one ${row.unit}` : `of ${row.of || "all others"}`) },
  { key: "from", title: "From", width: "50px", right: true, cell: (row) => (Number(row.from_quantity) ? quantity(row.from_quantity) : "") },
  { key: "first", title: "Holds from", width: "100px", cell: (row) => <Day date={row.first} /> },
  { key: "last", title: "until", width: "100px", cell: (row) => <Day date={row.last} /> },
];

function Cards() {
  const [{ search }, change] = useAddress("search");
  const query = search ? { search } : {};
  const list = useList(["cards", query], (page) => ask(api.GET("/api/v1/cards", { params: { query: { ...query, ...page } } })));
  return <Kind what="cards" one="agreed charge" columns="vendor, card, code, wording, currency, unit, price, percent, of, from_quantity, first, last" shown={CARD} keyOf={(row) => [row.vendor, row.card, row.code, row.wording, row.from_quantity, row.first].join(" ")} list={list} search={{ label: "Card or charge", value: search, onChange: (value) => change({ search: value }) }} />;
}

function useCodes<T>(what: string, fetch: (query: { search?: string; cursor?: string; limit?: number }) => Promise<{ results: T[]; next?: string | null }>) {
  const [{ search }, change] = useAddress("search");
  const query = search ? { search } : {};
  const list = useList<T>([what, query], (page) => fetch({ ...query, ...page }) as never);
  return { list, search: { label: "Code or name", value: search, onChange: (value: string | null) => change({ search: value }) } };
}

const openOr = (row: { closed: boolean }) => (row.closed ? "closed" : "open");
const keyOfCode = (row: { ledger: string; entity: string; code: string }) => `${row.ledger} ${row.entity} ${row.code}`;

const GL_ACCOUNT: RowColumn<Schemas["GlAccount"]>[] = [
  { key: "code", title: "Account", width: "130px", cell: (row) => row.code },
  { key: "name", title: "Name", width: "minmax(240px,2fr)", cell: (row) => row.name },
  { key: "entity", title: "Company", width: "160px", cell: (row) => row.entity || "all" },
  { key: "centre", title: "Cost centre", width: "120px", cell: (row) => (row.needs_cost_centre ? "needed" : "") },
  { key: "state", title: "State", width: "100px", cell: openOr },
];

function GlAccounts() {
  const { list, search } = useCodes<Schemas["GlAccount"]>("gl-accounts", (query) => ask(api.GET("/api/v1/gl-accounts", { params: { query } })));
  return <Kind what="gl-accounts" one="GL account" columns="code, name, entity, closed, needs_cost_centre" shown={GL_ACCOUNT} keyOf={keyOfCode} list={list} search={search} />;
}

const COST_CENTRE: RowColumn<Schemas["CostCentre"]>[] = [
  { key: "code", title: "Cost centre", width: "130px", cell: (row) => row.code },
  { key: "name", title: "Name", width: "minmax(200px,1fr)", cell: (row) => row.name },
  { key: "entity", title: "Company", width: "160px", cell: (row) => row.entity || "all" },
  { key: "owner", title: "Who answers for it", width: "minmax(200px,1fr)", cell: (row) => row.owner },
  { key: "state", title: "State", width: "100px", cell: openOr },
];

function CostCentres() {
  const { list, search } = useCodes<Schemas["CostCentre"]>("cost-centres", (query) => ask(api.GET("/api/v1/cost-centres", { params: { query } })));
  return <Kind what="cost-centres" one="cost centre" columns="code, name, entity, closed, owner" shown={COST_CENTRE} keyOf={keyOfCode} list={list} search={search} />;
}

const PROJECT: RowColumn<Schemas["Project"]>[] = [
  { key: "code", title: "Project", width: "130px", cell: (row) => row.code },
  { key: "name", title: "Name", width: "minmax(200px,1fr)", cell: (row) => row.name },
  { key: "entity", title: "Company", width: "160px", cell: (row) => row.entity || "all" },
  { key: "owner", title: "Who leads it", width: "minmax(200px,1fr)", cell: (row) => row.owner },
  { key: "state", title: "State", width: "100px", cell: openOr },
];

function Projects() {
  const { list, search } = useCodes<Schemas["Project"]>("projects", (query) => ask(api.GET("/api/v1/projects", { params: { query } })));
  return <Kind what="projects" one="project" columns="code, name, entity, closed, owner" shown={PROJECT} keyOf={keyOfCode} list={list} search={search} />;
}

const TAX_CODE: RowColumn<Schemas["TaxCode"]>[] = [
  { key: "code", title: "Tax code", width: "110px", cell: (row) => row.code },
  { key: "name", title: "Name", width: "minmax(180px,1fr)", cell: (row) => row.name },
  { key: "entity", title: "Company", width: "150px", cell: (row) => row.entity || "all" },
  { key: "country", title: "Vendor in", width: "90px", cell: (row) => row.country || "all" },
  { key: "category", title: "Category", width: "90px", cell: (row) => row.category },
  { key: "rate", title: "Rate", width: "80px", right: true, cell: (row) => (row.rate === null ? "" : `${quantity(row.rate)} %`) },
  { key: "supply", title: "Of", width: "90px", cell: (row) => row.supply },
  { key: "state", title: "State", width: "90px", cell: openOr },
];

function TaxCodes() {
  const { list, search } = useCodes<Schemas["TaxCode"]>("tax-codes", (query) => ask(api.GET("/api/v1/tax-codes", { params: { query } })));
  return <Kind what="tax-codes" one="tax code" columns="code, name, entity, closed, country, category, rate, supply" shown={TAX_CODE} keyOf={keyOfCode} list={list} search={search} />;
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
