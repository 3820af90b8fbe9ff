import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, Problem } from "../../api/client";
import { Button } from "../../ui/Button";
import { Dialog } from "../../ui/Dialog";
import { Entry } from "../../ui/Entry";
import { Notice } from "../../ui/Notice";
import { useSay } from "../../ui/said";

export function OwnPassword({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} title="Change my password" about="Your other sessions end.">
      <PasswordForm onDone={onClose} />
    </Dialog>
  );
}

function PasswordForm({ onDone }: { onDone: () => void }) {
  const say = useSay();
  const [old, setOld] = useState("");
  const [next, setNext] = useState("");
  const change = useMutation({
    mutationFn: () => ask(api.PUT("/api/v1/session/password", { body: { old, new: next } })),
    onSuccess: () => {
      say("Your password is changed.");
      onDone();
    },
  });
  const places = change.error instanceof Problem ? change.error.places : [];
  const wrong = (path: string) => places.find((each) => each.path === path)?.message;
  return (
    <form
      className="grid gap-4"
      onSubmit={(event) => {
        event.preventDefault();
        change.mutate();
      }}
    >
      <Entry label="Present password" type="password" required autoComplete="current-password" value={old} wrong={wrong("old")} onChange={(event) => setOld(event.target.value)} />
      <Entry label="New password" type="password" required autoComplete="new-password" value={next} wrong={wrong("password")} hint="At least 10 characters." onChange={(event) => setNext(event.target.value)} />
      {change.error && places.length === 0 ? <Notice kind="wrong">{change.error.message}</Notice> : null}
      <div className="flex justify-end gap-2">
        <Button look="quiet" onClick={onDone}>
          Cancel
        </Button>
        <Button type="submit" disabled={change.isPending}>
          Change
        </Button>
      </div>
    </form>
  );
}
