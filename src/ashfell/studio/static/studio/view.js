// The 3D view: parts as they are built, with their edges drawn; drawn anew only when something changed.

import {
  AmbientLight, Box3, BufferAttribute, BufferGeometry, Color, DirectionalLight, DoubleSide, EdgesGeometry, FrontSide,
  GLTFLoader, HemisphereLight, LineBasicMaterial, LineSegments, Matrix3, Mesh, MeshBasicMaterial, MeshStandardMaterial,
  OrbitControls, PerspectiveCamera, Plane, Raycaster, SRGBColorSpace, Scene, Vector2, Vector3, WebGLRenderer,
} from "../vendor/three.js";
import { joined, paintMany } from "./instancing.js";

const EMBER = new Color("#c4501f");
const INK = new LineBasicMaterial({ color: "#3a3632", transparent: true, opacity: 0.55 });
const HEAD = 0.01; // m before the eye, what a turn of the head goes round
const SHARP = 20; // degrees between faces from which their edge is drawn
const WHITE = { color: "#fbfaf6", polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 };
const CLEAR = { transparent: true, opacity: 0.32, roughness: 0.1, depthWrite: false, side: DoubleSide };

export class View {
  /**
   * @param {HTMLCanvasElement} canvas where to draw
   * @param {{ from?: number[], whole?: boolean }} [how] the direction to look from first; whether what is pointed at is a whole node
   */
  constructor(canvas, { from = [0.45, 0.25, 1], whole = false } = {}) {
    this.whole = whole;
    this.drawn = new Map(); // edges and materials, once for each geometry and finish
    this.canvas = canvas;
    this.from = new Vector3(...from);
    this.scene = new Scene();
    this.camera = new PerspectiveCamera(32, 1, 0.01, 5000);
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.addEventListener("change", () => this.draw());
    this.loader = new GLTFLoader();
    this.light();
    this.model = null;
    this.lit = () => false;
    this.listeners = { over: [], pick: [] };
    this.watchPointer();
    new ResizeObserver(() => this.resize()).observe(canvas.parentElement);
    this.resize();
  }

  light() {
    this.scene.add(new HemisphereLight("#ffffff", "#b9b2a6", 1.7), new AmbientLight("#ffffff", 0.35));
    const sun = new DirectionalLight("#fff6e8", 2.1);
    sun.position.set(-3, 5, 4);
    this.scene.add(sun);
  }

  resize() {
    const { clientWidth: width, clientHeight: height } = this.canvas.parentElement;
    if (!width || !height) return;
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.renderer.setSize(width, height, false);
    this.camera.aspect = width / height;
    this.camera.updateProjectionMatrix();
    this.renderer.render(this.scene, this.camera);
  }

  /** @param {ArrayBuffer} bytes a GLB */
  async show(bytes) {
    const { scene: model, parser } = await this.loader.parseAsync(bytes, "");
    this.drawn.clear();
    const found = [];
    model.traverse((object) => object.isMesh && found.push(object));
    const taken = found.flatMap((mesh) => this.taken(mesh, parser.associations.get(mesh)?.primitives ?? 0));
    const meshes = this.whole ? joined(model, taken) : taken;
    meshes.forEach((mesh) => this.dress(mesh));
    const before = this.model && this.box;
    if (this.model) this.scene.remove(this.model);
    this.model = model;
    this.meshes = meshes;
    this.scene.add(model);
    if (before && !before.isEmpty()) this.follow(before);
    else if (meshes.length) this.frame();
    this.rest = this.box;
    this.paint();
    this.renderer.render(this.scene, this.camera);
    if (this.lines) this.asLines(true);
    if (this.spread) this.explode(this.spread);
    if (this.shownStorey) this.storey(this.shownStorey);
    this.canvas.dataset.parts = String(this.whole ? found.length : meshes.length);
    this.canvas.dataset.drawn = String(this.renderer.info.render.calls);
    this.canvas.dataset.shown = String(Number(this.canvas.dataset.shown || 0) + 1);
  }

