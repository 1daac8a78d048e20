// Meshes as the file brings them: the parts that are in one, the node that one is in, and what of them edges are drawn from.

import { Box3, BufferAttribute, BufferGeometry, InterleavedBufferAttribute, Vector3 } from "../vendor/three.js";

/** @typedef {import("./things.js").Thing} Thing */
/** @typedef {import("../vendor/three.js").Mesh<BufferGeometry, import("../vendor/three.js").MeshStandardMaterial>} Dressed */

/**
 * A part within a mesh: which of its primitives, and which of its triangles.
 * @typedef {Thing & { part: string, primitive: number, first: number, count: number }} Range
 */

/**
 * A node that stands in another: a unit in its wall.
 * @typedef {Thing & { host: import("../vendor/three.js").Object3D }} Standing
 */

/**
 * What the nearest of an object and those that it is in says under a name.
 * @param {import("../vendor/three.js").Object3D | null} object
 * @param {string} name
 */
function said(object, name) {
  for (let at = object; at; at = at.parent) if (at.userData[name]) return at.userData[name];
  return undefined;
}

/**
 * The parts of a mesh, as its file tells them.
 * @param {import("../vendor/three.js").Object3D} mesh
 * @returns {Range[]}
 */
export const partsOf = (mesh) => said(mesh, "parts") || [];

/**
 * The address of the node that a mesh is in.
 * @param {import("../vendor/three.js").Object3D} mesh
 * @returns {string}
 */
export const nodeOf = (mesh) => said(mesh, "name") || "";

/**
 * The node that the node of a mesh is in.
 * @param {import("../vendor/three.js").Object3D} mesh
 */
export function hostOf(mesh) {
  /** @type {import("../vendor/three.js").Object3D | null} */
  let at = mesh;
  while (at && !at.userData.name) at = at.parent;
  return at?.parent || null;
}

/**
 * The storey of the node that a mesh is in.
 * @param {import("../vendor/three.js").Object3D} mesh
 * @returns {string}
 */
export const storeyOf = (mesh) => said(mesh, "storey") || "";

/**
 * Some triangles of a geometry and the corners they have: those of one part stand together.
 * @param {BufferGeometry} geometry
 * @param {Range} part
 */
export function cutOut({ attributes, index }, { first, count }) {
  const corners = /** @type {Uint32Array} */ (/** @type {BufferAttribute} */ (index).array).subarray(3 * first, 3 * (first + count));
  let [low, high] = [Infinity, 0];
  corners.forEach((corner) => ([low, high] = [Math.min(low, corner), Math.max(high, corner)]));
  const geometry = new BufferGeometry();
  Object.entries(attributes).forEach(([name, attribute]) => {
    // A buffer that several attributes share is taken apart first.
    const { array, itemSize } = attribute instanceof InterleavedBufferAttribute ? attribute.clone() : attribute;
    const own = /** @type {Float32Array} */ (array).subarray(itemSize * low, itemSize * (high + 1));
    geometry.setAttribute(name, new BufferAttribute(own, itemSize));
  });
  return geometry.setIndex(new BufferAttribute(corners.map((corner) => corner - low), 1));
}

/**
 * Positions and triangles alone, corners at one place being one: what edges are found from.
 * @param {BufferGeometry} geometry
 */
export function bare(geometry) {
  const found = new BufferGeometry().setAttribute("position", geometry.getAttribute("position"));
  return found.setIndex(geometry.index);
}

/**
 * What a hit stands for: its mesh, or the one of many that it is.
 * @param {import("../vendor/three.js").Intersection | null} hit
 * @returns {Thing | null}
 */
export function hitThing(hit) {
  const { thing, things } = hit?.object.userData || {};
  return (things ? things[/** @type {number} */ (hit?.instanceId)] : thing) || null;
}

/**
 * What was hit: a part of a node, or the size and lower left corner of a part, in millimetres of the unit.
 * @param {import("../vendor/three.js").Intersection} hit
 * @param {Dressed[]} meshes all that is shown: a part with two finishes is in two of them
 */
export function told({ object, faceIndex }, meshes) {
  const at = faceIndex ?? -1;
  const part = /** @type {Range[] | undefined} */ (object.userData.parts)?.find(({ first, count }) => at >= first && at < first + count);
  if (part) return part.part;
  const own = /** @type {Thing | undefined} */ (object.userData.thing)?.part;
  const box = new Box3().setFromObject(object);
  meshes.filter((mesh) => own && mesh.userData.thing.part === own).forEach((mesh) => box.expandByObject(mesh));
  const mm = (/** @type {Vector3} */ vector) => [vector.x, vector.y, vector.z].map((value) => Math.round(value * 1e5) / 100);
  return `${mm(box.getSize(new Vector3())).join(" × ")} at ${mm(box.min).join(", ")} mm`;
}
