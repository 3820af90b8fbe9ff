import { describe, expect, it } from "vitest";
import { explained, offered, spotAt, type Language, type Schema } from "./completion";

const SCHEMA: Schema = {
  properties: {
    pipeline: { description: "Its name.", type: "string" },
    collect: { description: "Where.", type: "array", items: { $ref: "#/$defs/collect" } },
    check: { $ref: "#/$defs/check" },
    desk: { type: "array", items: { $ref: "#/$defs/desk" } },
  },
  $defs: {
    collect: { properties: { mailbox: { description: "A mailbox." }, only: { $ref: "#/$defs/only" }, body: { enum: ["never", "always"] } } },
    only: { properties: { unread: { description: "Unread ones.", type: "boolean" }, subject: { description: "Words." } } },
    check: { properties: { order: { $ref: "#/$defs/order" } } },
    order: { properties: { missing: { enum: ["block", "warn", "note"] } } },
    desk: { properties: { when: { description: "The condition.", type: "string" }, queue: { description: "A queue." } } },
  },
};
const LANGUAGE: Language = {
  names: [{ name: "gross_total", type: "money", help: "total", values: [] }],
  lists: [{ name: "lines", help: "lines", example: "count(lines)" }],
  functions: [{ name: "found", takes: ["text"], gives: "truth", help: "found", example: "found(x)" }],
};

function offers(text: string): string[] {
  const lines = text.split("\n");
  const spot = spotAt(lines, lines.length - 1, lines.at(-1)?.length ?? 0);
  return offered(SCHEMA, LANGUAGE, spot).map((each) => each.label);
}

describe("what may be typed", () => {
  it.each([
    ["", ["pipeline", "collect", "check", "desk"]],
    ["collect:\n  - ", ["mailbox", "only", "body"]],
    ["collect:\n  - mailbox: x\n    ", ["mailbox", "only", "body"]],
    ["collect:\n  - mailbox: x\n    body: ", ["never", "always"]],
    ["collect:\n  - mailbox: x\n    only: {", ["unread", "subject"]],
    ["collect:\n  - mailbox: x\n    only: {unread: ", ["true", "false"]],
    ["collect:\n  - mailbox: x\n    only: {unread: true, ", ["unread", "subject"]],
    ["check:\n  order:\n    missing: ", ["block", "warn", "note"]],
    ["check:\n  order: {missing: ", ["block", "warn", "note"]],
    ["desk:\n  - {", ["when", "queue"]],
    ["desk:\n  - {when: blocked, qu", ["when", "queue"]],
    ["desk:\n  - {when: gro", ["gross_total", "lines", "found"]],
    ["desk:\n  - when: gro", ["gross_total", "lines", "found"]],
    ["pipeline: x", []],
  ])("%j", (text, labels) => {
    expect(offers(text)).toEqual(labels);
  });

  it("explains the key where one stands", () => {
    const lines = ["desk:", "  - when: blocked"];
    expect(explained(SCHEMA, spotAt(lines, 1, 10))?.text).toBe("The condition.");
    expect(explained(SCHEMA, spotAt(["nothing: "], 0, 9))).toBeNull();
  });
});
