// @vitest-environment happy-dom
import { afterEach, expect, test, vi } from "vitest";
import { detailOf, Problem, signIn, whoAmI } from "./client";

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
  await whoAmI();
  const session = await signIn("ada", "secret");
  expect(session.username).toBe("ada");
  expect(seen[1]?.headers.get("X-CSRFToken")).toBe("first");
});

test("a problem's detail becomes the error's message", async () => {
  answers([401, { detail: "Name or password is not right." }]);
  await expect(signIn("ada", "wrong")).rejects.toThrow("Name or password is not right.");
});

test("an answer that is no problem document still says its status", () => {
  expect(detailOf("nonsense", 502)).toBe("The service answered 502.");
  expect(new Problem(409, "x").status).toBe(409);
});
