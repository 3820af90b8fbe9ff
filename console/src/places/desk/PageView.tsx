import { useEffect, useRef, useState } from "react";
import type { Schemas } from "../../api/client";
import { MarkButton } from "../../ui/Button";
import { useKeys } from "../../ui/keys";
import { picture } from "../../records/near";
import type { Spot } from "./edits";
import { PageSheet } from "./PageSheet";
import type { Mark } from "./PageOverlay";
import type { Shown } from "./work";

type Shape = Schemas["PageShape"];

interface Props {
  document: number;
  pages: Shape[];
  marks: Mark[];
  active: Shown | null;
  onPick: (spot: Spot) => void;
  onGo: (name: string) => void;
  /** A field waits for a value: a click takes the word, else it goes to what was read there. */
  picking: boolean;
  /** The first picture is on the screen. */
  onReady: () => void;
}

const ZOOMS = [0.5, 0.75, 1, 1.25, 1.5, 2, 3];
/** The page with what was read drawn on it; words can be taken by a click or a drag. */
export function PageView({ document: id, pages, marks, active, onPick, onGo, picking, onReady }: Props) {
  const [number, setNumber] = useState(pages[0]?.number ?? 1);
  const [zoom, setZoom] = useState(1);
  const [turn, setTurn] = useState(0);
  const box = useRef<HTMLDivElement>(null);
  const [wide, setWide] = useState(600);
  useEffect(() => {
    if (!box.current) return;
    const watch = new ResizeObserver(([entry]) => entry && setWide(entry.contentRect.width));
    watch.observe(box.current);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    if (active) setNumber(active.page);
  }, [active]);
  const step = (by: number) => {
    const at = pages.findIndex((each) => each.number === number) + by;
    const next = pages[at];
    if (next) setNumber(next.number);
  };
  const closer = (by: number) => setZoom((now) => ZOOMS[Math.min(ZOOMS.length - 1, Math.max(0, ZOOMS.indexOf(now) + by))] ?? 1);
  useKeys([
    { key: "+", does: "Page larger", run: () => closer(1) },
    { key: "-", does: "Page smaller", run: () => closer(-1) },
    { key: "w", does: "Page as wide as its frame", run: () => setZoom(1) },
    { key: "o", does: "Turn the page", run: () => setTurn((turn + 90) % 360) },
    ...(pages.length > 1
      ? [
          { key: "PageDown", does: "Next page", run: () => step(1) },
          { key: "PageUp", does: "Page before", run: () => step(-1) },
        ]
      : []),
  ]);
  const shape = pages.find((each) => each.number === number);
  return (
    <section aria-label="Page" className="grid min-h-0 grid-rows-[auto_1fr] border-r border-rule bg-sunk">
      <div className="flex h-10 items-center gap-0.5 border-b border-rule bg-ground px-2">
        <MarkButton mark="minus" label="Smaller (−)" disabled={zoom === ZOOMS[0]} onClick={() => closer(-1)} />
        <span className="w-12 text-center text-sm">{Math.round(zoom * 100)} %</span>
        <MarkButton mark="plus" label="Larger (+)" disabled={zoom === ZOOMS.at(-1)} onClick={() => closer(1)} />
        <MarkButton mark="fit" label="As wide as the frame (W)" aria-pressed={zoom === 1} onClick={() => setZoom(1)} />
        <MarkButton mark="turn" label="Turn by a quarter (O)" onClick={() => setTurn((turn + 90) % 360)} />
        {pages.length > 1 ? (
          <span className="ml-auto flex items-center text-sm">
            <MarkButton mark="left" label="Page before" disabled={number === pages[0]?.number} onClick={() => step(-1)} />
            page {number} of {pages.length}
            <MarkButton mark="right" label="Next page" disabled={number === pages.at(-1)?.number} onClick={() => step(1)} />
          </span>
        ) : (
          <span className="ml-auto pr-2 text-[13px] text-ink-soft">{picking ? "Click a word, or drag over several, to take it" : "Click a value to go to it"}</span>
        )}
      </div>
      <div className="flex min-h-0">
        {pages.length > 1 ? <Thumbnails id={id} pages={pages} number={number} onGo={setNumber} /> : null}
        <div ref={box} tabIndex={0} role="group" aria-label="The page; arrow keys scroll" className="min-h-0 min-w-0 flex-1 overflow-auto p-4 [scrollbar-gutter:stable]">
          {shape ? (
            <PageSheet
              id={id}
              shape={shape}
              wide={Math.max(200, wide - 8) * zoom}
              turn={turn}
              marks={marks.filter((mark) => mark.page === number)}
              active={active?.page === number ? active.box : null}
              onPick={onPick}
              onGo={onGo}
              picking={picking}
              onReady={onReady}
            />
          ) : (
            <p className="p-8 text-center text-ink-soft">This file has no page that can be shown. The original can be downloaded.</p>
          )}
        </div>
      </div>
    </section>
  );
}

function Thumbnails({ id, pages, number, onGo }: { id: number; pages: Shape[]; number: number; onGo: (number: number) => void }) {
  return (
    <div role="group" aria-label="Pages" className="grid w-20 content-start gap-2 overflow-auto border-r border-rule p-2">
      {pages.map((each) => (
        <button
          key={each.number}
          type="button"
          aria-label={`Page ${each.number}`}
          aria-current={each.number === number ? "page" : undefined}
          onClick={() => onGo(each.number)}
          className={`overflow-hidden rounded-[3px] border-2 bg-white ${each.number === number ? "border-accent" : "border-transparent"}`}
        >
          <img src={picture(id, each.number, 36)} alt="" width={each.width} height={each.height} className="w-full" loading="lazy" />
        </button>
      ))}
    </div>
  );
}
