import { describe, expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { changedLines, draftOf, splitOf, withoutShare } from "./coding";

const coded = (code: string, source: "person" | "rule" = "rule") => ({ code, source, chance: 1, why: "" });
const LINE: Schemas["CodedLine"] = { line: 1, key: "1", description: "Salt", amount: "100.00 GBP", chance: 1, problem: "", parts: [{ amount: "100.00", gl_account: coded("4310"), cost_centre: coded("CC-1", "person") }] };

describe("codes that are typed", () => {
  it("begin with what a person said before", () => {
    expect(draftOf(LINE)).toEqual({ codes: { cost_centre: "CC-1" }, shares: [] });
  });
  it("are sent where they differ, and taken back where nothing is left", () => {
    expect(changedLines([LINE], { 1: draftOf(LINE) })).toEqual({});
    expect(changedLines([LINE], { 1: { codes: { cost_centre: " CC-2 " }, shares: [] } })).toEqual({ 1: { cost_centre: "CC-2" } });
    expect(changedLines([LINE], { 1: { codes: { cost_centre: "" }, shares: [] } })).toEqual({ 1: null });
  });
  it("are split into halves that keep the codes, and joined again", () => {
    const halves = splitOf({ codes: { gl_account: "4310", project: "P" }, shares: [] }, LINE);
    expect(halves.shares.map((each) => each.how)).toEqual(["50 %", ""]);
    expect(changedLines([LINE], { 1: halves })).toEqual({
      1: { shares: [{ gl_account: "4310", cost_centre: "CC-1", project: "P", percent: "50" }, { gl_account: "4310", cost_centre: "CC-1", project: "P" }] },
    });
    expect(withoutShare(halves, 1)).toEqual({ codes: { gl_account: "4310", cost_centre: "CC-1", project: "P" }, shares: [] });
  });
  it("take amounts with signs for thousands", () => {
    const draft = { codes: {}, shares: [{ how: "1,200.50", codes: {} }, { how: "", codes: { project: "P" } }] };
    expect(changedLines([LINE], { 1: draft })).toEqual({ 1: { shares: [{ amount: "1200.50" }, { project: "P" }] } });
  });
});
