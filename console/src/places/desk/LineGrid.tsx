import Big from "big.js";
import { useState, type ClipboardEvent, type KeyboardEvent } from "react";
import type { Schemas } from "../../api/client";
import { price, quantity } from "../../format/show";
import type { FieldSpec } from "../../records/fields.generated";
import { Button, MarkButton } from "../../ui/Button";
import { Menu, MenuCheck } from "../../ui/Menu";
import { cellStanding, SPECS, tableOf, tidied, type LineEdit, type Table } from "./edits";
import { spotOf, useWork } from "./work";

type Beside = Schemas["OrdersBeside"];

const USUAL: Record<Table, string[]> = {
  lines: ["item_code", "description", "quantity", "unit", "unit_price", "amount"],
  tax_lines: ["category", "rate", "base", "amount"],
};
const WIDTHS: Record<string, string> = { description: "minmax(130px,3fr)", item_code: "minmax(70px,1fr)", id: "44px", quantity: "64px", unit: "60px", unit_price: "76px", amount: "88px" };
const TAX_WIDTHS: Record<string, string> = { category: "100px", rate: "72px", base: "minmax(96px,1fr)", amount: "minmax(96px,1fr)" };
const RIGHT = ["number", "money", "rate"];

/** Rows as a sheet: arrows, Tab and Enter walk, a copied block is pasted over cells. */
export function LineGrid({ table, title, beside }: { table: Table; title: string; beside?: Beside | undefined }) {
  const { reading, edits, habit, editable, dispatch } = useWork();
  const [more, setMore] = useState<string[]>([]);
  const rows = tableOf(edits, reading, table, habit);
  const there = (name: string) => USUAL[table].includes(name) || more.includes(name) || rows.some((row) => row.cells[name]);
  const specs = SPECS[table].filter(({ name }) => there(name));
  const tracks = { gridTemplateColumns: `${specs.map(({ name }) => (table === "lines" ? WIDTHS : TAX_WIDTHS)[name] ?? "72px").join(" ")} 28px` };
  const change = (mark: string, next: LineEdit[]) => dispatch({ do: "change", mark, change: (now) => ({ ...now, [table]: next }) });

  function paste(event: ClipboardEvent<HTMLInputElement>, row: number, column: number) {
    const text = event.clipboardData.getData("text/plain").replace(/\r/g, "").replace(/\n$/, "");
    if (!/[\t\n]/.test(text)) return;
    event.preventDefault();
    const block = text.split("\n").map((line) => line.split("\t"));
    const next = rows.map((each) => ({ ...each, cells: { ...each.cells } }));
    block.forEach((values, down) => {
      const target = (next[row + down] ??= { was: null, cells: {} });
      values.forEach((value, across) => {
        const spec = specs[column + across];
        if (spec) target.cells[spec.name] = tidied(spec, { text: value.trim() }, habit);
      });
    });
    change("", next);
  }
  function walk(event: KeyboardEvent<HTMLInputElement>, row: number, column: number) {
    const input = event.currentTarget;
    const atStart = input.selectionStart === 0 && input.selectionEnd === 0;
    const atEnd = input.selectionStart === input.value.length && input.selectionEnd === input.value.length;
    const all = input.selectionStart === 0 && atEndOfSelection(input);
    let to: [number, number] | null = null;
    if (event.key === "ArrowUp") to = [row - 1, column];
    if (event.key === "ArrowDown" || (event.key === "Enter" && !event.ctrlKey && !event.metaKey)) to = [row + 1, column];
    if (event.key === "ArrowLeft" && (atStart || all)) to = [row, column - 1];
    if (event.key === "ArrowRight" && (atEnd || all)) to = [row, column + 1];
    if (event.key === "Delete" && event.ctrlKey) {
      event.preventDefault();
      change("", rows.toSpliced(row, 1));
      return;
    }
    const spec = to && specs[to[1]];
    if (!to || !spec) return;
    event.preventDefault();
    if (to[0] === rows.length && editable) change("", [...rows, { was: null, cells: {} }]);
    const id = `${table}-${to[0]}-${spec.name}`;
    requestAnimationFrame(() => {
      const next = document.getElementById(id);
      if (next instanceof HTMLInputElement) {
        next.focus();
        next.select();
      }
    });
  }
  const absent = SPECS[table].filter(({ name }) => !USUAL[table].includes(name));
  return (
    <section aria-label={title} className="grid gap-1">
      <div className="flex items-center gap-2">
        <h2 className="font-semibold">{title}</h2>
        {beside ? (
          <span className="text-sm text-ink-soft">
            below each: {beside.orders.length > 1 ? "its line of orders" : "order"} {beside.orders.map((each) => each.number).join(", ")}, {beside.orders[0]?.vendor_name}
          </span>
        ) : null}
        {editable ? (
          <span className="ml-auto flex gap-1">
            <Menu button={<MarkButton mark="columns" label={`Columns of ${title}`} />}>
              {absent.map(({ name, title: column }) => (
                <MenuCheck key={name} on={there(name)} onChange={(on) => setMore(on ? [...more, name] : more.filter((each) => each !== name))}>
                  {column}
                </MenuCheck>
              ))}
            </Menu>
            <Button look="bare" small mark="plus" onClick={() => change("", [...rows, { was: null, cells: {} }])}>
              Line
            </Button>
          </span>
        ) : null}
      </div>
      <div role="table" aria-label={title} className="overflow-x-auto rounded-[4px] border border-rule-strong/50 bg-sheet">
        <div role="rowgroup">
          <div role="row" style={tracks} className="grid border-b border-rule text-[13px] text-ink-soft">
            {specs.map((spec) => (
              <div key={spec.name} role="columnheader" className={`truncate px-1.5 py-1 ${RIGHT.includes(spec.type) ? "text-right" : ""}`}>
                {spec.title}
              </div>
            ))}
            <div role="columnheader"><span className="sr-only">Acts</span></div>
          </div>
        </div>
        <div role="rowgroup">
          {rows.map((row, at) => (
            <div key={at} className="border-b border-rule/70 last:border-b-0">
              <div role="row" style={tracks} className="grid">
                {specs.map((spec, column) => (
                  <Cell
                    key={spec.name}
                    table={table}
                    row={row}
                    at={at}
                    spec={spec}
                    onChange={(cell) => change(`${table}-${at}-${spec.name}`, rows.map((each, index) => (index === at ? { ...each, cells: { ...each.cells, [spec.name]: cell } } : each)))}
                    onKeyDown={(event) => walk(event, at, column)}
                    onPaste={(event) => paste(event, at, column)}
                  />
                ))}
                <div role="cell">
                  {editable ? (
                    <MarkButton tabIndex={-1} mark="cross" label={`Take line ${at + 1} away (Ctrl Delete)`} className="!size-7 opacity-60 hover:opacity-100" onClick={() => change("", rows.toSpliced(at, 1))} />
                  ) : null}
                </div>
              </div>
              {table === "lines" && beside ? <Ordered beside={beside} row={row} specs={specs} tracks={tracks} /> : null}
            </div>
          ))}
          {rows.length ? null : (
            <div role="row">
              <p role="cell" className="px-2 py-2 text-sm text-ink-soft">
                {table === "lines" ? "No lines were read; the bill would get one line with the net total." : "No tax lines were read."}
              </p>
            </div>
          )}
        </div>
      </div>
    </section>
  );
}

