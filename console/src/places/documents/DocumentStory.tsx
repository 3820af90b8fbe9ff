import { useQuery } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import { Link, useParams } from "react-router";
import { api, ask, type Schemas } from "../../api/client";
import { counted, percent, size, words } from "../../format/show";
import { vendorOf } from "../../records/documents";
import { Findings } from "../../records/Findings";
import { LINE_CELLS, TAX_CELLS, type FieldSpec } from "../../records/fields.generated";
import { fieldsOf, shown, type Reading, type Row } from "../../records/reading";
import { Story } from "../../records/Story";
import { buttonLook } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Notice } from "../../ui/Notice";
import { Facts, Place, Sheet } from "../../ui/Place";
import { Amount, At, Day } from "../../ui/Shown";
import { Stamp } from "../../ui/Stamp";
import { Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { Again } from "./Again";
import { PageText } from "./PageText";
import { Versions } from "./Versions";
import { Why } from "./Why";

type Document = Schemas["Document"];

const VIEWS = [
  ["story", "Story"],
  ["why", "Why"],
  ["values", "Values"],
  ["versions", "Versions"],
  ["text", "Page text"],
] as const;

/** One document: what came in, was read, found, decided and posted; and the page itself. */
export default function DocumentStory() {
  const id = Number(useParams().id);
  const asked = useQuery({
    queryKey: ["document", id],
    queryFn: () => ask(api.GET("/api/v1/documents/{id}", { params: { path: { id } } })),
    refetchInterval: 6_000,
  });
  return (
    <Place title={<Fetching asked={asked.data} id={id} />} beside={asked.data ? <Beside document={asked.data} /> : null} fills>
      <Fetched from={asked} lines={14}>
        {(document) => <Whole document={document} />}
      </Fetched>
    </Place>
  );
}

function Fetching({ asked, id }: { asked: Document | undefined; id: number }) {
  if (!asked) return <>Document {id}</>;
  return (
    <>
      {asked.number || asked.file_name}
      <span className="font-normal text-ink-soft"> · {vendorOf(asked) || "vendor not known"}</span>
    </>
  );
}

function Beside({ document }: { document: Document }) {
  return (
    <>
      <Stamp state={document.state} />
      <div className="ml-auto flex items-center gap-2">
        <a href={`/api/v1/files/${document.file}/content`} className={buttonLook("quiet", true)}>
          <Icon mark="load" /> Original{document.stretch ? `, ${document.stretch}` : ""}
        </a>
        <a href={`/api/v1/documents/${document.id}/pages/1?dpi=165`} download={`document-${document.id}-page-1.png`} className={buttonLook("quiet", true)}>
          <Icon mark="load" /> Page as PNG
        </a>
        <Again document={document} />
        {document.state === "at_desk" ? (
          <Link to={`/desk/${document.id}`} className={buttonLook("main", true)}>
            Work on it
          </Link>
        ) : null}
      </div>
    </>
  );
}

function Whole({ document }: { document: Document }) {
  const [{ view = "story" }, change] = useAddress("view");
  return (
    <div className="grid min-h-0 grid-cols-[minmax(0,3fr)_minmax(0,2fr)] gap-4">
      <div className="grid min-h-0 content-start gap-4 overflow-auto pr-1">
        <Sheet>
          <Overview document={document} />
        </Sheet>
        <div role="tablist" aria-label="What to show" className="flex gap-1 border-b border-rule">
          {VIEWS.map(([name, title]) => (
            <button
              key={name}
              type="button"
              role="tab"
              id={`tab-${name}`}
              aria-selected={view === name}
              aria-controls="view"
              onClick={() => change({ view: name === "story" ? null : name })}
              className={`-mb-px border-b-2 px-3 py-1.5 ${view === name ? "border-accent font-semibold" : "border-transparent text-ink-soft hover:text-ink"}`}
            >
              {title}
            </button>
          ))}
        </div>
        <div id="view" role="tabpanel" aria-labelledby={`tab-${view}`} className="grid content-start gap-4">
          {view === "why" ? <Why id={document.id} /> : null}
          {view === "values" ? <Values reading={document.reading} /> : null}
          {view === "versions" ? <Versions id={document.id} /> : null}
          {view === "text" ? <PageText id={document.id} pages={document.pages} /> : null}
          {view === "story" ? (
            <>
              {document.findings.length ? (
                <Sheet title="What was found">
                  <div className="px-4 py-3">
                    <Findings findings={document.findings} accepted={document.accepted} />
                  </div>
                </Sheet>
              ) : null}
              <Story id={document.id} />
            </>
          ) : null}
        </div>
      </div>
      <Pages document={document} />
    </div>
  );
}

function OrderLinks({ numbers }: { numbers: string[] }) {
  return (
    <span className="flex flex-wrap gap-x-3">
      {numbers.map((number) => (
        <Link key={number} className="underline" to={`/orders/${encodeURIComponent(number)}`}>{number}</Link>
      ))}
    </span>
  );
}

function Overview({ document }: { document: Document }) {
  const { mail, posting } = document;
  const file = useQuery({ queryKey: ["file", document.file], queryFn: () => ask(api.GET("/api/v1/files/{id}", { params: { path: { id: document.file } } })) });
  return (
    <div className="grid grid-cols-2">
      <Facts
        facts={[
          ["Kind", document.kind],
          ["Total", <Amount key="t" value={document.gross_total} currency={document.currency} />],
          ["Issued", <Day key="d" date={document.issue_date} />],
          ["Vendor", document.vendor ? <Link key="v" className="underline" to={`/vendors/${document.vendor}`}>{document.vendor_name}</Link> : <span key="v">{document.seller_name || "not known"}, in no master data</span>],
          [document.orders.length > 1 ? "Orders" : "Order", document.orders.length ? <OrderLinks key="o" numbers={document.orders} /> : "none"],
          ["Entity", document.entity ?? "not known"],
        ]}
      />
      <Facts
        facts={[
          ["Came", mail ? <Link key="m" className="underline" to={`/mail/${mail.id}`}>{mail.subject || "mail without a subject"}</Link> : "by upload"],
          ["Received", <At key="r" time={mail?.received_at ?? document.received_at} />],
          ["File", `${document.file_name}${file.data ? `, ${size(file.data.size)}` : ""}`],
          ["Pipeline", <Link key="p" className="underline" to={`/pipelines/${document.pipeline}`}>{document.pipeline}, version {document.pipeline_version}</Link>],
          ["In the ledger", posting?.number ? <a key="l" className="underline" href={posting.link} target="_blank" rel="noopener noreferrer">{posting.number}</a> : posting ? <Stamp key="l" state={posting.state} /> : "no"],
          ["Hands", document.touched ? "a person had a hand in it" : "nobody touched it"],
        ]}
      />
      {document.resubmission_of || document.resubmissions.length || posting?.problem || document.end_reason ? (
        <div className="col-span-2 grid gap-2 px-4 pb-3">
          {document.resubmission_of ? <Notice kind="plain">Sent in place of <Link className="underline" to={`/documents/${document.resubmission_of}`}>document {document.resubmission_of}</Link>, which was returned.</Notice> : null}
          {document.resubmissions.map((each) => <Notice key={each} kind="plain">The vendor sent <Link className="underline" to={`/documents/${each}`}>document {each}</Link> in its place.</Notice>)}
          {posting?.problem ? <Notice kind="careful">{posting.problem}</Notice> : null}
          {document.end_reason ? <Notice kind="plain">{words(document.state)}: {document.end_reason}</Notice> : null}
        </div>
      ) : null}
    </div>
  );
}

function Pages({ document }: { document: Document }) {
  if (!document.pages.length) return <Sheet><p className="p-6 text-ink-soft">This file has no page that can be shown. The original can be downloaded.</p></Sheet>;
  return (
    <section aria-label="Pages" className="grid min-h-0 content-start gap-3 overflow-auto rounded-md border border-rule bg-sunk p-3">
      {document.pages.map((page) => (
        <img
          key={page.number}
          src={`/api/v1/documents/${document.id}/pages/${page.number}?dpi=110`}
          alt={`Page ${page.number} of ${counted(document.pages.length, "page")}`}
          width={page.width}
          height={page.height}
          loading="lazy"
          className="h-auto w-full bg-white shadow-sheet"
        />
      ))}
    </section>
  );
}

function Values({ reading }: { reading: Reading }) {
  const currency = String(reading.fields.currency?.value ?? "");
  return (
    <>
      <Sheet title="Header">
        <Facts
          facts={fieldsOf(reading).flatMap((spec): [string, ReactNode][] => {
            const field = reading.fields[spec.name];
            if (!field) return [];
            const sure = field.origin === "person" ? "by hand" : `${percent(field.confidence * 1000, 1000)} sure, ${field.origin}`;
            return [
              [
                spec.term ? `${spec.title} (${spec.term})` : spec.title,
                <span key={spec.name} className="flex gap-3">
                  <span className="flex-1">{shown(spec, field.value, currency)}</span>
                  <span className="text-sm text-ink-soft">{sure}</span>
                </span>,
              ],
            ];
          })}
        />
      </Sheet>
      <Table title="Lines" rows={reading.lines} specs={LINE_CELLS} currency={currency} />
      <Table title="Tax lines" rows={reading.tax_lines} specs={TAX_CELLS} currency={currency} />
    </>
  );
}

function Table({ title, rows, specs, currency }: { title: string; rows: Row[]; specs: FieldSpec[]; currency: string }) {
  const [all, setAll] = useState(false);
  const used = specs.filter(({ name }) => rows.some((row) => row[name]));
  if (!rows.length) return null;
  const right = (spec: FieldSpec) => (["number", "money", "rate"].includes(spec.type) ? "text-right" : "");
  return (
    <Sheet title={`${title} (${rows.length})`}>
      <div className="overflow-x-auto">
        <table className="w-full">
          <thead className="text-left text-sm text-ink-soft">
            <tr>
              {used.map((spec) => <th key={spec.name} scope="col" className={`px-3 py-1.5 font-normal ${right(spec)}`}>{spec.title}</th>)}
            </tr>
          </thead>
          <tbody>
            {(all ? rows : rows.slice(0, 50)).map((row, at) => (
              <tr key={at} className="border-t border-rule/70">
                {used.map((spec) => <td key={spec.name} className={`px-3 py-1.5 ${right(spec)}`}>{shown(spec, row[spec.name]?.value, currency)}</td>)}
              </tr>
            ))}
          </tbody>
        </table>
        {!all && rows.length > 50 ? <button type="button" className="px-3 py-2 text-accent underline" onClick={() => setAll(true)}>Show all {rows.length}</button> : null}
      </div>
    </Sheet>
  );
}
