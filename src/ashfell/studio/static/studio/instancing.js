// Equal things drawn at once: meshes of one geometry and finish become one, with a place for each.

import { Color, InstancedMesh, Matrix4 } from "../vendor/three.js";

const FEWEST = 40; // of one kind from which they are drawn at once; they have no edges then
const PLAIN = new Color(1, 1, 1);
const LIT = new Color(2.2, 0.9, 0.55);

/**
 * Meshes with those of a kind made one; mirror images stay by themselves, since they are turned inside out.
 * @param {any} model what they are in
 * @param {any[]} meshes that know what they stand for
 */
export function joined(model, meshes) {
  model.updateMatrixWorld(true);
  const kinds = new Map();
  meshes.forEach((mesh) => {
    const mirrored = mesh.matrixWorld.determinant() < 0;
    const key = [mesh.geometry.uuid, mesh.material.uuid, storeyOf(mesh), mirrored && mesh.uuid].join(" ");
    kinds.set(key, [...(kinds.get(key) || []), mesh]);
  });
  return [...kinds.values()].flatMap((own) => (own.length < FEWEST ? own : [asOne(model, own)]));
}

function asOne(model, own) {
  const [first] = own;
  const all = new InstancedMesh(first.geometry, first.material, own.length);
  const back = new Matrix4().copy(model.matrixWorld).invert();
  own.forEach((mesh, index) => {
    all.setMatrixAt(index, new Matrix4().multiplyMatrices(back, mesh.matrixWorld));
    all.setColorAt(index, PLAIN);
    mesh.removeFromParent();
  });
  all.userData = { things: own.map((mesh) => mesh.userData.thing), parts: first.userData.parts, storey: storeyOf(first) };
  model.add(all);
  return all;
}

/**
 * What of many lights up.
 * @param {any} all
 * @param {(thing: any) => boolean} lit
 */
export function paintMany(all, lit) {
  all.userData.things.forEach((thing, index) => all.setColorAt(index, lit(thing) ? LIT : PLAIN));
  all.instanceColor.needsUpdate = true;
}

// The storey of the node that a mesh is in.
function storeyOf(mesh) {
  for (let object = mesh; object; object = object.parent) if (object.userData.storey) return object.userData.storey;
  return "";
}
