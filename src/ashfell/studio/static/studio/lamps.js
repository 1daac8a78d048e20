// Lamps in 3D: where they hang, and the one that is worked on drawn along on its level, or up and down.

import { Mesh, MeshBasicMaterial, Plane, SphereGeometry, Vector3 } from "../vendor/three.js";
import { onHaul } from "./hauling.js";
import { byId } from "./page.js";

const LEAST = 0.24; // m across, so that a small bulb can be seen and taken hold of
const GLOW = "#e9a23b";
const SHALLOW = 0.25; // of a line of sight, by its sine
const UP = new Vector3(0, 1, 0);

/**
 * What the page says hangs where.
 * @returns {import("./view.js").Mark[]}
 */
function told() {
  return /** @type {HTMLElement[]} */ ([...document.querySelectorAll("#hung [data-entry]")]).map(({ dataset }) => {
    const radius = Math.max(Number(dataset.across), LEAST) / 2;
    const ball = new Mesh(new SphereGeometry(radius, 16, 12), new MeshBasicMaterial({ color: GLOW }));
    ball.position.fromArray((dataset.middle || "").split(" ").map(Number));
    const parts = [{ part: dataset.name, first: 0, count: Infinity }];
    ball.userData = { thing: { entry: dataset.entry }, plain: GLOW, parts };
    return ball;
  });
}

/**
 * @param {import("./view.js").View} view
 * @param {import("./entries.js").Entries} entries
 */
export function lamps(view, entries) {
  const show = () => view.mark(told());
  entries.onShown(show);
  show();
  onHaul(view, entries, (event) => {
    const hit = view.under(event);
    const entry = view.marked.find((one) => one === hit?.object)?.userData.thing.entry;
    if (!hit || !entry || entry !== byId("workspace").dataset.at) return null;
    // Looked at on the level, its level is a line: it goes along a plane that faces whoever looks.
    const sight = view.ray(event).direction.clone();
    const upright = event.shiftKey;
    const out = upright || Math.abs(sight.y) < SHALLOW ? sight.setY(0).normalize() : UP;
    const on = new Plane().setFromNormalAndCoplanarPoint(out, hit.point);
    return { entry, on, from: hit.point.clone(), ways: ({ x, y, z }) => (upright ? [0, 0, y] : [x, -z, 0]) };
  });
}
