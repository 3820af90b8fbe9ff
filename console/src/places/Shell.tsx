import { useMutation, useQueryClient } from "@tanstack/react-query";
import { signOut, type Session } from "../api/client";
import { Button } from "../ui/Button";
import { Notice } from "../ui/Notice";

/** The signed-in frame. Its places come with the desk; until then the command line shows them. */
export function Shell({ session }: { session: Session }) {
  const queries = useQueryClient();
  const leaving = useMutation({
    mutationFn: signOut,
    onSuccess: () => queries.invalidateQueries({ queryKey: ["session"] }),
  });
  return (
    <div className="grid min-h-screen grid-rows-[auto_1fr]">
      <header className="flex items-center gap-3 border-b border-rule bg-sheet px-6 py-3">
        <img src={`${import.meta.env.BASE_URL}mark.svg`} alt="" width="28" height="28" />
        <span className="text-xl font-semibold">Veridox</span>
        <span className="ml-auto text-ink-soft">
          {session.username}, {session.role}
        </span>
        <Button look="quiet" onClick={() => leaving.mutate()} disabled={leaving.isPending}>
          Sign out
        </Button>
      </header>
      <main className="mx-auto grid w-full max-w-3xl content-start gap-4 p-8">
        <h1 className="text-2xl font-semibold">You are signed in</h1>
        <p className="text-ink-soft">
          What came in, what waits and what was posted is shown by the command line and the REST
          interface so far: <code className="text-ink">veridox desk list</code> is a good beginning.
        </p>
        <p>
          <a className="font-semibold text-accent underline" href="/api/v1/docs">
            REST reference
          </a>
        </p>
        {leaving.error ? <Notice kind="wrong">{leaving.error.message}</Notice> : null}
      </main>
    </div>
  );
}