  // A primitive of a mesh as what can be pointed at: the node it is in, or each part of it for itself.
  taken(mesh, primitive) {
    const parts = partsOf(mesh).filter((part) => part.primitive === primitive);
    if (this.whole) {
      mesh.userData.thing = { entry: nodeOf(mesh) };
      mesh.userData.parts = parts;
      return [mesh];
    }
    const split = parts.map((part) => {
      const geometry = cutOut(mesh.geometry, part);
      const own = new Mesh(geometry, mesh.material);
      own.userData.thing = part;
      mesh.parent.add(own);
      own.position.copy(mesh.position);
      own.quaternion.copy(mesh.quaternion);
      own.scale.copy(mesh.scale);
      return own;
    });
    mesh.removeFromParent();
    return split;
  }

  once(key, make) {
    if (!this.drawn.has(key)) this.drawn.set(key, make());
    return this.drawn.get(key);
  }

  dress(mesh) {
    const { color, map, roughness, metalness, transmission, flatShading } = mesh.material;
    mesh.material = transmission
      ? new MeshStandardMaterial({ ...CLEAR, color: color.clone().multiply(new Color("#b9cdd0")) })
      : new MeshStandardMaterial({ color, map: sharpened(map), roughness, metalness: Math.min(metalness, 0.3), flatShading });
    mesh.userData.plain = mesh.material.emissive.clone();
    if (mesh.isInstancedMesh) return;
    const edges = new LineSegments(this.once(mesh.geometry.uuid, () => new EdgesGeometry(bare(mesh.geometry), SHARP)), INK);
    edges.raycast = () => {};
    mesh.add(edges);
  }

  // Hidden lines: white faces that hide what is behind, and edges.
  asLines(on) {
    this.lines = on;
    this.canvas.dataset.lines = String(on);
    this.meshes?.forEach((mesh) => {
      mesh.userData.shaded ||= mesh.material;
      const { transparent, opacity } = mesh.userData.shaded;
      const white = { ...WHITE, transparent, opacity: transparent ? Math.min(opacity, 0.15) : 1 };
      mesh.material = on ? new MeshBasicMaterial(white) : mesh.userData.shaded;
    });
    this.paint();
  }

  // Parts moved apart from the middle by a share of their distance from it, and of the unit's depth.
  explode(share) {
    this.spread = share;
    const centre = this.rest.getCenter(new Vector3());
    const size = this.rest.getSize(new Vector3());
    this.meshes?.forEach((mesh) => {
      mesh.geometry.computeBoundingBox();
      mesh.userData.at ||= mesh.position.clone();
      mesh.position.copy(mesh.userData.at);
      mesh.updateWorldMatrix(true, false);
      const own = mesh.geometry.boundingBox.clone().applyMatrix4(mesh.matrixWorld).getCenter(new Vector3());
      const away = own.sub(centre).multiply(new Vector3(0.5, 0.5, 0)).multiplyScalar(share);
      away.z = (own.z / Math.max(size.z, 0.05)) * share * Math.max(size.x, size.y) * 0.4;
      mesh.position.add(away.applyMatrix3(new Matrix3().setFromMatrix4(mesh.parent.matrixWorld).invert()));
    });
    this.draw();
  }

  // Everything before an upright plane is cut away.
  cut(share) {
    const { min, max } = this.rest;
    this.renderer.clippingPlanes = share ? [new Plane(new Vector3(-1, 0, 0), max.x - share * (max.x - min.x))] : [];
    this.draw();
  }

  // Everything above a level plane is cut away, and what is hollow then shows its inside.
  section(share) {
    const { min, max } = this.rest;
    this.renderer.clippingPlanes = share ? [new Plane(new Vector3(0, -1, 0), max.y - share * (max.y - min.y))] : [];
    this.meshes?.forEach((mesh) => {
      mesh.material.side = share || mesh.material.transparent ? DoubleSide : FrontSide;
      mesh.material.needsUpdate = true;
    });
    this.canvas.dataset.section = String(share);
    this.draw();
  }

  // What stands on one storey alone; all of it where none is named.
  storey(key) {
    this.shownStorey = key;
    this.model?.traverse((node) => {
      if (node.userData.storey) node.visible = !key || node.userData.storey === key;
    });
    this.canvas.dataset.storey = key;
    this.draw();
  }

