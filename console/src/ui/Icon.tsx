import type { ReactNode } from "react";

/** Our own marks: drawn on a grid of 20, one line strong, without fill. */
const MARKS = {
  today: <><path d="M3 16h14M5 16v-4M10 16V6M15 16V9" /></>,
  desk: <><path d="M2 8h16M4 8v9M16 8v9M7 8V4h6v4" /></>,
  documents: <><path d="M5 2.5h7l3.5 3.5v11.5H5zM8 10h5M8 13h5" /></>,
  mail: <><path d="M2.5 5h15v10.5h-15zM2.5 5.5l7.5 6 7.5-6" /></>,
  pipelines: <><circle cx="4" cy="10" r="1.8" /><circle cx="16" cy="5" r="1.8" /><circle cx="16" cy="15" r="1.8" /><path d="M5.8 10h3.2c3 0 1.5-5 5-5M9 10c3 0 1.5 5 5 5" /></>,
  vendors: <><path d="M3 9v8h14V9M2 9l2-5.5h12L18 9zM8 17v-4.5h4V17" /></>,
  orders: <><path d="M4 3h12v14.5l-2-1.5-2 1.5-2-1.5-2 1.5-2-1.5-2 1.5zM7 7.5h6M7 11h6" /></>,
  masterdata: <><path d="M3.5 5c0-3.3 13-3.3 13 0v10c0 3.3-13 3.3-13 0zM3.5 5c0 3.3 13 3.3 13 0M3.5 10c0 3.3 13 3.3 13 0" /></>,
  trail: <><path d="M4 4.5h.01M4 10h.01M4 15.5h.01M8 4.5h9M8 10h9M8 15.5h9" /></>,
  connections: <><path d="M7 2.5v4M13 2.5v4M4.5 6.5h11v3a5.5 5.5 0 0 1-11 0zM10 15v3" /></>,
  people: <><circle cx="10" cy="6.5" r="3.3" /><path d="M3 17.5c.8-4 3.5-5.5 7-5.5s6.2 1.5 7 5.5" /></>,
  search: <><circle cx="8.5" cy="8.5" r="5" /><path d="M12.5 12.5 17 17" /></>,
  check: <path d="M3.5 10.5 8 15l8.5-10" />,
  cross: <path d="m5 5 10 10M15 5 5 15" />,
  stop: <><path d="M6.5 2.5h7l4 4v7l-4 4h-7l-4-4v-7zM10 6.5v4M10 13.6v.01" /></>,
  warn: <><path d="M10 3 18 17H2zM10 8v4M10 14.6v.01" /></>,
  note: <><circle cx="10" cy="10" r="7.3" /><path d="M10 9v5M10 6.2v.01" /></>,
  clock: <><circle cx="10" cy="10" r="7.3" /><path d="M10 5.5V10l3 2" /></>,
  hand: <path d="M5 11V6.5a1.2 1.2 0 0 1 2.5 0V10 4.2a1.2 1.2 0 0 1 2.5 0V10 5a1.2 1.2 0 0 1 2.5 0v5-2.5a1.2 1.2 0 0 1 2.5 0V12c0 3.5-2 5.5-5 5.5-2.5 0-3.5-1-5-3.5z" />,
  pause: <path d="M7 4v12M13 4v12" />,
  back: <path d="M8 5 3 10l5 5M3 10h10a4 4 0 0 1 4 4v1" />,
  undo: <path d="M7 4 3 8l4 4M3 8h8.5a4.5 4.5 0 0 1 0 9H8" />,
  bin: <path d="M3.5 5.5h13M8 5.5v-2h4v2M5 5.5l1 12h8l1-12" />,
  plus: <path d="M10 4v12M4 10h12" />,
  minus: <path d="M4 10h12" />,
  turn: <path d="M15.5 7A6.5 6.5 0 1 0 16.5 10M16 3v4.2h-4.2" />,
  fit: <path d="M3 7V3h4M13 3h4v4M17 13v4h-4M7 17H3v-4" />,
  down: <path d="m5 8 5 5 5-5" />,
  right: <path d="m8 5 5 5-5 5" />,
  left: <path d="m12 5-5 5 5 5" />,
  load: <path d="M10 3v10M6 9.5l4 4 4-4M3.5 17h13" />,
  send: <path d="M10 17V4M5 9l5-5 5 5" />,
  more: <path d="M4 10h.01M10 10h.01M16 10h.01" />,
  link: <path d="M8 5H4v11h11v-4M11 4h5v5M16 4l-7 7" />,
  speech: <path d="M3 4h14v9.5H9l-4 3.5v-3.5H3z" />,
  columns: <path d="M3 4h14v12H3zM8 4v12M12.5 4v12" />,
} satisfies Record<string, ReactNode>;

export type Mark = keyof typeof MARKS;

export function Icon({ mark, className = "size-4" }: { mark: Mark; className?: string }) {
  const heavy = mark === "more" || mark === "trail";
  return (
    <svg
      aria-hidden="true"
      viewBox="0 0 20 20"
      fill="none"
      stroke="currentColor"
      strokeWidth={heavy ? 2 : 1.6}
      strokeLinecap="round"
      strokeLinejoin="round"
      className={`shrink-0 ${className}`}
    >
      {MARKS[mark]}
    </svg>
  );
}
