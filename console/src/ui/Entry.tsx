import { Label } from "radix-ui";
import { useId, type ComponentProps } from "react";

type Props = ComponentProps<"input"> & { label: string };

/** A labelled line to type into. */
export function Entry({ label, ...rest }: Props) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <Label.Root htmlFor={id} className="text-sm text-ink-soft">
        {label}
      </Label.Root>
      <input
        id={id}
        className="h-10 rounded-md border border-rule bg-ground px-3 text-ink"
        {...rest}
      />
    </div>
  );
}