  // Stand at a height beside the model and look into its middle; turning then turns the head.
  stand(height) {
    const { min, max } = this.box;
    const middle = min.clone().add(max).multiplyScalar(0.5);
    const away = new Vector3(this.from.x, 0, this.from.z).normalize().multiplyScalar(max.distanceTo(min) * 0.55);
    this.look(middle.clone().add(away).setY(height), middle.setY(height));
  }

  // Look from a place at another, as one who walks.
  look(place, at) {
    const ahead = at.clone().sub(place).normalize();
    this.camera.position.copy(place);
    this.camera.near = 0.02;
    this.camera.updateProjectionMatrix();
    this.controls.target.copy(place).addScaledVector(ahead, HEAD);
    this.controls.update();
    this.canvas.dataset.at = place.toArray().map((value) => value.toFixed(3)).join(" ");
    this.draw();
  }

  // Walk ahead and to the right, m, and turn to the left.
  walk(ahead, right, left) {
    const way = this.controls.target.clone().sub(this.camera.position).setY(0).normalize();
    way.applyAxisAngle(new Vector3(0, 1, 0), left);
    const aside = way.clone().cross(new Vector3(0, 1, 0));
    const place = this.camera.position.clone().addScaledVector(way, ahead).addScaledVector(aside, right);
    this.look(place, place.clone().add(way));
  }

  // Look at a node square on, from the side that it is turned to (1) or from behind (-1).
  face(entry, side) {
    const own = this.meshes?.find((mesh) => mesh.userData.thing?.entry === entry);
    if (!own) return;
    const box = new Box3().setFromObject(own);
    const out = new Vector3().setFromMatrixColumn(own.matrixWorld, 2).normalize().multiplyScalar(side);
    const middle = box.getCenter(new Vector3());
    const size = box.getSize(new Vector3());
    const tall = Math.tan((this.camera.fov * Math.PI) / 360);
    const away = Math.max(size.y / 2 / tall, Math.hypot(size.x, size.z) / 2 / tall / this.camera.aspect) * 1.15;
    this.camera.position.copy(middle).addScaledVector(out, away);
    this.camera.near = 0.02;
    this.camera.updateProjectionMatrix();
    this.controls.target.copy(middle);
    this.controls.update();
    this.draw();
  }

  get box() {
    return new Box3().setFromObject(this.model);
  }

  // Stand back along the first direction until all corners of the model are within the picture.
  frame() {
    const { min, max } = this.box;
    const centre = min.clone().add(max).multiplyScalar(0.5);
    const towards = this.from.clone().normalize();
    const right = new Vector3(0, 1, 0).cross(towards).normalize();
    const up = towards.clone().cross(right);
    const high = Math.tan((this.camera.fov * Math.PI) / 360);
    const wide = high * this.camera.aspect;
    let away = 0;
    for (let k = 0; k < 8; k += 1) {
      const corner = new Vector3(k & 1 ? max.x : min.x, k & 2 ? max.y : min.y, k & 4 ? max.z : min.z).sub(centre);
      const near = corner.dot(towards);
      away = Math.max(away, near + Math.abs(corner.dot(right)) / wide, near + Math.abs(corner.dot(up)) / high);
    }
    away *= 1.08;
    this.camera.position.copy(centre).addScaledVector(towards, away);
    this.camera.near = away / 200;
    this.camera.far = away * 50;
    this.camera.updateProjectionMatrix();
    this.controls.target.copy(centre);
    this.controls.update();
  }

  // Keep the direction of view while the model grows, shrinks or moves.
  follow(before) {
    const [old, now] = [before, this.box];
    const size = (box) => box.getSize(new Vector3()).length();
    const offset = this.camera.position.clone().sub(this.controls.target).multiplyScalar(size(now) / size(old));
    this.controls.target.add(now.getCenter(new Vector3()).sub(old.getCenter(new Vector3())));
    this.camera.position.copy(this.controls.target).add(offset);
    this.controls.update();
  }

  /** @param {(part: import("./things.js").Thing) => boolean} lit */
  highlight(lit) {
    this.lit = lit;
    this.paint();
  }

