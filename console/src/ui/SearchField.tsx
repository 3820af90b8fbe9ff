import { useEffect, useState } from "react";
import { Icon } from "./Icon";

/** A line to search a list with; it goes into the address on Enter or when one leaves it. */
export function SearchField({ label, value, onChange }: { label: string; value: string | undefined; onChange: (value: string | null) => void }) {
  const [typed, setTyped] = useState(value ?? "");
  useEffect(() => setTyped(value ?? ""), [value]);
  const send = () => typed.trim() !== (value ?? "") && onChange(typed.trim() || null);
  return (
    <form
      className="relative"
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <Icon mark="search" className="absolute left-2.5 top-2 size-4 text-ink-soft" />
      <input
        type="search"
        aria-label={label}
        placeholder={label}
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={send}
        className="h-8 w-88 max-w-full rounded-[5px] border border-rule-strong/60 bg-sheet pl-8 pr-2"
      />
    </form>
  );
}
