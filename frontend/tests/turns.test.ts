import { describe, expect, it } from "vitest";
import { next, QUARTERS, quarter, toShown, toStored } from "../src/source/print/turns";

const SPOTS = [
  { x: 0, y: 0 },
  { x: 1, y: 0 },
  { x: 0.25, y: 0.9 },
  { x: 0.5, y: 0.5 },
];

describe("a place on a turned page", () => {
  it("comes back to itself from the shown page to the stored one", () => {
    for (const turn of QUARTERS)
      for (const spot of SPOTS) {
        const back = toStored(turn, toShown(turn, spot));
        expect(back.x).toBeCloseTo(spot.x, 12);
        expect(back.y).toBeCloseTo(spot.y, 12);
      }
  });

  it("goes clockwise: the upper left corner stands at the upper right after a quarter", () => {
    expect(toShown(90, { x: 0, y: 0 })).toEqual({ x: 1, y: 0 });
    expect(toShown(180, { x: 0, y: 0 })).toEqual({ x: 1, y: 1 });
    expect(toShown(270, { x: 0, y: 0 })).toEqual({ x: 0, y: 1 });
  });

  it("is unturned after four quarters, whatever it began with", () => {
    for (const turn of QUARTERS) expect(next(next(next(next(turn))))).toBe(turn);
    expect(quarter(45)).toBe(0);
    expect(next(45)).toBe(90);
  });
});
