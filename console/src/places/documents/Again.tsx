import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { afresh, put } from "../../api/afresh";
import { api, ask, writeKey, type Schemas } from "../../api/client";
import { words } from "../../format/show";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Entry } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { useSay } from "../../ui/said";

type Document = Schemas["Document"];
type Stage = "check" | "read";

const STAGES: [Stage, string, string][] = [
  ["check", "From its values", "The checks and gates look at what was read or entered last."],
  ["read", "From its file", "The file is read anew; what was entered by hand stays as an earlier version."],
];

/** Process a document again, under the newest version of its pipeline if wanted. */
export function Again({ document }: { document: Document }) {
  const say = useSay();
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [stage, setStage] = useState<Stage>("check");
  const [newest, setNewest] = useState(true);
  const [reason, setReason] = useState("");
  const act = useMutation({
    mutationFn: () =>
      ask(
        api.POST("/api/v1/documents/{id}/again", {
          params: { path: { id: document.id }, header: { "If-Match": document.etag, "Idempotency-Key": writeKey() } },
          body: { stage, newest_version: newest, reason },
        }),
      ),
    onSuccess: (after) => {
      setOpen(false);
      say(after.state === "received" ? "Its file is being read anew." : `Processed again: it is ${words(after.state)}.`);
      put(queries, ["document", document.id], after);
      void afresh(queries, ["story", document.id]);
      void afresh(queries, ["why", document.id]);
    },
  });
  if (!document.may.includes("process_again")) return null;
  const close = () => {
    act.reset();
    setOpen(false);
  };
  return (
    <>
      <Button look="quiet" small onClick={() => setOpen(true)}>Process again</Button>
      <Dialog open={open} onClose={close} title="Process it again" about="What it was stays in its story. What people accepted or decided before holds no more.">
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault();
            act.mutate();
          }}
        >
          <fieldset className="grid gap-2">
            <legend className="pb-1 text-sm text-ink-soft">From where</legend>
            {STAGES.map(([value, title, about]) => (
              <label key={value} className="flex items-start gap-2.5">
                <input type="radio" name="stage" className="mt-1" checked={stage === value} onChange={() => setStage(value)} />
                <span>
                  {title}
                  <span className="block text-sm text-ink-soft">{about}</span>
                </span>
              </label>
            ))}
          </fieldset>
          <label className="flex items-start gap-2.5">
            <input type="checkbox" className="mt-1" checked={newest} onChange={(event) => setNewest(event.target.checked)} />
            <span>
              Under the newest version of {document.pipeline}
              <span className="block text-sm text-ink-soft">Now it is handled by version {document.pipeline_version}.</span>
            </span>
          </label>
          <Entry label="Why (for its story)" value={reason} onChange={(event) => setReason(event.target.value)} />
          {act.error ? <Notice kind="wrong">{act.error.message}</Notice> : null}
          <div className="flex justify-end gap-2">
            <Button look="quiet" onClick={close}>Cancel</Button>
            <Button type="submit" disabled={act.isPending}>Process again</Button>
          </div>
        </form>
      </Dialog>
    </>
  );
}
