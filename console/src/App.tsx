import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { afresh } from "./api/afresh";
import { onSignedOut, whoAmI } from "./api/client";
import { fetchDesk, Places } from "./Places";
import { SignIn, SignInAgain } from "./places/SignIn";
import { Shell } from "./places/Shell";
import { Failure } from "./ui/States";
import { KeysProvider } from "./ui/keys";
import { SaidProvider } from "./ui/said";

export function App() {
  const queries = useQueryClient();
  const session = useQuery({ queryKey: ["session"], queryFn: whoAmI, retry: 1, staleTime: Infinity });
  const [ended, setEnded] = useState(false);
  useEffect(() => onSignedOut(() => setEnded(true)), []);
  if (session.isPending) return null;
  if (session.error) {
    return (
      <main className="mx-auto max-w-lg pt-24">
        <Failure error={session.error} again={() => session.refetch()} />
      </main>
    );
  }
  if (!session.data.username) return <SignIn onDone={() => setEnded(false)} />;
  return (
    <KeysProvider>
      <SaidProvider>
        <Shell session={session.data} fetchDesk={fetchDesk}>
          <Places session={session.data} />
        </Shell>
        <SignInAgain
          open={ended}
          name={session.data.username}
          onDone={() => {
            setEnded(false);
            void afresh(queries);
          }}
        />
      </SaidProvider>
    </KeysProvider>
  );
}
