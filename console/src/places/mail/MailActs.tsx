import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { afresh, put } from "../../api/afresh";
import { api, ask, type Schemas } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Entry } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { useSay } from "../../ui/said";
import { useSession } from "../../ui/session";

type Mail = Schemas["Message"];

/** Take a mail in again, or set it aside. */
export function MailActs({ mail }: { mail: Mail }) {
  const { may } = useSession();
  const say = useSay();
  const queries = useQueryClient();
  const [asking, setAsking] = useState<"again" | "aside" | null>(null);
  const act = useMutation({
    mutationFn: (reason: string) => {
      const given = { params: { path: { id: mail.id } }, body: { reason } };
      return ask(asking === "aside" ? api.POST("/api/v1/messages/{id}/aside", given) : api.POST("/api/v1/messages/{id}/again", given));
    },
    onSuccess: (now) => {
      setAsking(null);
      say(now.outcome === "set aside" ? "The mail is set aside." : "The mail is taken in again.");
      put(queries, ["mail", mail.id], now);
      void afresh(queries, ["mails"]);
    },
  });
  if (!may("work") || mail.repeat_of) return null;
  const aside = mail.outcome === "set aside";
  const again = aside || mail.files.some((file) => file.state === "failed");
  const settable = !aside && !mail.files.some((file) => file.documents.length > 0);
  const close = () => {
    act.reset();
    setAsking(null);
  };
  return (
    <div className="ml-auto flex gap-2">
      {again ? <Button small onClick={() => setAsking("again")}>Take in again</Button> : null}
      {settable ? <Button look="quiet" small onClick={() => setAsking("aside")}>Set aside</Button> : null}
      <ReasonDialog
        open={asking !== null}
        title={asking === "aside" ? "Set the mail aside" : "Take the mail in again"}
        about={asking === "aside" ? "Nothing in it is processed; it stays in the log." : "What was set aside or failed is processed. Documents that exist stay as they are."}
        act={asking === "aside" ? "Set aside" : "Take in again"}
        error={act.error}
        busy={act.isPending}
        onClose={close}
        onGo={(reason) => act.mutate(reason)}
      />
    </div>
  );
}

interface Asking {
  open: boolean;
  title: string;
  about: string;
  act: string;
  error: Error | null;
  busy: boolean;
  onClose: () => void;
  onGo: (reason: string) => void;
}

/** Asks for a reason, which the trail keeps. */
export function ReasonDialog({ open, title, about, act, error, busy, onClose, onGo }: Asking) {
  const [reason, setReason] = useState("");
  return (
    <Dialog open={open} onClose={onClose} title={title} about={about}>
      <form
        className="grid gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onGo(reason);
        }}
      >
        <Entry label="Why" required autoFocus maxLength={500} value={reason} onChange={(event) => setReason(event.target.value)} />
        {error ? <Notice kind="wrong">{error.message}</Notice> : null}
        <div className="flex justify-end gap-2">
          <Button look="quiet" onClick={onClose}>Cancel</Button>
          <Button type="submit" disabled={busy}>{act}</Button>
        </div>
      </form>
    </Dialog>
  );
}
