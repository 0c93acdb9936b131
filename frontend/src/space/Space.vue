<script setup lang="ts">
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { SolidData } from "../state";
import { acceleratedRaycast, disposeBoundsTree, MeshBVH } from "three-mesh-bvh";
import { emptied } from "./disposing";
import { edgeRow, nearestCorner, nearestEdge, type Body, type Hit } from "./picking";

export interface Clip {
  axis: 0 | 1 | 2;
  /** Share of the box, 0 to 1. */
  at: number;
  turned: boolean;
}
export interface Lump {
  side: string;
  mesh: { positions: number[]; triangles: number[] };
}
const props = defineProps<{
  meshes: SolidData["meshes"];
  lit: Record<number, number[]>;
  /** Faces that what was picked is on, tinted stronger. */
  picked?: Record<number, number[]>;
  want?: "face" | "edge" | "corner";
  points?: number[][];
  clip?: Clip | null;
  lumps?: Lump[];
  /** What a face, edge or corner is called when it is read out. */
  spoken?: (hit: Hit, place: number, of: number) => string;
}>();
const emit = defineEmits<{ pick: [hit: Hit]; hover: [hit: Hit | null] }>();
const host = ref<HTMLDivElement>();
const fault = ref("");
let renderer: THREE.WebGLRenderer | undefined;
let camera: THREE.OrthographicCamera;
let controls: OrbitControls;
const scene = new THREE.Scene();
const extras = new THREE.Group();
/** What the keys stand at. */
const stand = new THREE.Group();
const bodies: Body[] = [];
const box = new THREE.Box3();
const plane = new THREE.Plane();
const plain = new THREE.Color("#c9c3b4");
const bright = new THREE.Color("#5aa79c");
const strong = new THREE.Color("#e0a83e");
const here = new THREE.Color("#d8664e");
let reach = 1;
let watcher: ResizeObserver | undefined;
let frame = 0;

