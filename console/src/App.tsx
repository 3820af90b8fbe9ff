import { useQuery } from "@tanstack/react-query";
import { whoAmI } from "./api/client";
import { Shell } from "./places/Shell";
import { SignIn } from "./places/SignIn";
import { Button } from "./ui/Button";
import { Notice } from "./ui/Notice";

export function App() {
  const session = useQuery({ queryKey: ["session"], queryFn: whoAmI, retry: 1 });
  if (session.isPending) return <p className="p-8 text-ink-soft">Opening…</p>;
  if (session.error) {
    return (
      <main className="mx-auto grid max-w-lg gap-4 p-8">
        <Notice kind="wrong">The service does not answer: {session.error.message}</Notice>
        <Button onClick={() => session.refetch()}>Try again</Button>
      </main>
    );
  }
  return session.data.username ? <Shell session={session.data} /> : <SignIn />;
}
