import * as THREE from "three";
import type { SolidData } from "../state";

/** What the pointer met: a face, an edge, or a corner (the `end` of an edge); `at` is the place in mm. */
export interface Hit {
  kind: "face" | "edge" | "corner";
  solid: number;
  index: number;
  end: 0 | 1;
  at: [number, number, number];
}
export interface Body {
  mesh: THREE.Mesh;
  data: SolidData["meshes"][number];
  ink: THREE.LineBasicMaterial;
  lines: THREE.LineSegments;
  /** Points of all edges one after another (xyz…), and for each the edge's place in `data.edges`. */
  points: Float32Array;
  owner: Int32Array;
}
export interface Screen {
  x: number;
  y: number;
  w: number;
  h: number;
}
/** Pixels within which an edge or a corner is meant. */
const NEAR = 11;

/** The points of a solid's edges in one row, so that picking needs no objects. */
export function edgeRow(data: SolidData["meshes"][number]): { points: Float32Array; owner: Int32Array } {
  const count = data.edges.reduce((n, line) => n + line.length / 3, 0);
  const points = new Float32Array(count * 3);
  const owner = new Int32Array(count);
  let at = 0;
  data.edges.forEach((line, k) => {
    points.set(line, at * 3);
    owner.fill(k, at, at + line.length / 3);
    at += line.length / 3;
  });
  return { points, owner };
}

interface Eye {
  /** Rows of the view-projection that give x and y in pixels, and the row that gives the depth from the camera. */
  x: number[];
  y: number[];
  d: number[];
}
function eye(camera: THREE.Camera, screen: Screen): Eye {
  camera.updateMatrixWorld();
  const m = new THREE.Matrix4().multiplyMatrices(camera.projectionMatrix, camera.matrixWorldInverse).elements;
  const row = (k: number) => [m[k], m[k + 4], m[k + 8], m[k + 12]];
  const [x, y] = [row(0), row(1)];
  const v = camera.matrixWorldInverse.elements;
  return {
    x: x.map((c, k) => (c * screen.w) / 2 + (k === 3 ? screen.w / 2 : 0)),
    y: y.map((c, k) => (-c * screen.h) / 2 + (k === 3 ? screen.h / 2 : 0)),
    d: [-v[2], -v[6], -v[10], -v[14]],
  };
}
const put = (r: number[], p: Float32Array, i: number) => r[0] * p[i] + r[1] * p[i + 1] + r[2] * p[i + 2] + r[3];
const cutAway = (clip: THREE.Plane[], p: Float32Array, i: number) =>
  clip.some((c) => c.normal.x * p[i] + c.normal.y * p[i + 1] + c.normal.z * p[i + 2] + c.constant < 0);

/** The edge nearest to the pointer that is not behind the material under it. */
export function nearestEdge(
  bodies: Body[],
  camera: THREE.Camera,
  screen: Screen,
  depth: number,
  reach: number,
  clip: THREE.Plane[],
): Hit | null {
  const look = eye(camera, screen);
  const deepest = depth + reach * 0.03;
  let off = NEAR;
  let best: Hit | null = null;
  bodies.forEach(({ data, points, owner }, solid) => {
    for (let k = 0; k + 1 < owner.length; k++) {
      if (owner[k] !== owner[k + 1]) continue;
      const i = k * 3;
      const px = put(look.x, points, i);
      const py = put(look.y, points, i);
      const qx = put(look.x, points, i + 3);
      const qy = put(look.y, points, i + 3);
      if (Math.min(px, qx) > screen.x + off || Math.max(px, qx) < screen.x - off) continue;
      if (Math.min(py, qy) > screen.y + off || Math.max(py, qy) < screen.y - off) continue;
      const dx = qx - px;
      const dy = qy - py;
      const t = Math.min(1, Math.max(0, ((screen.x - px) * dx + (screen.y - py) * dy) / (dx * dx + dy * dy || 1)));
      const gap = Math.hypot(px + dx * t - screen.x, py + dy * t - screen.y);
      const pd = put(look.d, points, i);
      const deep = pd + (put(look.d, points, i + 3) - pd) * t;
      if (gap >= off || deep > deepest || cutAway(clip, points, i) || cutAway(clip, points, i + 3)) continue;
      off = gap;
      const along = (c: number) => points[i + c] + (points[i + 3 + c] - points[i + c]) * t;
      const at: [number, number, number] = [along(0), along(1), along(2)];
      best = { kind: "edge", solid, index: data.edge_index[owner[k]], end: 0, at };
    }
  });
  return best;
}

/** The end of an edge nearest to the pointer that is not behind the material under it. */
export function nearestCorner(
  bodies: Body[],
  camera: THREE.Camera,
  screen: Screen,
  depth: number,
  reach: number,
  clip: THREE.Plane[],
): Hit | null {
  const look = eye(camera, screen);
  let off = NEAR * 1.6;
  let best: Hit | null = null;
  bodies.forEach(({ data, points, owner }, solid) => {
    for (let k = 0; k < owner.length; k++) {
      const first = k === 0 || owner[k - 1] !== owner[k];
      const last = k + 1 === owner.length || owner[k + 1] !== owner[k];
      if (!first && !last) continue;
      const i = k * 3;
      const gap = Math.hypot(put(look.x, points, i) - screen.x, put(look.y, points, i) - screen.y);
      if (gap >= off || put(look.d, points, i) > depth + reach * 0.03 || cutAway(clip, points, i)) continue;
      off = gap;
      const at: [number, number, number] = [points[i], points[i + 1], points[i + 2]];
      best = { kind: "corner", solid, index: data.edge_index[owner[k]], end: first ? 0 : 1, at };
    }
  });
  return best;
}
