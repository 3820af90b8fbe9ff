import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { day, moment, words } from "../../format/show";
import { Button, buttonLook } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Menu, MenuCheck, MenuItem } from "../../ui/Menu";
import { Place } from "../../ui/Place";
import { Rows } from "../../ui/Rows";
import { SearchField } from "../../ui/SearchField";
import { Empty, Fetched } from "../../ui/States";
import { useAddress } from "../../ui/useAddress";
import { HandIn } from "../../records/HandIn";
import { fetchNear } from "../../records/near";
import { COLUMNS, columns, howMany, useDocuments, type DocumentRow } from "../../records/documents";

const USUAL = ["number", "vendor", "issue_date", "gross_total", "order", "state", "posting", "received_at"];
const STATES = ["at_desk", "posted", "cleared", "aside", "returned", "discarded", "failed", "received", "read", "checked"];
const KINDS = ["invoice", "credit note", "till receipt", "purchase order", "order confirmation", "delivery note", "statement", "reminder", "pro forma", "terms", "other"];
const NAMES = [
  "search", "state", "kind", "vendor", "order", "entity", "pipeline", "finding", "queue", "message", "taken_by", "touched", "currency",
  "amount_from", "amount_to", "issued_from", "issued_to", "received_from", "received_to", "ended_from", "ended_to",
] as const;
/** Columns of the list as the export names them. */
const EXPORTED: Record<string, string> = { vendor: "seller_name", reason: "reasons", posting: "posting_number", waits: "state_at" };

/** All documents: search, filters, columns, and what is shown as a file. */
export default function Documents() {
  const queries = useQueryClient();
  const [address, change] = useAddress(...NAMES, "ordering", "columns");
  const { ordering, columns: chosen, ...filters } = address;
  const shown = useMemo(() => chosen?.split(",").filter((name) => name in COLUMNS) ?? USUAL, [chosen]);
  const drawn = useMemo(() => columns(...shown), [shown]);
  const near = useCallback((row: DocumentRow) => fetchNear(queries, row), [queries]);
  const list = useDocuments("documents", { ...filters, ordering });
  const exported = (as: string) => {
    const query = new URLSearchParams(filters);
    query.set("as", as);
    query.set("columns", ["id", ...shown.map((name) => EXPORTED[name] ?? name), ...(shown.includes("gross_total") ? ["currency"] : [])].join(","));
    return `/api/v1/documents/export?${query}`;
  };
  return (
    <Place
      fills
      title="Documents"
      beside={
        <>
          <p className="text-ink-soft">{list.data ? howMany(list.data, list.complete) : ""}</p>
          <div className="ml-auto flex gap-2">
            <HandIn />
            <ColumnsMenu shown={shown} onChange={(next) => change({ columns: next.join(",") === USUAL.join(",") ? null : next.join(",") })} />
            <Menu button={<Button look="quiet" small mark="load">Export</Button>}>
              <MenuItem onSelect={() => window.location.assign(exported("xlsx"))}>What is shown as XLSX</MenuItem>
              <MenuItem onSelect={() => window.location.assign(exported("csv"))}>What is shown as CSV</MenuItem>
            </Menu>
          </div>
        </>
      }
    >
      <div className="grid min-h-0 grid-rows-[auto_1fr] gap-3">
        <FilterBar filters={filters} change={change} />
        <Fetched from={list}>
          {(rows) =>
            rows.length ? (
              <Rows
                label="Documents"
                columns={drawn}
                rows={rows}
                keyOf={(row) => row.id}
                href={(row) => `/documents/${row.id}`}
                more={list.more}
                ordering={ordering ?? "-id"}
                onNear={near}
                onOrder={(next) => change({ ordering: next })}
              />
            ) : Object.keys(filters).length ? (
              <Empty title="No document is like this">
                <Button look="quiet" onClick={() => change(Object.fromEntries(NAMES.map((name) => [name, null])))}>
                  Show all documents
                </Button>
              </Empty>
            ) : (
              <Empty title="No documents yet">
                They come by mail to a mailbox that a pipeline watches, or with <code>veridox document upload</code>.
              </Empty>
            )
          }
        </Fetched>
      </div>
    </Place>
  );
}

type Change = (changes: Partial<Record<(typeof NAMES)[number], string | null>>) => void;