  paint() {
    this.meshes?.forEach((mesh) => {
      if (mesh.isInstancedMesh) return paintMany(mesh, this.lit);
      const on = this.lit(mesh.userData.thing);
      if (!mesh.material.emissive) return mesh.material.color.set(on ? "#e7b092" : "#fbfaf6");
      mesh.material.emissive.copy(on ? EMBER : mesh.userData.plain);
      mesh.material.emissiveIntensity = on ? 0.55 : 1;
    });
    this.draw();
  }

  /**
   * Listen for what the pointer is over and for what is picked: a part or a node, and where it is.
   * @param {"over" | "pick"} what
   * @param {(thing: import("./things.js").Thing | null, place: string) => unknown} listener
   */
  on(what, listener) {
    this.listeners[what].push(listener);
  }

  watchPointer() {
    const ray = new Raycaster();
    const under = (event) => {
      if (!this.meshes) return null;
      const at = this.canvas.getBoundingClientRect();
      const point = new Vector2(((event.clientX - at.left) / at.width) * 2 - 1, 1 - ((event.clientY - at.top) / at.height) * 2);
      ray.setFromCamera(point, this.camera);
      return ray.intersectObjects(this.meshes, false)[0] || null;
    };
    this.canvas.addEventListener("pointermove", (event) => {
      if (event.buttons === 0) this.tell("over", thingOf(under(event)));
    });
    this.canvas.addEventListener("pointerleave", () => this.tell("over", null));
    this.canvas.addEventListener("click", (event) => {
      const hit = under(event);
      this.tell("pick", thingOf(hit), hit ? told(hit) : "");
    });
  }

  tell(what, part, place = "") {
    this.listeners[what].forEach((listener) => listener(part, place));
  }

  draw() {
    cancelAnimationFrame(this.asked);
    this.asked = requestAnimationFrame(() => this.renderer.render(this.scene, this.camera));
  }
}

// What a hit stands for: its mesh, or the one of many that it is.
function thingOf(hit) {
  const { thing, things } = hit?.object.userData || {};
  return (things ? things[hit.instanceId] : thing) || null;
}

// What was hit: a part of a node, or the size and lower left corner of a part, in millimetres of the unit.
function told({ object, faceIndex }) {
  const part = object.userData.parts?.find(({ first, count }) => faceIndex >= first && faceIndex < first + count);
  if (part) return part.part;
  const box = new Box3().setFromObject(object);
  const mm = (vector) => [vector.x, vector.y, vector.z].map((value) => Math.round(value * 1e5) / 100);
  return `${mm(box.getSize(new Vector3())).join(" × ")} at ${mm(box.min).join(", ")} mm`;
}

// Some triangles of a geometry and the corners they have: those of one part stand together.
function cutOut({ attributes, index }, { first, count }) {
  const corners = index.array.subarray(3 * first, 3 * (first + count));
  let [low, high] = [Infinity, 0];
  corners.forEach((corner) => ([low, high] = [Math.min(low, corner), Math.max(high, corner)]));
  const geometry = new BufferGeometry();
  Object.entries(attributes).forEach(([name, attribute]) => {
    // A buffer that several attributes share is taken apart first.
    const { array, itemSize } = attribute.isInterleavedBufferAttribute ? attribute.clone() : attribute;
    geometry.setAttribute(name, new BufferAttribute(array.subarray(itemSize * low, itemSize * (high + 1)), itemSize));
  });
  return geometry.setIndex(new BufferAttribute(corners.map((corner) => corner - low), 1));
}

// Positions and triangles alone, corners at one place being one: what edges are found from.
function bare(geometry) {
  const found = new BufferGeometry().setAttribute("position", geometry.getAttribute("position"));
  return found.setIndex(geometry.index);
}

function sharpened(map) {
  if (map) map.anisotropy = 8;
  return map;
}

// The parts of a mesh, as its file tells them.
function partsOf(mesh) {
  for (let object = mesh; object; object = object.parent) if (object.userData.parts) return object.userData.parts;
  return [];
}

// The address of the node that a mesh is in.
function nodeOf(mesh) {
  for (let object = mesh; object; object = object.parent) if (object.userData.name) return object.userData.name;
  return "";
}
