/** The one fetch layer: typed by the service's own OpenAPI document. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema.generated";

export type Schemas = components["schemas"];
export type Session = Schemas["Session"];

/** A value that cannot be used, by the path of its member. */
export interface Place {
  path: string;
  message: string;
}

let csrf = "";
let whenSignedOut: () => void = () => undefined;

/** What to do when the service no longer knows who asks. */
export function onSignedOut(act: () => void): void {
  whenSignedOut = act;
}

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
  onResponse({ request, response }) {
    const signingIn = new URL(request.url).pathname === "/api/v1/session";
    if (response.status === 401 && !signingIn) whenSignedOut();
    return response;
  },
});

/** What the service says is wrong (RFC 9457): a sentence, and the places it speaks of. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly slug = "",
    readonly places: Place[] = [],
    readonly more: Record<string, unknown> = {},
  ) {
    super(detail);
  }
}

/** The service could not be reached at all; what was typed is still here. */
export class NoAnswer extends Error {
  constructor() {
    super("The service does not answer at the moment. Nothing you typed is lost; try again.");
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer. Throws Problem or NoAnswer. */
export async function ask<T>(asked: Promise<Answer<T>>): Promise<T> {
  let answer: Answer<T>;
  try {
    answer = await asked;
  } catch (error) {
    if (error instanceof TypeError) throw new NoAnswer();
    throw error;
  }
  if (answer.response.ok) return answer.data as T;
  throw problemOf(answer.error, answer.response.status);
}

export function problemOf(error: unknown, status: number): Problem {
  if (status >= 502 && status <= 504 && !isRecord(error)) {
    return new Problem(status, `The service answered ${status}. Nothing you typed is lost; try again.`);
  }
  if (!isRecord(error) || !("detail" in error)) {
    return new Problem(status, `The service answered ${status}.`);
  }
  const slug = String(error.type ?? "").replace("/problems/", "");
  const places = Array.isArray(error.errors) ? error.errors.filter(isPlace) : [];
  return new Problem(status, String(error.detail), slug, places, error);
}

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === "object" && value !== null;
}

function isPlace(value: unknown): value is Place {
  return isRecord(value) && typeof value.path === "string" && typeof value.message === "string";
}

/** A fresh key for one write, so that a repeated send does it once. */
export function writeKey(): string {
  return crypto.randomUUID();
}

function remember(session: Session): Session {
  csrf = session.csrf;
  return session;
}

export async function whoAmI(): Promise<Session> {
  return remember(await ask(api.GET("/api/v1/session")));
}

export async function signIn(username: string, password: string): Promise<Session> {
  // The token against forged requests may have ended together with the session.
  await whoAmI();
  return remember(await ask(api.POST("/api/v1/session", { body: { username, password } })));
}

/** Ends the session; what is left is nobody's. */
export async function signOut(): Promise<Session> {
  await ask(api.DELETE("/api/v1/session"));
  return whoAmI();
}