function FilterBar({ filters, change }: { filters: Partial<Record<(typeof NAMES)[number], string>>; change: Change }) {
  const others = (["vendor", "order", "entity", "pipeline", "finding", "queue", "message", "taken_by", "touched", "currency"] as const).filter((name) => filters[name]);
  const spans = (["received", "ended"] as const).filter((name) => filters[`${name}_from`] ?? filters[`${name}_to`]);
  return (
    <div role="group" aria-label="Filters" className="flex flex-wrap items-center gap-2">
      <SearchField label="Number, vendor, amount, order, text" value={filters.search} onChange={(value) => change({ search: value })} />
      <Pick label="State" value={filters.state} options={STATES} onChange={(value) => change({ state: value })} />
      <Pick label="Kind" value={filters.kind} options={KINDS} onChange={(value) => change({ kind: value })} />
      <Range label="Total" type="number" from={filters.amount_from} to={filters.amount_to} onFrom={(v) => change({ amount_from: v })} onTo={(v) => change({ amount_to: v })} />
      <Range label="Issued" type="date" from={filters.issued_from} to={filters.issued_to} onFrom={(v) => change({ issued_from: v })} onTo={(v) => change({ issued_to: v })} />
      {others.map((name) => (
        <Dropped key={name} onDrop={() => change({ [name]: null })}>
          {name === "message" ? `of mail ${filters.message}` : name === "touched" ? (filters.touched === "no" ? "untouched" : "touched by a person") : `${words(name)} ${filters[name]}`}
        </Dropped>
      ))}
      {spans.map((name) => (
        <Dropped key={name} onDrop={() => change({ [`${name}_from`]: null, [`${name}_to`]: null })}>
          {name} {span(filters[`${name}_from`], filters[`${name}_to`])}
        </Dropped>
      ))}
    </div>
  );
}

/** From one moment to another, as a day when it is one. */
function span(from: string | undefined, to: string | undefined): string {
  if (from && to && new Date(to).getTime() - new Date(from).getTime() <= 25 * 3_600_000) {
    const local = new Date(from);
    return `on ${day(`${local.getFullYear()}-${String(local.getMonth() + 1).padStart(2, "0")}-${String(local.getDate()).padStart(2, "0")}`)}`;
  }
  return [from ? `from ${moment(from)}` : "", to ? `before ${moment(to)}` : ""].join(" ").trim();
}

function Pick({ label, value, options, onChange }: { label: string; value: string | undefined; options: string[]; onChange: (value: string | null) => void }) {
  const known = !value || options.includes(value);
  return (
    <select
      aria-label={label}
      value={value ?? ""}
      onChange={(event) => onChange(event.target.value || null)}
      className={`h-8 rounded-[5px] border px-2 ${value ? "border-accent bg-accent-soft" : "border-rule-strong/60 bg-sheet"}`}
    >
      <option value="">{label}: any</option>
      {known ? null : <option value={value}>{words(value)}</option>}
      {options.map((each) => (
        <option key={each} value={each}>
          {words(each)}
        </option>
      ))}
    </select>
  );
}

interface RangeProps {
  label: string;
  type: "number" | "date";
  from: string | undefined;
  to: string | undefined;
  onFrom: (value: string | null) => void;
  onTo: (value: string | null) => void;
}

function Range({ label, type, from, to, onFrom, onTo }: RangeProps) {
  const [open, setOpen] = useState(Boolean(from ?? to));
  if (!open) {
    return (
      <Button look="quiet" small className="!font-normal" onClick={() => setOpen(true)}>
        {label}
      </Button>
    );
  }
  const look = `h-8 rounded-[5px] border border-rule-strong/60 bg-sheet px-2 ${type === "number" ? "w-24 text-right" : ""}`;
  const common = { type, className: look, ...(type === "number" ? { step: "0.01", inputMode: "decimal" as const } : {}) };
  return (
    <span className="inline-flex items-center gap-1.5 text-sm text-ink-soft">
      {label}
      <input aria-label={`${label} from`} defaultValue={from} onBlur={(event) => onFrom(event.target.value || null)} {...common} />
      to
      <input aria-label={`${label} to`} defaultValue={to} onBlur={(event) => onTo(event.target.value || null)} {...common} />
    </span>
  );
}

function Dropped({ children, onDrop }: { children: React.ReactNode; onDrop: () => void }) {
  return (
    <button type="button" onClick={onDrop} title="Take this filter away" className={`${buttonLook("quiet", true)} !border-accent !bg-accent-soft !font-normal`}>
      {children}
      <Icon mark="cross" className="size-3" />
    </button>
  );
}

function ColumnsMenu({ shown, onChange }: { shown: string[]; onChange: (shown: string[]) => void }) {
  const all = Object.keys(COLUMNS);
  return (
    <Menu button={<Button look="quiet" small mark="columns">Columns</Button>}>
      {all.map((name) => (
        <MenuCheck
          key={name}
          on={shown.includes(name)}
          onChange={(on) => {
            const next = on ? all.filter((each) => shown.includes(each) || each === name) : shown.filter((each) => each !== name);
            if (next.length) onChange(next);
          }}
        >
          {COLUMNS[name]?.title}
        </MenuCheck>
      ))}
    </Menu>
  );
}
