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

const PATHS = { vendors: "/api/v1/vendors/import", orders: "/api/v1/orders/import" } as const;

type Imported = Schemas["Imported"];

/** The fate of each row before anything is kept; what somebody should look at comes first. */
function Preview({ found, busy, onImport }: { found: Imported; busy: boolean; onImport: () => void }) {
  const changes = found.changes.toSorted((a, b) => Number(!a.told) - Number(!b.told) || a.line - b.line);
  return (
    <div className="grid gap-3">
      <p>
        {counted(found.rows, "record")}: {found.new} new, {found.changed} changed, {found.same} as before. Columns that the table lacks stay as they are.
      </p>
      {changes.length ? (
        <div className="max-h-80 overflow-auto">
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
      <div>
        <Button disabled={busy} onClick={onImport}>{busy ? "Importing" : "Import it"}</Button>
      </div>
    </div>
  );
}

/** Brings a CSV table in: all rows or none, with every problem at its row and column. */
export function ImportTable({ what, columns }: { what: keyof typeof PATHS; columns: string }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const chosen = useRef<HTMLInputElement>(null);
  const [looked, setLooked] = useState<{ file: File; found: Imported }>();
  const send = useMutation({
    mutationFn: ({ file, preview }: { file: File; preview: boolean }) => {
      const body = new FormData();
      body.append("file", file);
      body.append("preview", String(preview));
      return ask(api.POST(PATHS[what], { body: body as unknown as { file: string; preview: boolean }, bodySerializer: () => body }));
    },
    onSuccess: (found, { file, preview }) => {
      setLooked(preview ? { file, found } : undefined);
      if (preview) return;
      say(`${counted(found.imported, what === "vendors" ? "vendor" : "order")} imported.`);
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
          if (file) send.mutate({ file, preview: true });
          event.target.value = "";
        }}
      />
      <Button look="quiet" small mark="send" disabled={send.isPending} title={`A CSV table with the columns ${columns}`} onClick={() => chosen.current?.click()}>
        {send.isPending ? "Reading" : "Import CSV"}
      </Button>
      <Dialog open={looked !== undefined} onClose={() => setLooked(undefined)} title="What this table changes" about={looked ? `${looked.file.name}: nothing is kept yet.` : ""} wide>
        {looked ? <Preview found={looked.found} busy={send.isPending} onImport={() => send.mutate({ file: looked.file, preview: false })} /> : null}
      </Dialog>
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
