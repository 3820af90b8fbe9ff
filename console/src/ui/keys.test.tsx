// @vitest-environment happy-dom
import { useLayoutEffect } from "react";
import { createRoot } from "react-dom/client";
import { expect, test, vi } from "vitest";
import { KeysProvider, useKeys } from "./keys";

/** A screen whose list arrives: then there is a document before, and its key comes first. */
function Screen({ arrived, back, prove }: { arrived: boolean; back: () => void; prove: () => void }) {
  const more = arrived ? [{ key: "k", does: "Document before", run: back }] : [];
  useKeys([...more, { key: "v", does: "Say how it was proven", run: prove }]);
  // The page is drawn with the new keys, and React has not yet run what registers them.
  useLayoutEffect(() => {
    if (arrived) window.dispatchEvent(new KeyboardEvent("keydown", { key: "v", cancelable: true }));
  }, [arrived]);
  return null;
}

test("a key that is pressed while others come does what it said, and nothing else", async () => {
  const back = vi.fn();
  const prove = vi.fn();
  const root = createRoot(document.createElement("div"));
  const screen = (arrived: boolean) => (
    <KeysProvider>
      <Screen arrived={arrived} back={back} prove={prove} />
    </KeysProvider>
  );
  root.render(screen(false));
  await new Promise((done) => setTimeout(done, 50));
  root.render(screen(true));
  await vi.waitFor(() => expect(prove).toHaveBeenCalledOnce());
  expect(back).not.toHaveBeenCalled();
});
