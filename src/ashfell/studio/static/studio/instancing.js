// Equal things drawn at once: meshes of one geometry and finish become one, with a place for each.

import { Color, InstancedMesh, LineSegments, Matrix4 } from "../vendor/three.js";
import { storeyOf } from "./primitives.js";

/** @typedef {import("./primitives.js").Dressed} Dressed */

const FEWEST = 40; // of one kind from which they are drawn at once
const MOST_EDGES = 600_000; // lines of all of a kind together, above which they have none
const PLAIN = new Color(1, 1, 1);
const LIT = new Color(2.2, 0.9, 0.55);

/**
 * Meshes with those of a kind made one; mirror images stay by themselves, since they are turned inside out.
 * @param {import("../vendor/three.js").Object3D} model what they are in
 * @param {Dressed[]} meshes that know what they stand for
 */
export function joined(model, meshes) {
  model.updateMatrixWorld(true);
  /** @type {Map<string, Dressed[]>} */
  const kinds = new Map();
  meshes.forEach((mesh) => {
    const mirrored = mesh.matrixWorld.determinant() < 0;
    const key = [mesh.geometry.uuid, mesh.material.uuid, storeyOf(mesh), mirrored && mesh.uuid].join(" ");
    kinds.set(key, [...(kinds.get(key) || []), mesh]);
  });
  return [...kinds.values()].flatMap((own) => (own.length < FEWEST ? own : [asOne(model, own)]));
}

/**
 * @param {import("../vendor/three.js").Object3D} model
 * @param {Dressed[]} own
 */
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
 * @param {InstancedMesh} all
 * @param {(thing: import("./things.js").Thing) => boolean} lit
 */
export function paintMany(all, lit) {
  /** @type {import("./things.js").Thing[]} */
  const things = all.userData.things;
  things.forEach((thing, index) => all.setColorAt(index, lit(thing) ? LIT : PLAIN));
  /** @type {import("../vendor/three.js").InstancedBufferAttribute} */ (all.instanceColor).needsUpdate = true;
}

/**
 * The edges of many: lines that the renderer takes for one of many, with the places of their faces. Null where they would be too many.
 * @param {InstancedMesh} all
 * @param {import("../vendor/three.js").EdgesGeometry} edges
 * @param {import("../vendor/three.js").LineBasicMaterial} ink
 */
export function edgesOfMany(all, edges, ink) {
  const { count, instanceMatrix } = all;
  if ((count * edges.getAttribute("position").count) / 2 > MOST_EDGES) return null;
  const told = { isInstancedMesh: true, instanceColor: null, morphTexture: null, frustumCulled: false };
  return Object.assign(new LineSegments(edges, ink), { ...told, count, instanceMatrix });
}
