import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { picture } from "../../records/near";
import type { Spot } from "./edits";
import { PageOverlay, type Mark } from "./PageOverlay";
import type { Box } from "./work";

type Shape = Schemas["PageShape"];

/** Enough dots for the size it is shown at, in few steps so that pictures are fetched once. */
function dpiFor(wide: number, shape: Shape): number {
  const needed = (wide / (shape.width / 72)) * Math.min(2, window.devicePixelRatio);
  return [110, 165, 220].find((dpi) => dpi >= needed) ?? 300;
}

/** What comes after the picture must not hold up the frame in which it appears. */
function afterPaint(then: () => void): void {
  requestAnimationFrame(() => setTimeout(then));
}

interface Props {
  id: number;
  shape: Shape;
  wide: number;
  turn: number;
  marks: Mark[];
  active: Box | null;
  onPick: (spot: Spot) => void;
  onGo: (name: string) => void;
  picking: boolean;
  onReady: () => void;
}

/** One page as paper, in any size and turn. */
export function PageSheet({ id, shape, wide, turn, marks, active, onPick, onGo, picking, onReady }: Props) {
  const [there, setThere] = useState(false);
  const upright = turn % 180 === 0;
  const scale = wide / (upright ? shape.width : shape.height);
  const [width, height] = [shape.width * scale, shape.height * scale];
  const words = useQuery({
    queryKey: ["words", id, shape.number],
    queryFn: () =>
      ask(api.GET("/api/v1/documents/{id}/pages/{page}/words", { params: { path: { id, page: shape.number } } })),
    staleTime: Infinity,
    enabled: there,
  });
  const glow = useRef<SVGRectElement>(null);
  useEffect(() => {
    if (active) glow.current?.scrollIntoView({ block: "nearest", inline: "nearest" });
  }, [active]);
  const [source, setSource] = useState(picture(id, shape.number, 110));
  const [failed, setFailed] = useState(false);
  const wanted = picture(id, shape.number, dpiFor(wide, shape));
  // The small picture stays until the sharper one is there.
  useEffect(() => {
    if (wanted === source) return;
    const next = new Image();
    next.onload = () => setSource(wanted);
    next.src = wanted;
    return () => {
      next.onload = null;
    };
  }, [wanted, source]);
  return (
    <div className="relative mx-auto" style={{ width: upright ? width : height, height: upright ? height : width }}>
      <div
        className="absolute left-1/2 top-1/2 bg-white shadow-sheet"
        style={{ width, height, transform: `translate(-50%, -50%) rotate(${turn}deg)` }}
      >
        <img src={source} alt={`Page ${shape.number}`} width={width} height={height} className="block size-full" draggable={false} data-page-picture="" onLoad={() => afterPaint(() => { setThere(true); onReady(); })} onError={() => { setFailed(true); onReady(); }} />
        {failed ? <p role="alert" className="absolute inset-x-0 top-1/3 px-8 text-center text-[#9b3522]">This page cannot be drawn. The original can be downloaded.</p> : null}
        <PageOverlay shape={shape} words={words.data?.words ?? []} marks={marks} active={active} glow={glow} onPick={onPick} onGo={onGo} picking={picking} />
      </div>
    </div>
  );
}
