// The 3D view: parts as they are built, with their edges drawn; drawn anew only when something changed.

import {
  AmbientLight, Box3, Color, DirectionalLight, DoubleSide, EdgesGeometry, FrontSide, GLTFLoader, Group, HemisphereLight,
  InstancedMesh, LineBasicMaterial, LineSegments, Matrix3, Mesh, MeshBasicMaterial, MeshStandardMaterial, Plane, Raycaster,
  SRGBColorSpace, Scene, Vector2, Vector3, WebGLRenderer,
} from "../vendor/three.js";
import { Eye } from "./eye.js";
import { edgesOfMany, joined, paintMany } from "./instancing.js";
import { bare, cutOut, hitThing, hostOf, nodeOf, partsOf, told } from "./primitives.js";

/** @typedef {import("./things.js").Thing} Thing */
/** @typedef {import("./primitives.js").Dressed} Dressed */
/** @typedef {Mesh<import("../vendor/three.js").SphereGeometry, MeshBasicMaterial>} Mark */
/** @typedef {import("../vendor/three.js").MeshPhysicalMaterial} MeshPhysicalMaterial */
/** @typedef {(thing: any, place: string) => unknown} Listener what is pointed at, if anything, and where it is */

const EMBER = new Color("#c4501f");
const INK = new LineBasicMaterial({ color: "#3a3632", transparent: true, opacity: 0.55 });
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
    /** @type {Map<string, EdgesGeometry>} edges, once for each geometry */
    this.drawn = new Map();
    this.canvas = canvas;
    this.scene = new Scene();
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: true });
    this.renderer.outputColorSpace = SRGBColorSpace;
    this.eye = new Eye(canvas, from, () => this.draw());
    this.loader = new GLTFLoader();
    this.light();
    /** @type {Mark[]} */
    this.marked = [];
    this.model = new Group();
    /** @type {Dressed[]} */
    this.meshes = [];
    this.rest = new Box3(); // what is shown takes while nothing is moved apart
    this.lines = false;
    this.spread = 0;
    this.shownStorey = "";
    this.asked = 0;
    this.sized = "";
    this.sight = new Raycaster();
    /** @type {(thing: Thing) => boolean} */
    this.lit = () => false;
    this.listeners = { over: /** @type {Listener[]} */ ([]), pick: /** @type {Listener[]} */ ([]) };
    this.watchPointer();
    new ResizeObserver(() => this.resize()).observe(this.room);
    this.resize();
  }

  /** What the canvas fills. */
  get room() {
    return /** @type {HTMLElement} */ (this.canvas.parentElement);
  }

  light() {
    this.scene.add(new HemisphereLight("#ffffff", "#b9b2a6", 1.7), new AmbientLight("#ffffff", 0.35));
    const sun = new DirectionalLight("#fff6e8", 2.1);
    sun.position.set(-3, 5, 4);
    this.scene.add(sun);
  }

  /**
   * What is shown beside the model, and can be pointed at like it.
   * @param {Mark[]} marks
   */
  mark(marks) {
    this.scene.remove(...this.marked);
    this.marked = marks;
    if (marks.length) this.scene.add(...marks);
    this.paint();
  }

  resize() {
    const { clientWidth: width, clientHeight: height } = this.room;
    const sized = `${width} ${height} ${window.devicePixelRatio}`;
    if (!width || !height || sized === this.sized) return;
    this.sized = sized;
    this.renderer.setPixelRatio(Math.min(window.devicePixelRatio, 2));
    this.renderer.setSize(width, height, false);
    this.eye.camera.aspect = width / height;
    this.eye.camera.updateProjectionMatrix();
    this.drawNow();
  }

  /** @param {ArrayBuffer} bytes a GLB */
  async show(bytes) {
    const { scene: model, parser } = await this.loader.parseAsync(bytes, "");
    this.drawn.clear();
    /** @type {Dressed[]} */
    const found = [];
    model.traverse((object) => object instanceof Mesh && found.push(object));
    const taken = found.flatMap((mesh) => this.taken(mesh, parser.associations.get(mesh)?.primitives ?? 0));
    const meshes = this.whole ? joined(model, taken) : taken;
    meshes.forEach((mesh) => this.dress(mesh));
    const before = this.box;
    this.scene.remove(this.model);
    this.model = model;
    this.meshes = meshes;
    this.scene.add(model);
    if (!before.isEmpty()) this.eye.follow(before, this.box);
    else if (meshes.length) this.frame();
    this.rest = this.box;
    this.paint();
    this.drawNow();
    if (this.lines) this.asLines(true);
    if (this.spread) this.explode(this.spread);
    if (this.shownStorey) this.storey(this.shownStorey);
    this.canvas.dataset.parts = String(this.whole ? found.length : meshes.length);
    this.canvas.dataset.drawn = String(this.renderer.info.render.calls);
    this.canvas.dataset.shown = String(Number(this.canvas.dataset.shown || 0) + 1);
  }

  /**
   * A primitive of a mesh as what can be pointed at: the node it is in, or each part of it for itself.
   * @param {Dressed} mesh
   * @param {number} primitive
   */
  taken(mesh, primitive) {
    const parts = partsOf(mesh).filter((part) => part.primitive === primitive);
    if (this.whole) {
      mesh.userData.thing = { entry: nodeOf(mesh), host: hostOf(mesh) };
      mesh.userData.parts = parts;
      return [mesh];
    }
    const split = parts.map((part) => {
      const geometry = cutOut(mesh.geometry, part);
      const own = new Mesh(geometry, mesh.material);
      own.userData.thing = part;
      mesh.parent?.add(own);
      own.position.copy(mesh.position);
      own.quaternion.copy(mesh.quaternion);
      own.scale.copy(mesh.scale);
      return own;
    });
    mesh.removeFromParent();
    return split;
  }

  /**
   * The edges of a geometry, found once.
   * @param {import("../vendor/three.js").BufferGeometry} geometry
   */
  edges(geometry) {
    const edges = this.drawn.get(geometry.uuid) || new EdgesGeometry(bare(geometry), SHARP);
    this.drawn.set(geometry.uuid, edges);
    return edges;
  }

  /** @param {Dressed} mesh */
  dress(mesh) {
    const { color, map, roughness, metalness, transmission, flatShading } = /** @type {MeshPhysicalMaterial} */ (mesh.material);
    mesh.material = transmission
      ? new MeshStandardMaterial({ ...CLEAR, color: color.clone().multiply(new Color("#b9cdd0")) })
      : new MeshStandardMaterial({ color, map: sharpened(map), roughness, metalness: Math.min(metalness, 0.3), flatShading });
    mesh.userData.plain = mesh.material.emissive.clone();
    const edges = this.edges(mesh.geometry);
    const drawn = mesh instanceof InstancedMesh ? edgesOfMany(mesh, edges, INK) : new LineSegments(edges, INK);
    if (!drawn) return;
    drawn.raycast = () => {};
    mesh.add(drawn);
  }

  /**
   * Hidden lines: white faces that hide what is behind, and edges.
   * @param {boolean} on
   */
  asLines(on) {
    this.lines = on;
    this.canvas.dataset.lines = String(on);
    this.meshes.forEach((mesh) => {
      mesh.userData.shaded ||= mesh.material;
      const { transparent, opacity } = mesh.userData.shaded;
      const white = { ...WHITE, transparent, opacity: transparent ? Math.min(opacity, 0.15) : 1 };
      mesh.material = on ? new MeshBasicMaterial(white) : mesh.userData.shaded;
    });
    this.paint();
  }

  /**
   * Parts moved apart from the middle by a share of their distance from it, and of the unit's depth.
   * @param {number} share
   */
  explode(share) {
    this.spread = share;
    const centre = this.rest.getCenter(new Vector3());
    const size = this.rest.getSize(new Vector3());
    this.meshes.forEach((mesh) => {
      mesh.geometry.computeBoundingBox();
      mesh.userData.at ||= mesh.position.clone();
      mesh.position.copy(mesh.userData.at);
      mesh.updateWorldMatrix(true, false);
      const own = /** @type {Box3} */ (mesh.geometry.boundingBox).clone().applyMatrix4(mesh.matrixWorld).getCenter(new Vector3());
      const away = own.sub(centre).multiply(new Vector3(0.5, 0.5, 0)).multiplyScalar(share);
      away.z = (own.z / Math.max(size.z, 0.05)) * share * Math.max(size.x, size.y) * 0.4;
      mesh.position.add(away.applyMatrix3(new Matrix3().setFromMatrix4(/** @type {Mesh} */ (mesh.parent).matrixWorld).invert()));
    });
    this.draw();
  }

  /**
   * Everything before an upright plane is cut away.
   * @param {number} share of the width
   */
  cut(share) {
    const { min, max } = this.rest;
    this.renderer.clippingPlanes = share ? [new Plane(new Vector3(-1, 0, 0), max.x - share * (max.x - min.x))] : [];
    this.draw();
  }

  /**
   * Everything above a level plane is cut away, and what is hollow then shows its inside.
   * @param {number} share of the height
   */
  section(share) {
    const { min, max } = this.rest;
    this.renderer.clippingPlanes = share ? [new Plane(new Vector3(0, -1, 0), max.y - share * (max.y - min.y))] : [];
    this.meshes.forEach((mesh) => {
      mesh.material.side = share || mesh.material.transparent ? DoubleSide : FrontSide;
      mesh.material.needsUpdate = true;
    });
    this.canvas.dataset.section = String(share);
    this.draw();
  }

  /**
   * What stands on one storey alone; all of it where none is named.
   * @param {string} key
   */
  storey(key) {
    this.shownStorey = key;
    this.model.traverse((node) => {
      if (node.userData.storey) node.visible = !key || node.userData.storey === key;
    });
    this.canvas.dataset.storey = key;
    this.draw();
  }

  /**
   * Look at a node square on, from the side that it is turned to (1) or from behind (-1).
   * @param {string} entry
   * @param {number} side
   */
  face(entry, side) {
    const own = this.meshes.find((mesh) => mesh.userData.thing?.entry === entry);
    if (!own) return;
    const out = new Vector3().setFromMatrixColumn(own.matrixWorld, 2).normalize().multiplyScalar(side);
    this.eye.face(new Box3().setFromObject(own), out);
  }

  /** What is shown takes so much. */
  get box() {
    return new Box3().setFromObject(this.model);
  }

  /** See all of it. */
  frame() {
    this.eye.frame(this.box);
  }

  /** @param {(part: Thing) => boolean} lit */
  highlight(lit) {
    this.lit = lit;
    this.paint();
  }

  paint() {
    this.marked.forEach(({ material, userData }) => material.color.set(this.lit(userData.thing) ? EMBER : userData.plain));
    this.meshes.forEach((mesh) => {
      if (mesh instanceof InstancedMesh) return paintMany(mesh, this.lit);
      const on = this.lit(mesh.userData.thing);
      if (!mesh.material.emissive) return void mesh.material.color.set(on ? "#e7b092" : "#fbfaf6");
      mesh.material.emissive.copy(on ? EMBER : mesh.userData.plain);
      mesh.material.emissiveIntensity = on ? 0.55 : 1;
    });
    this.draw();
  }

  /**
   * Listen for what the pointer is over and for what is picked: a part or a node, and where it is.
   * @param {"over" | "pick"} what
   * @param {Listener} listener
   */
  on(what, listener) {
    this.listeners[what].push(listener);
  }

  /**
   * The line of sight through the pointer.
   * @param {MouseEvent} event
   */
  ray(event) {
    const at = this.canvas.getBoundingClientRect();
    const point = new Vector2(((event.clientX - at.left) / at.width) * 2 - 1, 1 - ((event.clientY - at.top) / at.height) * 2);
    this.sight.setFromCamera(point, this.eye.seen);
    return this.sight.ray;
  }

  /**
   * What is nearest under the pointer.
   * @param {MouseEvent} event
   */
  under(event) {
    this.ray(event);
    return this.sight.intersectObjects([...this.meshes, ...this.marked], false)[0] || null;
  }

  watchPointer() {
    this.canvas.addEventListener("pointermove", (event) => {
      if (event.buttons === 0) this.tell("over", hitThing(this.under(event)));
    });
    this.canvas.addEventListener("pointerleave", () => this.tell("over", null));
    this.canvas.addEventListener("click", (event) => {
      const hit = this.under(event);
      this.tell("pick", hitThing(hit), hit ? told(hit, this.meshes) : "");
    });
  }

  /**
   * @param {"over" | "pick"} what
   * @param {Thing | null} thing
   * @param {string} [place]
   */
  tell(what, thing, place = "") {
    this.listeners[what].forEach((listener) => listener(thing, place));
  }

  /** Draw at the next occasion. */
  draw() {
    cancelAnimationFrame(this.asked);
    this.asked = requestAnimationFrame(() => this.renderer.render(this.scene, this.eye.seen));
  }

  /** Draw at once, and not again for what asked before. */
  drawNow() {
    cancelAnimationFrame(this.asked);
    this.renderer.render(this.scene, this.eye.seen);
  }
}

/** @param {import("../vendor/three.js").Texture | null} map */
function sharpened(map) {
  if (map) map.anisotropy = 8;
  return map;
}
