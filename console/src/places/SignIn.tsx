import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { signIn } from "../api/client";
import { Button } from "../ui/Button";
import { Dialog } from "../ui/Dialog";
import { Entry } from "../ui/Entry";
import { Notice } from "../ui/Notice";

function Form({ name = "", onDone }: { name?: string; onDone: () => void }) {
  const queries = useQueryClient();
  const [username, setUsername] = useState(name);
  const [password, setPassword] = useState("");
  const entering = useMutation({
    mutationFn: () => signIn(username, password),
    onSuccess: (session) => {
      queries.setQueryData(["session"], session);
      onDone();
    },
  });
  function submit(event: FormEvent) {
    event.preventDefault();
    entering.mutate();
  }
  return (
    <form onSubmit={submit} className="grid gap-4">
      <Entry
        label="Name"
        autoComplete="username"
        required
        autoFocus={!name}
        value={username}
        onChange={(event) => setUsername(event.target.value)}
      />
      <Entry
        label="Password"
        type="password"
        autoComplete="current-password"
        required
        autoFocus={Boolean(name)}
        value={password}
        onChange={(event) => setPassword(event.target.value)}
      />
      {entering.error ? <Notice kind="wrong">{entering.error.message}</Notice> : null}
      <Button type="submit" disabled={entering.isPending}>
        {entering.isPending ? "Signing in" : "Sign in"}
      </Button>
    </form>
  );
}

export function SignIn({ onDone }: { onDone: () => void }) {
  return (
    <main className="grid min-h-screen place-items-center p-4">
      <div className="grid w-full max-w-sm gap-6 rounded-lg border border-rule bg-sheet p-8 shadow-sheet">
        <div className="flex items-center gap-3">
          <img src={`${import.meta.env.BASE_URL}mark.svg`} alt="" width="32" height="32" />
          <h1 className="text-2xl font-semibold">Veridox</h1>
        </div>
        <Form onDone={onDone} />
      </div>
    </main>
  );
}

/** The session ended while somebody worked: what they typed stays where it is. */
export function SignInAgain({ open, name, onDone }: { open: boolean; name: string; onDone: () => void }) {
  return (
    <Dialog open={open} onClose={() => undefined} title="Your session has ended" about="Sign in again to go on; what you typed is still there.">
      <Form name={name} onDone={onDone} />
    </Dialog>
  );
}
