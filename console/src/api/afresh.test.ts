import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test, vi } from "vitest";
import { afresh, put } from "./afresh";

/** A query that is shown, whose answers come when the test says so. */
function shown() {
  const queries = new QueryClient();
  const answers: ((text: string) => void)[] = [];
  const observer = new QueryObserver<string>(queries, {
    queryKey: ["story", 1],
    queryFn: () => new Promise((done) => answers.push(done)),
    staleTime: 60_000,
  });
  observer.subscribe(() => undefined);
  return { queries, observer, answers };
}

const told = (observer: QueryObserver<string>) => observer.getCurrentResult().data;

test("a first answer that was asked for before the change is not kept", async () => {
  const { queries, observer, answers } = shown();
  await vi.waitFor(() => expect(answers).toHaveLength(1));
  void afresh(queries, ["story", 1]);
  await vi.waitFor(() => expect(answers).toHaveLength(2));
  answers[0]?.("before");
  answers[1]?.("after");
  await vi.waitFor(() => expect(told(observer)).toBe("after"));
});

test("what an act answered is not replaced by an answer asked for before it", async () => {
  const { queries, observer, answers } = shown();
  await vi.waitFor(() => expect(answers).toHaveLength(1));
  put(queries, ["story", 1], "after");
  answers[0]?.("before");
  await new Promise((done) => setTimeout(done, 5));
  expect(told(observer)).toBe("after");
});
