import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef } from "react";
import { afresh } from "../api/afresh";
import { api, ask, Problem } from "../api/client";
import { counted } from "../format/show";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Notice } from "../ui/Notice";
import { useSay } from "../ui/said";
import { useSession } from "../ui/session";

const PATHS = { vendors: "/api/v1/vendors/import", orders: "/api/v1/orders/import" } as const;

/** Brings a CSV table in: all rows or none, with every problem at its row and column. */
export function ImportTable({ what, columns }: { what: keyof typeof PATHS; columns: string }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const chosen = useRef<HTMLInputElement>(null);
  const send = useMutation({
    mutationFn: (file: File) => {
      const body = new FormData();
      body.append("file", file);
      return ask(api.POST(PATHS[what], { body: body as unknown as { file: string }, bodySerializer: () => body }));
    },
    onSuccess: ({ imported }) => {
      say(`${counted(imported, what === "vendors" ? "vendor" : "order")} imported.`);
      void afresh(queries, [what]);
    },
  });
  if (!may("admin")) return null;
  const places = send.error instanceof Problem ? send.error.places : [];
  return (
    <>
      <input
        ref={chosen}
        type="file"
        accept=".csv,text/csv"
        aria-label={`CSV table of ${what}`}
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) send.mutate(file);
          event.target.value = "";
        }}
      />
      <Button look="quiet" small mark="send" disabled={send.isPending} title={`A CSV table with the columns ${columns}`} onClick={() => chosen.current?.click()}>
        {send.isPending ? "Importing" : "Import CSV"}
      </Button>
      <Dialog open={send.error !== null} onClose={() => send.reset()} title="The table was not imported" about={`Nothing was changed. Columns: ${columns}`} wide>
        <div className="grid gap-3">
          <Notice kind="wrong">{send.error?.message}</Notice>
          <ul className="list-disc pl-6">
            {places.map((each, at) => (
              <li key={at}>
                {each.path}: {each.message}
              </li>
            ))}
          </ul>
        </div>
      </Dialog>
    </>
  );
}
