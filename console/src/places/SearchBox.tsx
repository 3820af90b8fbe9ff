import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState, type KeyboardEvent, type ReactNode } from "react";
import { useNavigate } from "react-router";
import { api, ask, type Schemas } from "../api/client";
import { counted } from "../format/show";
import { Dialog } from "../ui/Dialog";
import { Failure } from "../ui/States";
import { Amount } from "../ui/Shown";
import { Stamp } from "../ui/Stamp";

interface Hit {
  to: string;
  group: string;
  main: ReactNode;
  beside: ReactNode;
}

/** One line for a number, a vendor, an amount, an order or words on a page. */
export function SearchBox({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Search" wide>
      <Searching onClose={onClose} />
    </Dialog>
  );
}

function Searching({ onClose }: { onClose: () => void }) {
  const go = useNavigate();
  const [typed, setTyped] = useState("");
  const [at, setAt] = useState(0);
  const q = useDeferredValue(typed.trim());
  const found = useQuery({
    queryKey: ["search", q],
    queryFn: () => ask(api.GET("/api/v1/search", { params: { query: { q } } })),
    enabled: q.length > 0,
    placeholderData: keepPreviousData,
  });
  const hits = q && found.data ? hitsOf(found.data, q) : [];
  function open(hit: Hit | undefined) {
    if (!hit) return;
    onClose();
    void go(hit.to);
  }
  function pressed(event: KeyboardEvent) {
    if (event.key === "Enter") open(hits[at]);
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (!step) return;
    event.preventDefault();
    setAt(Math.min(hits.length - 1, Math.max(0, at + step)));
  }
  return (
    <div className="grid min-h-72 content-start gap-3">
      <input
        autoFocus
        role="combobox"
        aria-label="What to look for"
        aria-expanded={hits.length > 0}
        aria-controls="hits"
        aria-activedescendant={hits.length ? `hit-${at}` : undefined}
        placeholder="A number, a vendor, an amount, an order, words on a page"
        value={typed}
        onChange={(event) => {
          setTyped(event.target.value);
          setAt(0);
        }}
        onKeyDown={pressed}
        className="h-11 rounded-md border border-rule-strong/70 bg-ground px-3 text-lg"
      />
      {found.error && q ? <Failure error={found.error} again={() => found.refetch()} /> : null}
      {q && found.data && hits.length === 0 ? <p className="px-1 text-ink-soft">Nothing holds “{q}”.</p> : null}
      <ul id="hits" role="listbox" aria-label="Found" className="grid">
        {hits.map((hit, index) => (
          <li
            key={hit.to}
            id={`hit-${index}`}
            role="option"
            aria-selected={index === at}
            onClick={() => open(hit)}
            onMouseMove={() => setAt(index)}
            className={`flex cursor-pointer items-center gap-3 rounded-[5px] px-2.5 py-1.5 ${index === at ? "bg-accent-soft" : ""}`}
          >
            <span className="w-20 shrink-0 text-sm text-ink-soft">{hit.group}</span>
            <span className="min-w-0 flex-1 truncate">{hit.main}</span>
            {hit.beside}
          </li>
        ))}
      </ul>
    </div>
  );
}

function hitsOf(found: Schemas["Search"], q: string): Hit[] {
  const documents = found.documents.map((each) => ({
    to: each.state === "at_desk" ? `/desk/${each.id}` : `/documents/${each.id}`,
    group: "Document",
    main: `${each.number || each.file_name} · ${each.vendor_name ?? (each.seller_name || "vendor not known")}`,
    beside: (
      <>
        <Amount value={each.gross_total} currency={each.currency} />
        <Stamp state={each.state} />
      </>
    ),
  }));
  const all =
    found.documents.length > 0
      ? [{ to: `/documents?search=${encodeURIComponent(q)}`, group: "Documents", main: `Show all documents with “${q}”`, beside: null }]
      : [];
  return [
    ...documents,
    ...all,
    ...found.orders.map((each) => ({
      to: `/orders/${encodeURIComponent(each.number)}`,
      group: "Order",
      main: `${each.number} · ${each.vendor_name}`,
      beside: <span className="text-ink-soft">{counted(each.lines.length, "line")}</span>,
    })),
    ...found.vendors.map((each) => ({
      to: `/vendors/${encodeURIComponent(each.code)}`,
      group: "Vendor",
      main: each.name,
      beside: <span className="text-ink-soft">{each.code}</span>,
    })),
    ...found.mails.map((each) => ({
      to: `/mail/${each.id}`,
      group: "Mail",
      main: `${each.subject || "no subject"} · ${each.sender_name || each.sender_address}`,
      beside: null,
    })),
  ];
}
