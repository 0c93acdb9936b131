import * as THREE from "three";
import type { SolidData } from "../state";

/** What the pointer met: a face, an edge, or a corner (the `end` of an edge); `at` is the place in mm. */
export interface Hit {
  kind: "face" | "edge" | "corner";
  solid: number;
  index: number;
  end: 0 | 1;
  at: number[];
}
export interface Body {
  mesh: THREE.Mesh;
  data: SolidData["meshes"][number];
  ink: THREE.LineBasicMaterial;
}
export interface Screen {
  x: number;
  y: number;
  w: number;
  h: number;
}
/** Pixels within which an edge or a corner is meant. */
const NEAR = 11;

function seen(point: THREE.Vector3, camera: THREE.Camera, screen: Screen, clip: THREE.Plane[]) {
  if (clip.some((p) => p.distanceToPoint(point) < 0)) return null;
  const p = point.clone().project(camera);
  const depth = point.clone().sub(camera.position).dot(camera.getWorldDirection(new THREE.Vector3()));
  return { x: ((p.x + 1) / 2) * screen.w, y: ((1 - p.y) / 2) * screen.h, depth };
}

/** The edge nearest to the pointer that is not behind the material under it. */
export function nearestEdge(
  bodies: Body[],
  camera: THREE.Camera,
  screen: Screen,
  depth: number,
  reach: number,
  clip: THREE.Plane[],
): Hit | null {
  let best: (Hit & { off: number }) | null = null;
  bodies.forEach(({ data }, solid) => {
    data.edges.forEach((line, k) => {
      for (let i = 0; i + 5 < line.length; i += 3) {
        const a = new THREE.Vector3(line[i], line[i + 1], line[i + 2]);
        const b = new THREE.Vector3(line[i + 3], line[i + 4], line[i + 5]);
        const p = seen(a, camera, screen, clip);
        const q = seen(b, camera, screen, clip);
        if (!p || !q) continue;
        const dx = q.x - p.x;
        const dy = q.y - p.y;
        const t = Math.min(1, Math.max(0, ((screen.x - p.x) * dx + (screen.y - p.y) * dy) / (dx * dx + dy * dy || 1)));
        const off = Math.hypot(p.x + dx * t - screen.x, p.y + dy * t - screen.y);
        const at = a.clone().lerp(b, t);
        if (off > NEAR || p.depth + (q.depth - p.depth) * t > depth + reach * 0.03) continue;
        if (!best || off < best.off)
          best = { kind: "edge", solid, index: data.edge_index[k], end: 0, at: at.toArray(), off };
      }
    });
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
  let best: (Hit & { off: number }) | null = null;
  bodies.forEach(({ data }, solid) => {
    data.edges.forEach((line, k) => {
      for (const end of [0, 1] as const) {
        const i = end ? line.length - 3 : 0;
        const at = new THREE.Vector3(line[i], line[i + 1], line[i + 2]);
        const p = seen(at, camera, screen, clip);
        if (!p) continue;
        const off = Math.hypot(p.x - screen.x, p.y - screen.y);
        if (off > NEAR * 1.6 || p.depth > depth + reach * 0.03) continue;
        if (!best || off < best.off)
          best = { kind: "corner", solid, index: data.edge_index[k], end, at: at.toArray(), off };
      }
    });
  });
  return best;
}
