/** Filters as chips: one of a row is on, or none. */
export interface Chip {
  value: string;
  label: string;
  count?: number;
  title?: string;
}

export function Chips({ label, chips, value, onChange }: { label: string; chips: Chip[]; value: string | undefined; onChange: (value: string | null) => void }) {
  return (
    <div role="group" aria-label={label} className="flex flex-wrap items-center gap-1.5">
      {chips.map((chip) => {
        const on = chip.value === (value ?? "");
        return (
          <button
            key={chip.value}
            type="button"
            aria-pressed={on}
            title={chip.title}
            onClick={() => onChange(on ? null : chip.value)}
            className={`h-8 rounded-full border px-3 text-sm ${on ? "border-accent bg-accent-soft font-semibold text-accent" : "border-rule-strong/50 bg-sheet text-ink hover:border-ink-soft"}`}
          >
            {chip.label}
            {chip.count === undefined ? null : <span className="ml-1.5 font-normal">{chip.count}</span>}
          </button>
        );
      })}
    </div>
  );
}
