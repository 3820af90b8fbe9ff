import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { afresh } from "../../api/afresh";
import { api, ask, writeKey, type Schemas } from "../../api/client";
import { counted } from "../../format/show";
import { Button } from "../../ui/Button";
import { Entry } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";
import { At } from "../../ui/Shown";

type Held = Schemas["HeldChange"];

const COLUMNS: Record<string, string> = { accounts: "account", domains: "domain", senders: "sender", payees: "payee", names: "name", tax_ids: "tax id", addresses: "address", email: "contact", blocked: "blocked" };

/** Changes that wait for a second person: chosen by ticks, then accepted or refused together. */
export function HeldChanges({ rows, named = true }: { rows: Held[]; named?: boolean }) {
  const { session, may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const [chosen, choose] = useState<ReadonlySet<number>>(new Set());
  const [reason, setReason] = useState("");
  const mine = (row: Held) => row.by === `person:${session.username}`;
  const ids = rows.filter((row) => chosen.has(row.id)).map((row) => row.id);
  const decide = useMutation({
    mutationFn: (act: "accept" | "refuse") =>
      ask(api.POST(`/api/v1/masterdata/held/${act}`, { params: { header: { "Idempotency-Key": writeKey() } }, body: { ids, reason } })),
    onSuccess: (done, act) => {
      choose(new Set());
      setReason("");
      say(`${counted(done.length, "change")} ${act === "accept" ? (done.length === 1 ? "holds" : "hold") : "refused"}.`);
      for (const key of ["masterdata", "vendors", "held"]) void afresh(queries, [key]);
    },
  });
  const tick = (id: number) => choose((now) => new Set(now.has(id) ? [...now].filter((each) => each !== id) : [...now, id]));
  return (
    <div className="grid gap-3 px-4 py-3">
      <ul className="divide-y divide-rule/70">
        {rows.map((row) => (
          <li key={row.id} className="flex items-start gap-3 py-2">
            <input type="checkbox" className="mt-1 size-4" aria-label={`${row.vendor} ${COLUMNS[row.column] ?? row.column} ${row.after}`} disabled={!may("accept") || mine(row)} checked={chosen.has(row.id)} onChange={() => tick(row.id)} />
            <div className="min-w-0">
              {named ? (
                <Link className="font-semibold hover:underline" to={`/vendors/${encodeURIComponent(row.vendor)}`}>
                  {row.vendor} {row.vendor_name}
                </Link>
              ) : null}
              <p>
                {row.act === "add" || !row.before ? "new" : "other"} {COLUMNS[row.column] ?? row.column} <span className="font-semibold">{row.after}</span>
                {row.before ? <span className="text-ink-soft"> instead of {row.before}</span> : null}
              </p>
              <p className="text-sm text-ink-soft">
                brought in by {row.by.replace(/^\w+:/, "")} <At time={row.at} />
                {mine(row) ? "; you brought it in, so another person decides" : ""}
              </p>
            </div>
          </li>
        ))}
      </ul>
      {may("accept") ? (
        <div className="flex flex-wrap items-end gap-3">
          <div className="min-w-64 flex-1">
            <Entry label="How you made sure, or why not" value={reason} onChange={(event) => setReason(event.target.value)} />
          </div>
          <Button disabled={!ids.length || decide.isPending} mark="check" onClick={() => decide.mutate("accept")}>
            Let {ids.length > 1 ? `${ids.length} ` : ""}hold
          </Button>
          <Button look="grave" disabled={!ids.length || decide.isPending} onClick={() => decide.mutate("refuse")}>
            Refuse
          </Button>
        </div>
      ) : null}
      {decide.error ? <Notice kind="wrong">{decide.error.message}</Notice> : null}
    </div>
  );
}
