import { useMemo, useRef, useState, type PointerEvent, type RefObject } from "react";
import type { Schemas } from "../../api/client";
import type { Spot } from "./edits";
import type { Box, Shown } from "./work";

type Word = Schemas["Word"];

/** A box on the page with what it is for. */
export interface Mark extends Shown {
  name: string;
  look: "read" | "block" | "warn";
}

// Paper is white by night too: what is drawn on it has colours of its own.
const MARK_LOOKS = { read: "stroke-[#1c3a5e]/40", block: "stroke-[#9b3522]", warn: "stroke-[#7d5200]" };

interface Props {
  shape: Schemas["PageShape"];
  marks: Mark[];
  words: Word[];
  active: Box | null;
  glow: RefObject<SVGRectElement | null>;
  onPick: (spot: Spot) => void;
  onGo: (name: string) => void;
  /** A field waits for a value: a click takes the word, else it goes to what was read there. */
  picking: boolean;
}

/** What lies on the page: boxes of values, the glow, and words to take by a click or a drag. */
export function PageOverlay({ shape, words, marks, active, glow, onPick, onGo, picking }: Props) {
  const canvas = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<Box | null>(null);
  const from = useRef<[number, number] | null>(null);
  const taken = useMemo(() => (drag ? within(words, drag) : []), [words, drag]);

  function at(event: PointerEvent): [number, number] {
    const matrix = canvas.current?.getScreenCTM()?.inverse();
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return [point.x, point.y];
  }
  function down(event: PointerEvent) {
    if (event.button !== 0) return;
    event.preventDefault(); // the field that is typed into keeps its focus
    event.currentTarget.setPointerCapture(event.pointerId);
    from.current = at(event);
  }
  function move(event: PointerEvent) {
    if (!from.current) return;
    const [x, y] = at(event);
    const [left, top] = from.current;
    if (drag || Math.hypot(x - left, y - top) > 4) setDrag([Math.min(x, left), Math.min(y, top), Math.max(x, left), Math.max(y, top)]);
  }
  function up(event: PointerEvent) {
    const began = from.current;
    from.current = null;
    setDrag(null);
    if (!began) return;
    if (drag) {
      if (taken.length) onPick(spotOfWords(taken, shape.number));
      return;
    }
    const [x, y] = at(event);
    const inside = ([left = 0, top = 0, right = 0, bottom = 0]: number[]) => x >= left - 1 && x <= right + 1 && y >= top - 1 && y <= bottom + 1;
    const word = words.find((each) => inside(each.box));
    const mark = marks.find((each) => inside(each.box));
    if (picking && word && !event.altKey) onPick(spotOfWords([word], shape.number));
    else if (mark) onGo(mark.name);
  }
  return (
    <svg
      ref={canvas}
      viewBox={`0 0 ${shape.width} ${shape.height}`}
      className={`absolute inset-0 size-full touch-none ${picking ? "cursor-copy" : "cursor-default"}`}
      aria-hidden="true"
      onMouseDown={(event) => event.preventDefault()}
      onPointerDown={down}
      onPointerMove={move}
      onPointerUp={up}
      data-words={words.length}
    >
      {marks.map((mark, index) => (
        <rect key={index} {...around(mark.box, 1.5)} rx="1.5" className={`fill-none ${MARK_LOOKS[mark.look]}`} strokeWidth={mark.look === "read" ? 0.7 : 1.2} />
      ))}
      {active ? <rect ref={glow} {...around(active, 2.5)} rx="2" className="fill-glow/30 stroke-[#a97400]" strokeWidth="1.4" data-glow="" /> : null}
      {words.map((word, index) => (
        <rect key={index} {...around(word.box as Box, 0.8)} rx="1" className={`stroke-none ${taken.includes(word) ? "fill-[#1a685d]/30" : "fill-transparent hover:fill-[#1a685d]/15"}`} />
      ))}
      {drag ? <rect x={drag[0]} y={drag[1]} width={drag[2] - drag[0]} height={drag[3] - drag[1]} className="fill-none stroke-[#1a685d]" strokeDasharray="3 2" strokeWidth="1" /> : null}
    </svg>
  );
}

function around([left, top, right, bottom]: Box, by: number) {
  return { x: left - by, y: top - by, width: right - left + 2 * by, height: bottom - top + 2 * by };
}

function within(words: Word[], [left, top, right, bottom]: Box): Word[] {
  return words.filter(({ box: [l = 0, t = 0, r = 0, b = 0] }) => {
    const [x, y] = [(l + r) / 2, (t + b) / 2];
    return x >= left && x <= right && y >= top && y <= bottom;
  });
}

/** Words as one text in reading order: row by row, from left to right. */
function spotOfWords(words: Word[], page: number): Spot {
  const sorted = words.toSorted((one, other) => {
    const [a, b] = [one.box as Box, other.box as Box];
    const sameRow = Math.abs((a[1] + a[3]) / 2 - (b[1] + b[3]) / 2) < (a[3] - a[1]) / 2;
    return sameRow ? a[0] - b[0] : a[1] - b[1];
  });
  const boxes = words.map((word) => word.box as Box);
  const edge = (at: 0 | 1 | 2 | 3, pick: (...numbers: number[]) => number) => pick(...boxes.map((box) => box[at]));
  return {
    page,
    box: [edge(0, Math.min), edge(1, Math.min), edge(2, Math.max), edge(3, Math.max)],
    text: sorted.map((word) => word.text).join(" "),
  };
}
