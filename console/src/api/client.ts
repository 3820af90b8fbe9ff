/** The one fetch layer: typed by the service's own OpenAPI document. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema.generated";

export type Session = components["schemas"]["Session"];

let csrf = "";

export const api = createClient<paths>({
  baseUrl: "/",
  // Looked up at each call, so that tests can put another in its place.
  fetch: (request) => globalThis.fetch(request),
});
api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRFToken", csrf);
    return request;
  },
});

/** What the service says is wrong, as a sentence (RFC 9457). */
export class Problem extends Error {
  constructor(
    readonly status: number,
    detail: string,
  ) {
    super(detail);
  }
}

function checked<T>(answer: { data?: T; error?: unknown; response: Response }): T {
  if (answer.data !== undefined) return answer.data;
  throw new Problem(answer.response.status, detailOf(answer.error, answer.response.status));
}

export function detailOf(error: unknown, status: number): string {
  if (typeof error === "object" && error !== null && "detail" in error) {
    return String(error.detail);
  }
  return `The service answered ${status}.`;
}

function remember(session: Session): Session {
  csrf = session.csrf;
  return session;
}

export async function whoAmI(): Promise<Session> {
  return remember(checked(await api.GET("/api/v1/session")));
}

export async function signIn(username: string, password: string): Promise<Session> {
  return remember(checked(await api.POST("/api/v1/session", { body: { username, password } })));
}

export async function signOut(): Promise<void> {
  const answer = await api.DELETE("/api/v1/session");
  if (!answer.response.ok) throw new Problem(answer.response.status, "Signing out failed.");
}
