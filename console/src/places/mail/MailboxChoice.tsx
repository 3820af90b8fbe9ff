import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../../api/client";

/** Names of all mailbox connections. */
export function useMailboxes(): string[] {
  const found = useQuery({ queryKey: ["connections"], queryFn: () => ask(api.GET("/api/v1/connections", { params: { query: { limit: 500 } } })) });
  return found.data?.results.filter((each) => each.kind === "mailbox").map((each) => each.name) ?? [];
}

/** Which mailbox is looked at. */
export function MailboxChoice({ names, value, onChange }: { names: string[]; value: string | undefined; onChange: (name: string) => void }) {
  return (
    <label className="flex items-center gap-2 text-sm text-ink-soft">
      Mailbox
      <select value={value ?? ""} onChange={(event) => onChange(event.target.value)} className="h-8 rounded-[5px] border border-rule-strong/60 bg-sheet px-2 text-ink">
        {names.map((name) => <option key={name}>{name}</option>)}
      </select>
    </label>
  );
}
