import type { Ladder } from "../../board/types";

/** Where the levels and the lengths between them are drawn, px. */
export interface Placed {
  width: number;
  height: number;
  /** Of each level. */
  x: number[];
  /** Of each length. */
  y: number[];
}

/** Room that the number of a level needs, and a line of lengths. */
const LEAST = 34;
const LINE = 17;
const TOP = 44;

/** Levels in proportion within a width (px), but never closer than their numbers need; lengths in as few lines as do without overlap. */
export function placed(ladder: Ladder, wide: number): Placed {
  const values = ladder.rungs.map((r) => r.value);
  const span = (values[values.length - 1] ?? 0) - (values[0] ?? 0) || 1;
  const room = Math.max(0, wide - 2 * LEAST - LEAST * Math.max(0, values.length - 1));
  const x: number[] = [];
  for (const [k, value] of values.entries()) {
    const before = values[k - 1];
    x.push(before === undefined ? LEAST : (x[k - 1] ?? 0) + LEAST + (room * (value - before)) / span);
  }
  const y = new Array<number>(ladder.links.length).fill(0);
  const lines: [number, number][][] = [];
  const order = ladder.links
    .map((l, k) => ({ k, from: Math.min(l.first, l.second), to: Math.max(l.first, l.second) }))
    .sort((a, b) => a.to - a.from - (b.to - b.from) || a.from - b.from);
  for (const { k, from, to } of order) {
    let line = lines.findIndex((taken) => taken.every(([a, b]) => to <= a || from >= b));
    if (line < 0) line = lines.push([]) - 1;
    lines[line]?.push([from, to]);
    y[k] = TOP + line * LINE;
  }
  return { width: (x[x.length - 1] ?? 0) + LEAST, height: TOP + lines.length * LINE + 4, x, y };
}
