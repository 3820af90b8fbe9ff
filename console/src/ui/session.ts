import { createContext, useContext } from "react";
import type { Session } from "../api/client";

export const SessionContext = createContext<Session | null>(null);

/** Who is signed in, and whether they may do something. */
export function useSession(): { session: Session; may: (scope: string) => boolean } {
  const session = useContext(SessionContext);
  if (!session) throw new Error("nobody is signed in");
  return { session, may: (scope) => session.scopes.includes(scope) };
}
