import { describe, expect, it } from "vitest";
import { parametersIn } from "./RunsView";

describe("parameters of a run in the text", () => {
  it("are the names below run.parameters", () => {
    const text = "pipeline: x\nrun:\n  every: 1 day\n  parameters:\n    period: {type: text}\n    limit:\n      type: money\n  at_once: 2\ncollect:\n  - mailbox: a\n";
    expect(parametersIn(text)).toEqual(["period", "limit"]);
  });
  it("are none where there is no run", () => {
    expect(parametersIn("pipeline: x\ncollect: []\n")).toEqual([]);
    expect(parametersIn("run:\n  every: 1 day\n")).toEqual([]);
  });
});
