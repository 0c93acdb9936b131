<script setup lang="ts">
import * as THREE from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { onBeforeUnmount, onMounted, ref, watch } from "vue";
import type { SolidData } from "../state";

const props = defineProps<{ meshes: SolidData["meshes"]; lit: Record<number, number[]> }>();
const emit = defineEmits<{ face: [solid: number, face: number] }>();
const host = ref<HTMLDivElement>();
const fault = ref("");
let renderer: THREE.WebGLRenderer | undefined;
let camera: THREE.OrthographicCamera;
let controls: OrbitControls;
const scene = new THREE.Scene();
const bodies: { mesh: THREE.Mesh; data: SolidData["meshes"][number] }[] = [];
const plain = new THREE.Color("#c9c3b4");
const bright = new THREE.Color("#5aa79c");
let reach = 1;
let watcher: ResizeObserver | undefined;

function build() {
  const box = new THREE.Box3();
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
      polygonOffset: true,
      polygonOffsetFactor: 1,
      polygonOffsetUnits: 1,
    });
    const mesh = new THREE.Mesh(geometry, material);
    scene.add(mesh);
    bodies.push({ mesh, data });
    box.expandByObject(mesh);
    const points: number[] = [];
    for (const line of data.edges) for (let k = 0; k + 5 < line.length; k += 3) points.push(...line.slice(k, k + 6));
    const edges = new THREE.BufferGeometry();
    edges.setAttribute("position", new THREE.Float32BufferAttribute(points, 3));
    scene.add(new THREE.LineSegments(edges, new THREE.LineBasicMaterial({ color: "#22262b" })));
  }
  tint();
  const sphere = box.getBoundingSphere(new THREE.Sphere());
  reach = sphere.radius * 1.12;
  controls.target.copy(sphere.center);
  camera.position.copy(sphere.center).add(new THREE.Vector3(1, -1.4, 1).normalize().multiplyScalar(reach * 4));
  camera.far = reach * 10;
  controls.update();
  size();
}
function tint() {
  bodies.forEach(({ mesh, data }, solid) => {
    const lit = new Set(props.lit[solid] ?? []);
    const color = mesh.geometry.getAttribute("color") as THREE.BufferAttribute;
    data.faces.forEach((face, t) => {
      const c = lit.has(face) ? bright : plain;
      for (let k = 0; k < 3; k++) color.setXYZ(t * 3 + k, c.r, c.g, c.b);
    });
    color.needsUpdate = true;
  });
  draw();
}
function size() {
  const box = host.value?.getBoundingClientRect();
  if (!box?.width || !renderer) return;
  renderer.setSize(box.width, box.height);
  const ratio = box.width / box.height;
  camera.left = -reach * Math.max(1, ratio);
  camera.right = -camera.left;
  camera.top = reach * Math.max(1, 1 / ratio);
  camera.bottom = -camera.top;
  camera.updateProjectionMatrix();
  draw();
}
function draw() {
  renderer?.render(scene, camera);
}
let pressed = [0, 0];
function click(event: PointerEvent) {
  if (Math.hypot(event.clientX - pressed[0], event.clientY - pressed[1]) > 4 || !host.value) return;
  const box = host.value.getBoundingClientRect();
  const at = new THREE.Vector2(
    ((event.clientX - box.left) / box.width) * 2 - 1,
    1 - ((event.clientY - box.top) / box.height) * 2,
  );
  const ray = new THREE.Raycaster();
  ray.setFromCamera(at, camera);
  const hit = ray.intersectObjects(bodies.map((b) => b.mesh))[0];
  const solid = bodies.findIndex((b) => b.mesh === hit?.object);
  if (hit?.faceIndex != null && solid >= 0) emit("face", solid, bodies[solid].data.faces[hit.faceIndex]);
}
onMounted(() => {
  try {
    renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true });
  } catch {
    fault.value = "This browser cannot show the solid in space; the features stand in the list.";
    return;
  }
  renderer.setPixelRatio(window.devicePixelRatio);
  host.value!.appendChild(renderer.domElement);
  camera = new THREE.OrthographicCamera();
  camera.up.set(0, 0, 1);
  controls = new OrbitControls(camera, renderer.domElement);
  controls.addEventListener("change", draw);
  scene.add(new THREE.HemisphereLight("#ffffff", "#b8b0a0", 2.2));
  const lamp = new THREE.DirectionalLight("#ffffff", 1.1);
  lamp.position.set(0.4, -0.8, 1);
  scene.add(lamp);
  renderer.domElement.addEventListener("pointerdown", (e) => (pressed = [e.clientX, e.clientY]));
  renderer.domElement.addEventListener("pointerup", click);
  build();
  watcher = new ResizeObserver(size);
  watcher.observe(host.value!);
});
onBeforeUnmount(() => {
  watcher?.disconnect();
  controls?.dispose();
  renderer?.dispose();
});
watch(() => props.lit, tint, { deep: true });
</script>

<template>
  <div ref="host" class="space">
    <p v-if="fault" class="quiet">{{ fault }}</p>
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
.space p {
  padding: 20px;
}
</style>
