import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { afresh } from "../api/afresh";
import { api, ask, Problem, type Schemas } from "../api/client";
import { counted } from "../format/show";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Notice } from "../ui/Notice";
import { useSay } from "../ui/said";
import { useSession } from "../ui/session";

const PATHS = {
  entities: "/api/v1/entities/import",
  vendors: "/api/v1/vendors/import",
  orders: "/api/v1/orders/import",
  receipts: "/api/v1/receipts/import",
  items: "/api/v1/items/import",
  "gl-accounts": "/api/v1/gl-accounts/import",
  "cost-centres": "/api/v1/cost-centres/import",
  "tax-codes": "/api/v1/tax-codes/import",
  projects: "/api/v1/projects/import",
  cards: "/api/v1/cards/import",
  rates: "/api/v1/rates/import",
  books: "/api/v1/books/import",
} as const;

type Imported = Schemas["Imported"];

/** The fate of each row before anything is kept; what somebody should look at comes first. */
function Preview({ found, busy, onImport }: { found: Imported; busy: boolean; onImport: () => void }) {
  const changes = found.changes.toSorted((a, b) => Number(!a.told) - Number(!b.told) || a.line - b.line);
  return (
    <div className="grid gap-3">
      <p>
        {counted(found.rows, "record")}: {found.new} new, {found.changed} changed, {found.same} as before{found.held ? `; of ${found.held} a part waits for a second person` : ""}. Columns that the table lacks stay as they are. Read as {found.form}.
        {found.aside.length ? ` Left aside: ${found.aside.join(", ")}.` : ""}
      </p>
      {changes.length ? (
        <div role="region" aria-label="What changes" tabIndex={0} className="max-h-80 overflow-auto">
          <table className="w-full text-left">
            <thead className="text-sm text-ink-soft">
              <tr className="[&>th]:pr-4 [&>th]:font-normal">
                <th scope="col">Row</th>
                <th scope="col">Record</th>
                <th scope="col">Column</th>
                <th scope="col">Before</th>
                <th scope="col">After</th>
                <th scope="col">Look at</th>
              </tr>
            </thead>
            <tbody>
              {changes.map((each, at) => (
                <tr key={at} className="border-t border-rule/70 [&>td]:py-1 [&>td]:pr-4">
                  <td>{each.line}</td>
                  <td>{each.key}</td>
                  <td>{each.column}</td>
                  <td className="text-ink-soft">{each.before || "empty"}</td>
                  <td>{each.after || "empty"}</td>
                  <td className="font-semibold text-amber">{each.told}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : null}
      {found.more_changes ? <p className="text-ink-soft">And {found.more_changes} more changes.</p> : null}
      <div className="flex items-center gap-4">
        <Button disabled={busy} onClick={onImport}>{busy ? "Importing" : "Import it"}</Button>
        <a className="underline" href={`/api/v1/masterdata/loads/${found.load}/rows`}>What becomes of each row (CSV)</a>
      </div>
    </div>
  );
}

function loadOf(error: Error | null): number | null {
  const load = error instanceof Problem ? error.more.load : null;
  return typeof load === "number" ? load : null;
}

/** Brings a table in: all rows or none, with every problem at its row and column. */
export function ImportTable({ what, columns }: { what: keyof typeof PATHS; columns: string }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const chosen = useRef<HTMLInputElement>(null);
  const [looked, setLooked] = useState<{ file: File; found: Imported }>();
  const send = useMutation({
    mutationFn: ({ file, preview, expects = "" }: { file: File; preview: boolean; expects?: string }) => {
      const body = new FormData();
      body.append("file", file);
      body.append("preview", String(preview));
      // Only the very file that was looked at is brought in.
      if (expects) body.append("expects", expects);
      return ask(api.POST(PATHS[what], { body: body as never, bodySerializer: () => body }));
    },
    onSuccess: (found, { file, preview }) => {
      setLooked(preview ? { file, found } : undefined);
      if (preview) return;
      say(`${counted(found.imported, "record")} imported${found.held ? `; ${found.held} with a part that waits for a second person` : ""}.`);
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
        accept=".csv,.xlsx,text/csv"
        aria-label={`Table of ${what}`}
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) send.mutate({ file, preview: true });
          event.target.value = "";
        }}
      />
      <Button look="quiet" small mark="send" disabled={send.isPending} title={`A table (CSV or XLSX) with the columns ${columns}`} onClick={() => chosen.current?.click()}>
        {send.isPending ? "Reading" : "Import table"}
      </Button>
      <Dialog open={looked !== undefined} onClose={() => setLooked(undefined)} title="What this table changes" about={looked ? `${looked.file.name}: nothing is kept yet.` : ""} wide>
        {looked ? <Preview found={looked.found} busy={send.isPending} onImport={() => send.mutate({ file: looked.file, preview: false, expects: looked.found.sha256 })} /> : null}
      </Dialog>
      <Dialog open={send.error !== null} onClose={() => send.reset()} title="The table was not imported" about={`Nothing was changed. Columns: ${columns}`} wide>
        <div className="grid gap-3">
          <Notice kind="wrong">{send.error?.message}</Notice>
          {loadOf(send.error) ? <a className="underline" href={`/api/v1/masterdata/loads/${loadOf(send.error)}/rows`}>All rows with what is wrong (CSV)</a> : null}
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
