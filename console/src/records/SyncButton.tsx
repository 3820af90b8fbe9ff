import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { afresh } from "../api/afresh";
import { api, ask, writeKey } from "../api/client";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";
import { useSay } from "../ui/said";
import { useSession } from "../ui/session";
import { At } from "../ui/Shown";

const PATHS = { entities: "/api/v1/entities/sync", vendors: "/api/v1/vendors/sync", orders: "/api/v1/orders/sync", receipts: "/api/v1/receipts/sync", items: "/api/v1/items/sync", "gl-accounts": "/api/v1/gl-accounts/sync", "cost-centres": "/api/v1/cost-centres/sync", "tax-codes": "/api/v1/tax-codes/sync", projects: "/api/v1/projects/sync", cards: "/api/v1/cards/sync", rates: "/api/v1/rates/sync", books: "/api/v1/books/sync" } as const;

export type Kind = keyof typeof PATHS;

export function useStanding(what: Kind) {
  const all = useQuery({ queryKey: ["masterdata"], queryFn: () => ask(api.GET("/api/v1/masterdata")), refetchInterval: 3_000 });
  return all.data?.find((each) => each.what === what);
}

/** How fresh a list is, and a button for each ledger that brings in what changed. */
export function SyncButton({ what }: { what: Kind }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const standing = useStanding(what);
  const ledgers = useQuery({ queryKey: ["connections", "ledger"], queryFn: () => ask(api.GET("/api/v1/connections", { params: { query: { limit: 100 } } })), enabled: may("admin") });
  const begin = useMutation({
    mutationFn: (ledger: string) => ask(api.POST(PATHS[what], { params: { header: { "Idempotency-Key": writeKey() } }, body: { ledger, whole: false } })),
    onSuccess: (load) => {
      say(`${load.ledger} is asked for ${what}.`);
      void afresh(queries, ["masterdata"]);
    },
  });
  // What came in since the list was asked for is shown without a reload.
  const fresh = standing?.fresh;
  const shown = useRef(fresh);
  useEffect(() => {
    if (shown.current && fresh !== shown.current) void afresh(queries, [what]);
    shown.current = fresh;
  }, [fresh, queries, what]);
  const running = standing?.running;
  return (
    <>
      <p className="text-sm text-ink-soft">
        {running ? (
          <>
            {running.rows.toLocaleString()} {running.expected ? `of ${running.expected.toLocaleString()} ` : ""}rows from {running.ledger}
            {running.state === "broken" ? `, waits: ${running.problem}` : ""}
          </>
        ) : (
          <>
            brought in <At time={standing?.fresh} />
          </>
        )}
      </p>
      {may("admin")
        ? ledgers.data?.results
            .filter((each) => each.kind === "ledger")
            .map((each) => (
              <Button key={each.name} look="quiet" small mark="turn" disabled={begin.isPending || running?.state === "running"} onClick={() => begin.mutate(each.name)}>
                Sync from {each.name}
              </Button>
            ))
        : null}
      {begin.error ? <Notice kind="wrong">{begin.error.message}</Notice> : null}
    </>
  );
}
