import { expect, it } from "vitest";
import { sums } from "./sums";

it("finds the slip of the pen, exactly", () => {
  const found = sums({ lines: ["957.00", "191.40"], charges: "36.00", net: "1184.40", taxes: ["236.88"], tax: "236.88", gross: "1481.28" });
  expect(found.map(({ name, off }) => [name, off])).toEqual([["net", "0"], ["tax", "0"], ["total", "60"]]);
});

it("adds a thousand cents without a trace of binary fractions", () => {
  const found = sums({ lines: Array.from({ length: 1000 }, () => "0.01"), net: "10.00", taxes: [] });
  expect(found[0]?.off).toBe("0");
});

it("says nothing about sums whose parts are not known", () => {
  expect(sums({ lines: ["5.00", undefined], net: "9.00", taxes: [], gross: "9.00" })).toEqual([]);
  expect(sums({ lines: ["5.00"], taxes: [] })).toEqual([{ name: "net", made: "5" }]);
});
