import type * as THREE from "three";

/** Gives back what a group's things hold of the graphics card (buffers, materials, trees), and empties it. */
export function emptied(group: THREE.Object3D): void {
  group.traverse((thing) => {
    const { geometry, material } = thing as Partial<THREE.Mesh>;
    geometry?.disposeBoundsTree?.();
    geometry?.dispose();
    for (const one of Array.isArray(material) ? material : [material]) one?.dispose();
  });
  group.clear();
}
