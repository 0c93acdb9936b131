import { describe, expect, it } from "vitest";
import type { Ladder } from "../src/board/types";
import { placed } from "../src/stations/proof/levels";

function ladder(values: number[], links: [number, number][]): Ladder {
  return {
    sheet: 1,
    direction: "x",
    rungs: values.map((value) => ({ value, words: `x = ${value}`, fixed: true, datum: value === 0 })),
    links: links.map(([first, second], k) => ({ statement: `D${k}`, first, second, twice: false, reference: false })),
  };
}

describe("the levels of a part on paper", () => {
  it("keeps their order and room for their numbers, however close they lie", () => {
    const { x } = placed(ladder([0, 0.1, 0.2, 80], []), 780);
    for (let k = 1; k < x.length; k++) expect((x[k] ?? 0) - (x[k - 1] ?? 0)).toBeGreaterThanOrEqual(34);
    expect((x[3] ?? 0) - (x[2] ?? 0)).toBeGreaterThan(300);
  });

  it("never lays two lengths over each other in one line", () => {
    const links: [number, number][] = [
      [0, 3],
      [0, 1],
      [1, 2],
      [3, 1],
      [2, 3],
    ];
    const { y } = placed(ladder([0, 10, 20, 30], links), 780);
    for (const [i, a] of links.entries())
      for (const [j, b] of links.entries()) {
        if (i >= j || y[i] !== y[j]) continue;
        expect(Math.max(...a) <= Math.min(...b) || Math.max(...b) <= Math.min(...a)).toBe(true);
      }
    // Neighbours share a line: three short ones need one, not three.
    expect(new Set([y[1], y[2], y[4]]).size).toBe(1);
  });

  it("draws a part of one level, or none", () => {
    expect(placed(ladder([5], []), 780).x).toEqual([34]);
    expect(placed(ladder([], []), 780).height).toBeGreaterThan(0);
  });
});
