import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type FormEvent } from "react";
import { signIn } from "../api/client";
import { Button } from "../ui/Button";
import { Entry } from "../ui/Entry";
import { Notice } from "../ui/Notice";

export function SignIn() {
  const queries = useQueryClient();
  const [username, setUsername] = useState("");
  const [password, setPassword] = useState("");
  const entering = useMutation({
    mutationFn: () => signIn(username, password),
    onSuccess: (session) => queries.setQueryData(["session"], session),
  });
  function submit(event: FormEvent) {
    event.preventDefault();
    entering.mutate();
  }
  return (
    <main className="grid min-h-screen place-items-center p-4">
      <form
        onSubmit={submit}
        className="grid w-full max-w-sm gap-4 rounded-lg border border-rule bg-sheet p-8"
      >
        <div className="flex items-center gap-3">
          <img src={`${import.meta.env.BASE_URL}mark.svg`} alt="" width="32" height="32" />
          <h1 className="text-2xl font-semibold">Veridox</h1>
        </div>
        <Entry
          label="Name"
          autoComplete="username"
          required
          autoFocus
          value={username}
          onChange={(event) => setUsername(event.target.value)}
        />
        <Entry
          label="Password"
          type="password"
          autoComplete="current-password"
          required
          value={password}
          onChange={(event) => setPassword(event.target.value)}
        />
        {entering.error ? <Notice kind="wrong">{entering.error.message}</Notice> : null}
        <Button type="submit" disabled={entering.isPending}>
          {entering.isPending ? "Signing in" : "Sign in"}
        </Button>
      </form>
    </main>
  );
}
