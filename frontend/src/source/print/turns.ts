/** A place on a page, as shares of its width and height. */
export interface Spot {
  x: number;
  y: number;
}
/** Turns of a page, degrees clockwise. */
export const QUARTERS = [0, 90, 180, 270] as const;
export type Quarter = (typeof QUARTERS)[number];
export const quarter = (turn: number): Quarter => QUARTERS.find((q) => q === turn) ?? 0;
export const next = (turn: number): Quarter => QUARTERS[(QUARTERS.indexOf(quarter(turn)) + 1) % 4];

/** A place on the stored page as it lies on the shown one. */
export function toShown(turn: number, p: Spot): Spot {
  switch (quarter(turn)) {
    case 90:
      return { x: 1 - p.y, y: p.x };
    case 180:
      return { x: 1 - p.x, y: 1 - p.y };
    case 270:
      return { x: p.y, y: 1 - p.x };
    default:
      return { ...p };
  }
}
/** A place on the shown page as it lies on the stored one. */
export const toStored = (turn: number, p: Spot): Spot => toShown((360 - quarter(turn)) % 360, p);