function atEndOfSelection(input: HTMLInputElement): boolean {
  return input.value.length > 0 && input.selectionStart === 0 && input.selectionEnd === input.value.length;
}

interface CellProps {
  table: Table;
  row: LineEdit;
  at: number;
  spec: FieldSpec;
  onChange: (cell: { text: string }) => void;
  onKeyDown: (event: KeyboardEvent<HTMLInputElement>) => void;
  onPaste: (event: ClipboardEvent<HTMLInputElement>) => void;
}

function Cell({ table, row, at, spec, onChange, onKeyDown, onPaste }: CellProps) {
  const { reading, habit, wrong, editable, aim, show, forget } = useWork();
  const typed = row.cells[spec.name];
  const before = row.was === null ? undefined : reading[table][row.was - 1]?.[spec.name];
  const path = `${table}[${at + 1}].${spec.name}`;
  const changed = typed?.value === undefined && Boolean(typed);
  const spot = spotOf(typed?.spot ?? (changed ? undefined : before));
  return (
    <div role="cell" className="min-w-0 border-r border-rule/60">
      <input
        id={`${table}-${at}-${spec.name}`}
        data-entry=""
        aria-label={`${spec.title}, line ${at + 1}`}
        autoComplete="off"
        disabled={!editable}
        value={typed?.text ?? ""}
        title={wrong[path] ?? typed?.text}
        aria-invalid={Boolean(wrong[path])}
        onChange={(event) => {
          forget(path);
          onChange({ text: event.target.value });
        }}
        onFocus={(event) => {
          aim({ table, row: at, cell: spec.name });
          show(spot);
          event.target.select();
        }}
        onBlur={() => {
          show(null);
          if (typed && typed.value === undefined && typed.text.trim()) {
            const tidy = tidied(spec, typed, habit);
            if (tidy !== typed) onChange(tidy);
          }
        }}
        onMouseEnter={() => show(spot)}
        onMouseLeave={() => show(null)}
        onKeyDown={onKeyDown}
        onPaste={onPaste}
        className={`h-8 w-full truncate bg-transparent px-1.5 -outline-offset-2 ${RIGHT.includes(spec.type) ? "text-right" : ""} ${wrong[path] ? "bg-brick-soft text-brick" : ""}`}
      />
      {wrong[path] ? <p role="alert" className="px-1.5 pb-1 text-xs text-brick">{wrong[path]}</p> : null}
    </div>
  );
}