function clipping(): THREE.Plane[] {
  return props.clip ? [plane] : [];
}
function build() {
  for (const data of props.meshes) {
    // Each triangle has corners of its own, so that a face can be tinted alone.
    const count = data.triangles.length;
    const position = new Float32Array(count * 3);
    for (let k = 0; k < count; k++)
      for (let c = 0; c < 3; c++) position[k * 3 + c] = data.positions[data.triangles[k] * 3 + c];
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.BufferAttribute(position, 3));
    geometry.setAttribute("color", new THREE.BufferAttribute(new Float32Array(count * 3), 3));
    geometry.computeVertexNormals();
    const material = new THREE.MeshLambertMaterial({
      vertexColors: true,
      side: THREE.DoubleSide,
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const mesh = new THREE.Mesh(geometry, material);
    scene.add(mesh);
    box.expandByObject(mesh);
    const points: number[] = [];
    for (const line of data.edges) for (let k = 0; k + 5 < line.length; k += 3) points.push(...line.slice(k, k + 6));
    const edges = new THREE.BufferGeometry();
    edges.setAttribute("position", new THREE.Float32BufferAttribute(points, 3));
    const ink = new THREE.LineBasicMaterial({ color: "#22262b" });
    const lines = new THREE.LineSegments(edges, ink);
    scene.add(lines);
    // A tree over the triangles finds what a ray meets within a frame, on thousands of faces too.
    geometry.disposeBoundsTree = disposeBoundsTree;
    geometry.boundsTree = new MeshBVH(geometry, { indirect: true });
    mesh.raycast = acceleratedRaycast;
    bodies.push({ mesh, data, ink, lines, ...edgeRow(data) });
  }
  scene.add(extras, stand);
  tint();
  const sphere = box.getBoundingSphere(new THREE.Sphere());
  reach = Math.max(sphere.radius * 1.12, 1e-3);
  controls.target.copy(sphere.center);
  camera.position.copy(sphere.center).add(new THREE.Vector3(1, -1.4, 1).normalize().multiplyScalar(reach * 4));
  camera.far = reach * 10;
  controls.update();
  size();
  cut();
  mark();
}
function tint(standing?: Hit) {
  bodies.forEach(({ mesh, data }, solid) => {
    const lit = new Set(props.lit[solid] ?? []);
    const picked = new Set(props.picked?.[solid] ?? []);
    const color = mesh.geometry.getAttribute("color") as THREE.BufferAttribute;
    data.faces.forEach((face, t) => {
      const c =
        standing?.solid === solid && standing.index === face
          ? here
          : picked.has(face)
            ? strong
            : lit.has(face)
              ? bright
              : plain;
      for (let k = 0; k < 3; k++) color.setXYZ(t * 3 + k, c.r, c.g, c.b);
    });
    color.needsUpdate = true;
  });
  draw();
}
/** The plane that cuts the view open: what lies beyond it is not drawn. */
function cut() {
  if (props.clip) {
    const { axis, at, turned } = props.clip;
    const low = box.min.getComponent(axis);
    const level = low + (box.max.getComponent(axis) - low) * at;
    const normal = new THREE.Vector3().setComponent(axis, turned ? 1 : -1);
    plane.set(normal, turned ? -level : level);
  }
  for (const { mesh, ink } of bodies) {
    (mesh.material as THREE.Material).clippingPlanes = clipping();
    ink.clippingPlanes = clipping();
  }
  draw();
}
/** The ends of a measurement with the line between them, and what only one of two bodies has. */
function mark() {
  emptied(extras);
  const ends = (props.points ?? []).map((p) => new THREE.Vector3(p[0], p[1], p[2]));
  for (const end of ends) {
    const dot = new THREE.Mesh(
      new THREE.SphereGeometry(reach * 0.014, 16, 12),
      new THREE.MeshBasicMaterial({ color: "#b8371f", depthTest: false }),
    );
    dot.position.copy(end);
    dot.renderOrder = 3;
    extras.add(dot);
  }
  if (ends.length === 2) {
    const line = new THREE.BufferGeometry().setFromPoints(ends);
    const bar = new THREE.Line(line, new THREE.LineBasicMaterial({ color: "#b8371f", depthTest: false }));
    bar.renderOrder = 3;
    extras.add(bar);
  }
  for (const lump of props.lumps ?? []) {
    const geometry = new THREE.BufferGeometry();
    geometry.setAttribute("position", new THREE.Float32BufferAttribute(lump.mesh.positions, 3));
    geometry.setIndex(lump.mesh.triangles);
    const colour = lump.side === "model" ? "#b8371f" : "#7a2e63";
    const body = new THREE.Mesh(
      geometry,
      new THREE.MeshBasicMaterial({
        color: colour,
        transparent: true,
        opacity: 0.55,
        depthTest: false,
        side: THREE.DoubleSide,
      }),
    );
    body.renderOrder = 2;
    extras.add(body);
  }
  draw();
}
/** A part of so many triangles that a machine without a graphics card would lag behind the hand. */
function heavy(): boolean {
  return props.meshes.reduce((n, m) => n + m.triangles.length / 3, 0) > 80_000;
}
/** While a heavy part is turned it is drawn plainer: without its edges and at half the pixels. */
function rush(on: boolean) {
  if (!heavy()) return;
  for (const { lines } of bodies) lines.visible = !on;
  renderer?.setPixelRatio(window.devicePixelRatio * (on ? 0.5 : 1));
  draw();
}
function size() {
  const area = host.value?.getBoundingClientRect();
  if (!area?.width || !renderer) return;
  renderer.setSize(area.width, area.height);
  const ratio = area.width / area.height;
  camera.left = -reach * Math.max(1, ratio);
  camera.right = -camera.left;
  camera.top = reach * Math.max(1, 1 / ratio);
  camera.bottom = -camera.top;
  camera.updateProjectionMatrix();
  draw();
}
/** Draw once, with the next frame. */
function draw() {
  cancelAnimationFrame(frame);
  frame = requestAnimationFrame(() => renderer?.render(scene, camera));
}
function fit() {
  camera.zoom = 1;
  controls.target.copy(box.getBoundingSphere(new THREE.Sphere()).center);
  camera.updateProjectionMatrix();
  controls.update();
  draw();
}
/** Look along an axis, or from the corner again. */
function look(from: number[]) {
  const way = new THREE.Vector3(from[0], from[1], from[2]).normalize();
  camera.up.set(0, Math.abs(way.z) > 0.99 ? 1 : 0, Math.abs(way.z) > 0.99 ? 0 : 1);
  camera.position.copy(controls.target).add(way.multiplyScalar(reach * 4));
  controls.update();
  draw();
}
function under(event: PointerEvent, want = props.want): Hit | null {
  const area = host.value!.getBoundingClientRect();
  const screen = { x: event.clientX - area.left, y: event.clientY - area.top, w: area.width, h: area.height };
  const ray = new THREE.Raycaster();
  ray.setFromCamera(new THREE.Vector2((screen.x / area.width) * 2 - 1, 1 - (screen.y / area.height) * 2), camera);
  ray.firstHitOnly = !props.clip;
  const hits = ray.intersectObjects(bodies.map((b) => b.mesh));
  const hit = hits.find((h) => !props.clip || plane.distanceToPoint(h.point) >= 0);
  const depth = hit ? hit.distance : Infinity;
  if (want === "edge") return nearestEdge(bodies, camera, screen, depth, reach, clipping());
  if (want === "corner") return nearestCorner(bodies, camera, screen, depth, reach, clipping());
  const solid = bodies.findIndex((b) => b.mesh === hit?.object);
  if (!hit || hit.faceIndex == null || solid < 0) return null;
  return { kind: "face", solid, index: bodies[solid].data.faces[hit.faceIndex], end: 0, at: hit.point.toArray() };
}
let pressed = [0, 0];
let waiting = 0;
function click(event: PointerEvent) {
  if (event.button || Math.hypot(event.clientX - pressed[0], event.clientY - pressed[1]) > 4 || !host.value) return;
  const hit = under(event);
  if (hit) emit("pick", hit);
}
function moved(event: PointerEvent) {
  clearTimeout(waiting);
  if (event.buttons) return;
  waiting = window.setTimeout(() => host.value && emit("hover", under(event, "face")), 60);
}
/** Faces, edges or corners as the keys walk them, and the one they stand at. */
const at = ref(-1);
const said = ref("");
function candidates(): Hit[] {
  const out: Hit[] = [];
  bodies.forEach(({ data }, solid) => {
    if (props.want === "edge" || props.want === "corner") {
      const met = new Set<string>();
      data.edges.forEach((line, k) => {
        const ends: [0 | 1, number][] =
          props.want === "edge"
            ? [[0, Math.floor(line.length / 6) * 3]]
            : [
                [0, 0],
                [1, line.length - 3],
              ];
        for (const [end, i] of ends) {
          const place: [number, number, number] = [line[i], line[i + 1], line[i + 2]];
          const name = props.want === "edge" ? `${data.edge_index[k]}` : place.map((c) => c.toFixed(4)).join();
          if (met.has(name)) continue;
          met.add(name);
          out.push({
            kind: props.want === "edge" ? "edge" : "corner",
            solid,
            index: data.edge_index[k],
            end,
            at: place,
          });
        }
      });
    } else
      for (const face of [...new Set(data.faces)].sort((a, b) => a - b)) {
        const t = data.faces.indexOf(face);
        const middle = (c: number) =>
          [0, 1, 2].reduce((sum, k) => sum + data.positions[data.triangles[t * 3 + k] * 3 + c], 0) / 3;
        out.push({ kind: "face", solid, index: face, end: 0, at: [middle(0), middle(1), middle(2)] });
      }
  });
  return out;
}
/** One on, or one back: it is lit and read out, Enter picks it. */
function walk(by: 1 | -1) {
  const list = candidates();
  if (!list.length) return;
  at.value = (at.value + by + list.length) % list.length;
  const hit = list[at.value];
  said.value = props.spoken?.(hit, at.value + 1, list.length) ?? `${hit.kind} ${at.value + 1} of ${list.length}`;
  emptied(stand);
  if (hit.kind === "face") tint(hit);
  else {
    tint();
    const lines =
      hit.kind === "edge"
        ? bodies[hit.solid].data.edges.filter((_, k) => bodies[hit.solid].data.edge_index[k] === hit.index)
        : [];
    for (const line of lines) {
      const points = new THREE.BufferGeometry();
      points.setAttribute("position", new THREE.Float32BufferAttribute(line, 3));
      const bar = new THREE.Line(points, new THREE.LineBasicMaterial({ color: "#b8371f", depthTest: false }));
      bar.renderOrder = 4;
      stand.add(bar);
    }
    const dot = new THREE.Mesh(
      new THREE.SphereGeometry(reach * 0.016, 16, 12),
      new THREE.MeshBasicMaterial({ color: "#b8371f", depthTest: false }),
    );
    dot.position.set(...hit.at);
    dot.renderOrder = 4;
    stand.add(dot);
  }
  draw();
}
function take() {
  const hit = candidates()[at.value];
  if (hit) emit("pick", hit);
}
watch(
  () => props.want,
  () => {
    at.value = -1;
    emptied(stand);
    draw();
  },
);
function keys(event: KeyboardEvent) {
  if (event.key === "." || event.key === ",") {
    walk(event.key === "." ? 1 : -1);
    return event.preventDefault();
  }
  if (event.key === "Enter" && at.value >= 0) {
    take();
    return event.preventDefault();
  }
  const turn = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
  if (turn) {
    const offset = camera.position.clone().sub(controls.target);
    const ball = new THREE.Spherical().setFromVector3(new THREE.Vector3(offset.x, offset.z, -offset.y));
    ball.theta += turn[0] * 0.15;
    ball.phi = Math.min(Math.PI - 0.05, Math.max(0.05, ball.phi + turn[1] * 0.15));
    const p = new THREE.Vector3().setFromSpherical(ball);
    camera.position.copy(controls.target).add(new THREE.Vector3(p.x, -p.z, p.y));
  } else if (event.key === "+" || event.key === "-") {
    camera.zoom *= event.key === "+" ? 1.15 : 1 / 1.15;
    camera.updateProjectionMatrix();
  } else if (event.key === "0") fit();
  else return;
  controls.update();
  draw();
  event.preventDefault();
}
onMounted(() => {
  try {
    renderer = new THREE.WebGLRenderer({ antialias: !heavy(), alpha: true });
  } catch {
    fault.value = "This browser cannot show the solid in space; the features stand in the list.";
    return;
  }
  renderer.localClippingEnabled = true;
  renderer.setPixelRatio(window.devicePixelRatio);
  host.value!.appendChild(renderer.domElement);
  camera = new THREE.OrthographicCamera();
  camera.up.set(0, 0, 1);
  controls = new OrbitControls(camera, renderer.domElement);
  controls.addEventListener("change", draw);
  controls.addEventListener("start", () => rush(true));
  controls.addEventListener("end", () => rush(false));
  scene.add(new THREE.HemisphereLight("#ffffff", "#b8b0a0", 2.2));
  const lamp = new THREE.DirectionalLight("#ffffff", 1.1);
  lamp.position.set(0.4, -0.8, 1);
  scene.add(lamp);
  renderer.domElement.addEventListener("pointerdown", (e) => (pressed = [e.clientX, e.clientY]));
  renderer.domElement.addEventListener("pointerup", click);
  renderer.domElement.addEventListener("pointermove", moved);
  renderer.domElement.addEventListener("pointerleave", () => (clearTimeout(waiting), emit("hover", null)));
  build();
  watcher = new ResizeObserver(size);
  watcher.observe(host.value!);
});
onBeforeUnmount(() => {
  clearTimeout(waiting);
  cancelAnimationFrame(frame);
  watcher?.disconnect();
  controls?.dispose();
  emptied(scene);
  bodies.length = 0;
  renderer?.dispose();
  // A browser keeps only some contexts of all pages; this one is given back now, not when memory is swept.
  renderer?.forceContextLoss();
  renderer?.domElement.remove();
});
watch(
  () => [props.lit, props.picked],
  () => tint(),
  { deep: true },
);
watch(() => props.clip, cut, { deep: true });
watch(() => [props.points, props.lumps], mark, { deep: true });
defineExpose({ fit, look });
</script>

<template>
  <div
    ref="host"
    class="space"
    tabindex="0"
    role="application"
    aria-label="The part in space: arrows turn it, plus and minus zoom, 0 fits; full stop and comma go from one face, edge or corner to the next, Enter picks it"
    @keydown="keys"
  >
    <p v-if="fault" class="quiet">{{ fault }}</p>
    <span class="spoken" role="status">{{ said }}</span>
  </div>
</template>

<style scoped>
.space {
  width: 100%;
  height: 100%;
  min-height: 0;
  overflow: hidden;
  background: linear-gradient(#efece6, #dedacf);
}
.space:focus-visible {
  outline: 2px solid var(--halo);
  outline-offset: -3px;
}
.spoken {
  position: absolute;
  width: 1px;
  height: 1px;
  overflow: hidden;
  clip-path: inset(50%);
}
.space p {
  padding: 20px;
}
</style>
