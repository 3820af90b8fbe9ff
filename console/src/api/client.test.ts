// @vitest-environment happy-dom
import { afterEach, expect, test, vi } from "vitest";
import { ask, NoAnswer, problemOf, signIn } from "./client";

afterEach(() => vi.unstubAllGlobals());

function answers(...bodies: [number, unknown][]): Request[] {
  const seen: Request[] = [];
  vi.stubGlobal("fetch", async (request: Request) => {
    seen.push(request);
    const [status, body] = bodies.shift() ?? [500, {}];
    return new Response(JSON.stringify(body), {
      status,
      headers: { "Content-Type": "application/json" },
    });
  });
  return seen;
}

const nobody = { username: null, role: null, scopes: [], csrf: "first" };

test("a write carries the token that the session gave", async () => {
  const seen = answers([200, nobody], [200, { ...nobody, username: "ada", csrf: "second" }]);
  const session = await signIn("ada", "secret");
  expect(session.username).toBe("ada");
  expect(seen[1]?.headers.get("X-CSRFToken")).toBe("first");
});

test("a problem's detail becomes the error's message", async () => {
  answers([200, nobody], [401, { detail: "Name or password is not right." }]);
  await expect(signIn("ada", "wrong")).rejects.toThrow("Name or password is not right.");
});

test("an answer that is no problem document still says its status", () => {
  expect(problemOf("nonsense", 500).message).toBe("The service answered 500.");
  expect(problemOf("<html>", 502).message).toContain("Nothing you typed is lost");
});

test("a problem names the places it speaks of", () => {
  const errors = [{ path: "fields.number", message: "is empty" }, { path: 5 }];
  const found = problemOf({ type: "/problems/bad-input", detail: "1 value", errors }, 400);
  expect(found.slug).toBe("bad-input");
  expect(found.places).toEqual([{ path: "fields.number", message: "is empty" }]);
});

test("a service that cannot be reached is told apart from one that says no", async () => {
  await expect(ask(Promise.reject(new TypeError("fetch failed")))).rejects.toThrow(NoAnswer);
});