/** What the order says about a line, column below column, with what is off marked. */
function Ordered({ beside, row, specs, tracks }: { beside: Beside; row: LineEdit; specs: FieldSpec[]; tracks: object }) {
  const { habit } = useWork();
  const pair = row.was === null ? null : beside.pairs[row.was - 1];
  const order = beside.orders.find((each) => each.number === pair?.order);
  const line = order?.lines.find((each) => each.position === pair?.position);
  if (!order || !line) {
    return (
      <div role="row">
        <p role="cell" className="bg-ground px-1.5 py-1 text-[13px] italic text-ink-soft">
          No line of {beside.orders.length > 1 ? "these orders" : "the order"} fits this one.
        </p>
      </div>
    );
  }
  // Of a line that was not all taken in, what is here and nobody bills is what may be billed.
  const missing = line.receivable !== null && new Big(line.receivable).lt(line.open);
  const unit = row.cells.unit?.text.trim() ?? "";
  const values: Record<string, string> = {
    item_code: line.item_code,
    description: beside.orders.length > 1 ? `${order.number}, line ${line.position}: ${line.description}` : line.description,
    quantity: missing ? `${quantity(line.receivable ?? "0")} here` : new Big(line.invoiced).eq(0) ? quantity(line.quantity) : `${quantity(line.open)} left`,
    unit: line.unit,
    unit_price: price(line.unit_price, order.currency),
  };
  const exceeds = (name: string, ordered: string) => {
    const billed = cellStanding(row, "lines", name, habit);
    return billed !== undefined && new Big(billed).gt(ordered);
  };
  const off: Record<string, boolean> = {
    quantity: (!unit || unit === line.unit) && exceeds("quantity", missing ? (line.receivable ?? "0") : line.open),
    unit_price: exceeds("unit_price", line.unit_price),
  };
  return (
    <div role="row" style={tracks} className="grid bg-ground text-[13px] text-ink-soft">
      {specs.map((spec) => (
        <div role="cell" key={spec.name} className={`truncate px-1.5 py-1 ${RIGHT.includes(spec.type) ? "text-right" : ""} ${off[spec.name] ? "font-semibold text-amber" : ""}`} title={spec.name === "quantity" ? `${quantity(line.quantity)} ordered, ${quantity(line.invoiced)} on other bills${line.received === null ? "" : `, ${quantity(line.received)} received${new Big(line.returned).gt(0) ? ` and ${quantity(line.returned)} sent back` : ""}`}` : off[spec.name] ? "more than was ordered" : values[spec.name]}>
          {off[spec.name] ? "! " : ""}
          {values[spec.name]}
        </div>
      ))}
    </div>
  );
}
