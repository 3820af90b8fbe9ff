import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

/** A menu below its button. Not modal: the page behind stays usable and unstyled. */
export function Menu({ button, children, side = "bottom" }: { button: ReactNode; children: ReactNode; side?: "bottom" | "top" }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>{button}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side={side}
          align="start"
          sideOffset={4}
          className="shown-in z-50 max-h-[60vh] min-w-48 overflow-auto rounded-md border border-rule bg-sheet p-1 shadow-float"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

const ITEM =
  "flex cursor-pointer select-none items-center gap-2 rounded-[4px] px-2.5 py-1.5 outline-none data-[highlighted]:bg-accent-soft";

export function MenuItem({ onSelect, children }: { onSelect: () => void; children: ReactNode }) {
  return (
    <DropdownMenu.Item className={ITEM} onSelect={onSelect}>
      {children}
    </DropdownMenu.Item>
  );
}

/** An item that is on or off; the menu stays open for the next one. */
export function MenuCheck({ on, onChange, children }: { on: boolean; onChange: (on: boolean) => void; children: ReactNode }) {
  return (
    <DropdownMenu.CheckboxItem
      className={ITEM}
      checked={on}
      onCheckedChange={onChange}
      onSelect={(event) => event.preventDefault()}
    >
      <span aria-hidden="true" className="inline-block w-4 text-accent">
        {on ? "✓" : ""}
      </span>
      {children}
    </DropdownMenu.CheckboxItem>
  );
}
