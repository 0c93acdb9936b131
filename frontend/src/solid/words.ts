import type { Schemas } from "../api/client";

/** Sizes and features in words, in the job's unit. */
export type Feature = Schemas["FeatureEntry"];

export const featureKey = (f: Feature) => `${f.solid ?? 0}.${f.id}`;

export function writer(inch: boolean) {
  return (mm: unknown): string =>
    typeof mm === "number" ? String(+(inch ? mm / 25.4 : mm).toFixed(inch ? 4 : 3)) : "–";
}

const SEATS = [
  ["counterbore", "⌴"],
  ["countersink", "⌵"],
] as const;

function seats(f: Feature, len: (mm: unknown) => string): string {
  let t = "";
  for (const far of ["", "_far"] as const) {
    for (const [name, mark] of SEATS) {
      const seat = f[`${name}${far}`];
      if (!seat) continue;
      t += ` ${mark}⌀${len(seat.diameter_mm)}`;
      t += name === "counterbore" ? ` ↧${len(seat.depth_mm)}` : ` × ${+(seat.angle_deg ?? 0).toFixed(2)}°`;
      if (far) t += " far side";
    }
    const rim = f[`rim${far}`];
    if (rim) t += `, rim ${rim.kind === "round" ? "R" : ""}${len(rim.size_mm)}`;
  }
  return t;
}

const PATTERNS: Record<string, string> = {
  linear: "in a row",
  grid: "in a grid",
  staggered: "staggered",
  circular: "on a circle",
};

function pattern(f: Feature, len: (mm: unknown) => string): string {
  const p = f.pattern;
  if (!p) return "";
  let t = ` · ${PATTERNS[String(p.kind)] ?? p.kind}`;
  if (p.diameter_mm) t += ` ⌀${len(p.diameter_mm)}`;
  if (typeof p.pitch_mm === "number") t += ` ${len(p.pitch_mm)} apart`;
  if (p.missing) t += `, ${p.missing} place${p.missing === 1 ? "" : "s"} free`;
  return t;
}

const SIZES = [
  ["width_mm", "wide"],
  ["length_mm", "long"],
  ["depth_mm", "deep"],
  ["height_mm", "high"],
  ["thickness_mm", "thick"],
] as const;

export function sayFeature(f: Feature, inch: boolean): string {
  const len = writer(inch);
  const n = (f.count ?? 1) > 1 ? `${f.count}× ` : "";
  const deg = (x: unknown) => `${+Number(x).toFixed(2)}°`;
  const kind = f.kind;
  if (kind === "hole")
    return `${n}⌀${len(f.diameter_mm)} ${f.through ? "THRU" : `↧${len(f.depth_mm)}`}${seats(f, len)}${pattern(f, len)}`;
  if (kind === "fillet") {
    if (f.radius_mm == null) return `${n}round of R${len(f.radius_min_mm)} to R${len(f.radius_max_mm)}`;
    return `${n}R${len(f.radius_mm)} ${f.convex ? "round" : "fillet"}`;
  }
  if (kind === "chamfer")
    return `${n}${(f.legs_mm ?? []).map(len).join(" × ")} chamfer${f.partial ? `, ${f.partial} partial` : ""}`;
  if (kind === "flat") return `${f.count} flat faces`;
  if (kind === "free-form") return `${f.count} free-form faces`;
  if (kind === "thread")
    return `${f.internal ? "inner" : "outer"} thread ⌀${len(f.major_mm)} pitch ${len(f.pitch_mm)}, ${f.hand}-hand`;
  if (kind === "taper") return `taper ⌀${len(f.large_mm)} to ⌀${len(f.small_mm)}, ${len(f.length_mm)} long`;
  if (kind === "draft") return `draft ${deg(f.angle_deg)} on ${f.faces?.length} faces`;
  if (kind === "bend")
    return `${n}bend R${len(f.inner_radius_mm)} inside, ${deg(f.angle_deg)}, sheet ${len(f.thickness_mm)}`;
  if (kind === "spline") return `spline ${f.teeth} teeth, ⌀${len(f.minor_mm)} to ⌀${len(f.major_mm)}`;
  if (kind === "arc-slot")
    return `${n}arc slot ${len(f.width_mm)} wide, R${len(f.radius_mm)}, ${deg(f.sweep_deg)}${pattern(f, len)}`;
  if (kind === "wall") return `wall ${len(f.thickness_mm)}${f.shell ? " (shell)" : ""}`;
  let t = n + (kind === "slot" && f.open ? "open slot" : kind === "keyway" ? `${f.form} keyway` : kind);
  const sizes = SIZES.filter(([key]) => f[key] != null).map(
    ([key, word]) => `${len(f[key])} ${kind === "shaft" && word === "high" ? "long" : word}`,
  );
  if (f.diameter_mm != null) sizes.unshift(`⌀${len(f.diameter_mm)}`);
  t += ` ${sizes.join(", ")}`;
  if (kind === "slot" && f.centres_mm != null) t += `, ${len(f.centres_mm)} centres`;
  if (f.through) t += ", through";
  if (f.corner_radius_mm != null) t += `, corners R${len(f.corner_radius_mm)}`;
  if (f.outline === "polygon") t += `, ${f.sides} sides ${len(f.across_flats_mm)} across flats`;
  if (f.radius_mm != null) t += `, R${len(f.radius_mm)}`;
  if (f.from_axis_mm != null) t += `, bottom ${len(f.from_axis_mm)} from the axis`;
  return t + pattern(f, len);
}

/** A point of the file's axes in a frame (mm). */
export function inFrame(
  p: number[],
  frame: { origin: number[]; x: number[]; y: number[]; z: number[] } | null | undefined,
): number[] {
  if (!frame) return p;
  const rel = p.map((c, k) => c - frame.origin[k]);
  return (["x", "y", "z"] as const).map((a) => rel.reduce((sum, c, k) => sum + c * frame[a][k], 0));
}
