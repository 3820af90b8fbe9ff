// @vitest-environment happy-dom
import { useLayoutEffect, type ComponentType } from "react";
import { createRoot } from "react-dom/client";
import { expect, test, vi } from "vitest";
import { later } from "./later";

function Place() {
  return <p>the place</p>;
}

/** Says that the code has come once the page is drawn, before React runs what follows drawing. */
function Meanwhile({ come }: { come: () => void }) {
  useLayoutEffect(come, [come]);
  return null;
}

test.each(["before it is drawn", "while it is drawn", "after it is drawn"])("a place whose code comes %s is shown", async (when) => {
  let come: (module: { default: ComponentType }) => void = () => undefined;
  const Later = later(() => new Promise<{ default: ComponentType }>((done) => (come = done)));
  Later.fetch();
  const arrive = () => come({ default: Place });
  if (when.startsWith("before")) arrive();
  const box = document.createElement("div");
  createRoot(box).render(
    <>
      <Later />
      {when.startsWith("while") ? <Meanwhile come={arrive} /> : null}
    </>,
  );
  if (when.startsWith("after")) {
    await vi.waitFor(() => expect(box.querySelector("[aria-label=Loading]")).not.toBeNull());
    arrive();
  }
  await vi.waitFor(() => expect(box.textContent).toBe("the place"));
});
