import { expect, test } from "vitest";
import { withOrder } from "./orders";

test.each([
  ["", "", "PO-1", "PO-1"],
  ["PO-9", "PO-9", "PO-1", "PO-1"],
  ["PO-9, PO-2", "PO-9", "PO-1", "PO-1, PO-2"],
  ["PO-2, PO-9", "PO-9", "PO-1", "PO-2, PO-1"],
  ["PO-2", "PO-9", "PO-1", "PO-2, PO-1"],
])("%s with %s put right by %s", (stated, instead, number, wanted) => {
  expect(withOrder(stated, instead, number)).toBe(wanted);
});
