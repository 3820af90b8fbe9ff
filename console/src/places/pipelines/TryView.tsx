import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, ask, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Icon } from "../../ui/Icon";
import { Sheet } from "../../ui/Place";
import { TriedDocument } from "./TriedDocument";

type Tried = Schemas["Tried"];

/** Drop a mail or a file on the text as it stands, published or not, and read what would happen. */
export function TryView({ name, text, parts }: { name: string; text: string; parts: Record<string, string> }) {
  const chosen = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const [rehearse, setRehearse] = useState(false);
  const [file, setFile] = useState<File | null>(null);
  const tried = useMutation({
    mutationFn: async (given: File) => {
      const form = new FormData();
      form.set("file", given, given.name);
      form.set("text", text);
      form.set("parts", JSON.stringify(parts));
      form.set("pictures", "3");
      if (rehearse) form.set("rehearse", "true");
      const body = { body: form as unknown as never, bodySerializer: () => form };
      return ask(api.POST("/api/v1/pipelines/try", body));
    },
  });
  const go = (given: File | undefined) => {
    if (!given) return;
    setFile(given);
    tried.mutate(given);
  };
  return (
    <div className="grid min-h-0 grid-rows-[auto_1fr] gap-4">
      <div
        className={`flex flex-wrap items-center gap-4 rounded-md border border-dashed px-4 py-3 ${over ? "border-accent bg-accent-soft" : "border-rule-strong/60 bg-sheet"}`}
        onDragOver={(event) => { event.preventDefault(); setOver(true); }}
        onDragLeave={() => setOver(false)}
        onDrop={(event) => { event.preventDefault(); setOver(false); go(event.dataTransfer.files[0]); }}
      >
        <Icon mark="plus" />
        <p className="min-w-0 flex-1">
          Drop a mail (.eml, .msg) or a file here to walk it through {name ? "the text as it stands in the editor" : "this text"}. Nothing is stored, sent, moved or posted.
        </p>
        <label className="flex items-center gap-2"><input type="checkbox" checked={rehearse} onChange={(event) => setRehearse(event.target.checked)} /> ask the ledger, too</label>
        <input ref={chosen} type="file" aria-label="Mail or file to try" className="sr-only" tabIndex={-1} onChange={(event) => { go(event.target.files?.[0]); event.target.value = ""; }} />
        <Button look="quiet" small onClick={() => chosen.current?.click()}>Choose a file</Button>
        {file ? <Button small disabled={tried.isPending} onClick={() => go(file)}>Try {file.name} again</Button> : null}
      </div>
      <div className="min-h-0 overflow-auto" aria-live="polite">
        {tried.isPending ? <p className="text-ink-soft">Reading {file?.name}…</p> : null}
        {tried.error ? <p role="alert" className="text-brick">{tried.error.message}</p> : null}
        {tried.data && !tried.isPending ? <Found found={tried.data} /> : null}
      </div>
    </div>
  );
}

function Found({ found }: { found: Tried }) {
  return (
    <div className="grid gap-4">
      {found.mail || found.files.some((each) => !each.read) ? (
        <Sheet title={found.mail ? `Mail from ${found.mail.sender_name || found.mail.sender}: ${found.mail.subject}` : "The file"}>
          <div className="grid gap-3 px-4 py-3">
            {found.collect.map((each) => (
              <div key={each.source}>
                <p><span className="font-semibold">{each.source}</span>: {each.taken ? "taken" : "left where it lies"}</p>
                <ul className="text-ink-soft">
                  {each.conditions.map((one) => (
                    <li key={one.name} className={one.met ? "" : "text-brick"}>{one.met ? "yes" : "no"}, {one.name}: {one.said}</li>
                  ))}
                </ul>
              </div>
            ))}
            <ul>
              {found.files.map((each, at) => <li key={at}>{each.name}: {each.read ? "read" : <span className="text-ink-soft">{each.reason}</span>}</li>)}
            </ul>
          </div>
        </Sheet>
      ) : null}
      {found.documents.map((each, at) => <TriedDocument key={at} found={each} />)}
      {found.documents.length ? null : <p className="text-ink-soft">Nothing of it is read.</p>}
    </div>
  );
}
