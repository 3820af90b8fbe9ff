import { useVirtualizer } from "@tanstack/react-virtual";
import { memo, useEffect, useRef, type KeyboardEvent, type ReactNode } from "react";
import { Link } from "react-router";
import { Icon } from "./Icon";

export interface RowColumn<T> {
  key: string;
  title: string;
  /** A track of a CSS grid: `120px`, `minmax(0,2fr)`. */
  width: string;
  right?: boolean;
  /** Name that the service orders by. */
  orders?: string;
  cell: (row: T) => ReactNode;
}

interface Props<T> {
  label: string;
  columns: RowColumn<T>[];
  rows: T[];
  keyOf: (row: T) => string | number;
  /** Where a row leads; nowhere without it. */
  href?: (row: T) => string;
  /** More rows exist; called when the end comes into view. */
  more?: (() => void) | undefined;
  ordering?: string;
  onOrder?: (ordering: string) => void;
  /** Of a row, in pixels. */
  height?: number;
  /** One is about to open this row: pointed at, gone to by key, or clicked. */
  onNear?: (row: T) => void;
}

const HEADER = 37;

/** A long list: only the rows in view are drawn. Arrow keys go from row to row, Enter opens. */
export function Rows<T>({ label, columns, rows, keyOf, href, more, ordering, onOrder, height = 40, onNear }: Props<T>) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => height,
    overscan: 12,
    scrollMargin: HEADER,
  });
  const shown = virtual.getVirtualItems();
  const last = shown.at(-1)?.index ?? 0;
  useEffect(() => {
    if (more && last >= rows.length - 30) more();
  }, [more, last, rows.length]);
  const tracks = { gridTemplateColumns: tracksOf(columns) };

  function walk(event: KeyboardEvent) {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 15, PageUp: -15 }[event.key];
    const row = (event.target as HTMLElement).closest<HTMLElement>("[data-at]");
    if (!step || !row) return;
    event.preventDefault();
    const at = Math.min(rows.length - 1, Math.max(0, Number(row.dataset.at) + step));
    virtual.scrollToIndex(at);
    requestAnimationFrame(() => box.current?.querySelector<HTMLElement>(`[data-at="${at}"] a`)?.focus());
  }

  return (
    <div
      ref={box}
      role="table"
      aria-label={label}
      aria-rowcount={more ? -1 : rows.length + 1}
      // Without a link in its rows nothing else in it takes the keyboard, which scrolls it.
      tabIndex={href ? -1 : 0}
      onKeyDown={walk}
      className="max-h-full min-h-0 self-start overflow-auto rounded-md border border-rule bg-sheet shadow-sheet"
    >
      <div role="rowgroup" className="sticky top-0 z-10 border-b border-rule bg-sheet">
        <div role="row" style={tracks} className="grid h-9 items-center gap-4 px-4 text-sm text-ink-soft">
          {columns.map((column) => (
            <Heading key={column.key} column={column} ordering={ordering} onOrder={onOrder} />
          ))}
        </div>
      </div>
      <div role="rowgroup">
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {shown.map((item) => {
            const row = rows[item.index] as T;
            return <OneRow key={keyOf(row)} row={row} at={item.index} top={item.start - HEADER} height={height} columns={columns as RowColumn<unknown>[]} href={href?.(row)} onNear={onNear as ((row: unknown) => void) | undefined} />;
          })}
        </div>
      </div>
    </div>
  );
}

interface OneRowProps {
  row: unknown;
  at: number;
  top: number;
  height: number;
  columns: RowColumn<unknown>[];
  href: string | undefined;
  onNear: ((row: unknown) => void) | undefined;
}

/** Drawn once, however often the list around it is scrolled. */
const OneRow = memo(function OneRow({ row, at, top, height, columns, href, onNear }: OneRowProps) {
  const near = () => onNear?.(row);
  return (
    <div
      role="row"
      aria-rowindex={at + 2}
      data-at={at}
      onPointerEnter={near}
      onFocus={near}
      onClick={near}
      style={{ gridTemplateColumns: tracksOf(columns), height, transform: `translateY(${top}px)` }}
      className="absolute inset-x-0 top-0 grid items-center gap-4 border-b border-rule/60 px-4 [contain:strict] focus-within:bg-accent-soft/60 hover:bg-sunk/70"
    >
      {columns.map((column, index) => (
        <div key={column.key} role="cell" className={`min-w-0 truncate ${column.right ? "text-right" : ""}`}>
          {index === 0 && href ? (
            <Link to={href} className="after:absolute after:inset-0">
              {column.cell(row)}
            </Link>
          ) : (
            column.cell(row)
          )}
        </div>
      ))}
    </div>
  );
});

function tracksOf(columns: { width: string }[]): string {
  return columns.map((column) => column.width).join(" ");
}

function Heading<T>({ column, ordering, onOrder }: { column: RowColumn<T>; ordering: string | undefined; onOrder: ((ordering: string) => void) | undefined }) {
  const side = column.right ? "justify-end text-right" : "";
  if (!column.orders || !onOrder) {
    return (
      <div role="columnheader" className={`truncate ${side}`}>
        {column.title}
      </div>
    );
  }
  const down = ordering === `-${column.orders}`;
  const on = down || ordering === column.orders;
  return (
    <div role="columnheader" aria-sort={on ? (down ? "descending" : "ascending") : "none"} className="min-w-0">
      <button
        type="button"
        className={`flex w-full items-center gap-1 rounded-[3px] hover:text-ink ${side} ${on ? "font-semibold text-ink" : ""}`}
        onClick={() => onOrder(down ? (column.orders as string) : `-${column.orders}`)}
      >
        <span className="truncate">{column.title}</span>
        {on ? <Icon mark="down" className={`size-3.5 ${down ? "" : "rotate-180"}`} /> : null}
      </button>
    </div>
  );
}
