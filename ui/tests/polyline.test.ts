import { expect, it } from "vitest";
import { polyline } from "../src/primitives/polyline";

it("a line goes through the places of things, to a tenth of a pixel", () => {
  expect(polyline(new Float32Array([1, 2]), (v, k) => [10 * k, v / 3])).toBe("0.0,0.3 10.0,0.7");
  expect(polyline([], () => [0, 0])).toBe("");
});
