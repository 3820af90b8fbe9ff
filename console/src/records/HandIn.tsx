import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { afresh } from "../api/afresh";
import { api, ask } from "../api/client";
import { counted } from "../format/show";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Choice } from "../ui/Entry";
import { Icon } from "../ui/Icon";
import { useSession } from "../ui/session";

interface Given {
  file: File;
  said: string;
  good: boolean | null;
  to?: string;
}

const isMail = (name: string) => /\.(eml|msg)$/i.test(name);

/** Sends one file; answers where it can be looked at. */
async function send(file: File, pipeline: string): Promise<Pick<Given, "said" | "to">> {
  const form = new FormData();
  form.append("file", file);
  form.append("pipeline", pipeline);
  const body = { body: form as unknown as { file: string; pipeline: string }, bodySerializer: () => form };
  if (isMail(file.name)) {
    const mail = await ask(api.POST("/api/v1/messages", body));
    return { said: counted(mail.files.length, "file"), to: `/mail/${mail.id}` };
  }
  const stored = await ask(api.POST("/api/v1/files", body));
  return stored.state === "aside" ? { said: stored.reason } : { said: "taken in" };
}

/** Hands files in: chosen, or dropped anywhere on the page. One that is refused does not keep the others. */
export function HandIn() {
  const { may } = useSession();
  const queries = useQueryClient();
  const chosen = useRef<HTMLInputElement>(null);
  const [files, setFiles] = useState<Given[]>([]);
  const [pipeline, setPipeline] = useState("");
  const [over, setOver] = useState(false);
  const allowed = may("work");
  const pipelines = useQuery({ queryKey: ["pipelines"], queryFn: () => ask(api.GET("/api/v1/pipelines")), enabled: files.length > 0 });
  const names = pipelines.data?.results.map((each) => each.name) ?? [];
  const wanted = pipeline || names[0] || "";
  const add = (list: FileList | null | undefined) => setFiles((now) => [...now, ...[...(list ?? [])].map((file): Given => ({ file, said: "", good: null }))]);
  useEffect(() => {
    if (!allowed) return;
    const holds = (event: DragEvent) => event.dataTransfer?.types.includes("Files");
    const above = (event: DragEvent) => {
      if (!holds(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const away = (event: DragEvent) => (event.relatedTarget === null ? setOver(false) : undefined);
    const drop = (event: DragEvent) => {
      if (!holds(event)) return;
      event.preventDefault();
      setOver(false);
      add(event.dataTransfer?.files);
    };
    window.addEventListener("dragover", above);
    window.addEventListener("dragleave", away);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", above);
      window.removeEventListener("dragleave", away);
      window.removeEventListener("drop", drop);
    };
  }, [allowed]);
  const all = useMutation({
    mutationFn: async () => {
      for (const [at, each] of files.entries()) {
        if (each.good) continue;
        const told: Partial<Given> = await send(each.file, wanted).then(
          (answer) => ({ ...answer, good: true }),
          (error: unknown) => ({ said: error instanceof Error ? error.message : "refused", good: false }),
        );
        setFiles((now) => now.map((one, index) => (index === at ? { ...one, ...told } : one)));
      }
    },
    onSettled: () => {
      void afresh(queries, ["mails"]);
      void afresh(queries, ["documents"]);
    },
  });
  if (!allowed) return null;
  const left = files.filter((each) => !each.good).length;
  const close = () => {
    if (!all.isPending) setFiles([]);
  };
  return (
    <>
      <input ref={chosen} type="file" multiple aria-label="Files to hand in" className="sr-only" tabIndex={-1} onChange={(event) => { add(event.target.files); event.target.value = ""; }} />
      <Button look="quiet" small mark="send" onClick={() => chosen.current?.click()}>Hand in files</Button>
      {over ? (
        <div className="pointer-events-none fixed inset-3 z-30 grid place-items-center rounded-lg border-2 border-dashed border-accent bg-ground/85 text-lg font-semibold text-accent">Drop files to hand them in</div>
      ) : null}
      <Dialog open={files.length > 0} onClose={close} title={`Hand in ${counted(files.length, "file")}`} about="Mails (.eml, .msg) are taken in with all their files." wide>
        <div className="grid gap-3">
          <Choice label="Pipeline" value={wanted} disabled={all.isPending} onChange={(event) => setPipeline(event.target.value)}>
            {names.map((name) => <option key={name}>{name}</option>)}
          </Choice>
          <ul aria-label="Files" className="divide-y divide-rule rounded-[5px] border border-rule">
            {files.map((each, at) => (
              <li key={at} className="flex items-center gap-3 px-3 py-1.5">
                <Icon mark={each.good === null ? "documents" : each.good ? "check" : "stop"} className={each.good === null ? "text-ink-soft" : each.good ? "text-moss" : "text-brick"} />
                <span className="min-w-0 flex-1 truncate">{each.file.name}</span>
                <span className={each.good === false ? "text-brick" : "text-ink-soft"}>{each.to ? <Link className="underline" to={each.to}>mail, {each.said}</Link> : each.said}</span>
              </li>
            ))}
          </ul>
          <div className="flex justify-end gap-2">
            <Button look="quiet" disabled={all.isPending} onClick={close}>{left ? "Cancel" : "Close"}</Button>
            {left ? <Button disabled={all.isPending || !wanted} onClick={() => all.mutate()}>{all.isPending ? "Handing in" : `Hand in ${counted(left, "file")}`}</Button> : null}
          </div>
        </div>
      </Dialog>
    </>
  );
}
