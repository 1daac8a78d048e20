// A lamp hung in 3D where somebody clicks: a little off what is pointed at.

import { Vector3 } from "../vendor/three.js";
import { byId, on } from "./page.js";

const OFF = 0.2; // m

/**
 * @param {import("./view.js").View} view
 * @param {import("./entries.js").Entries} entries
 */
export function hanging(view, entries) {
  const hangs = () => byId("hang").getAttribute("aria-pressed") === "true";
  /** @param {boolean} pressed */
  function turn(pressed) {
    byId("hang").setAttribute("aria-pressed", String(pressed));
    view.canvas.classList.toggle("hanging", pressed);
  }

  on("click", "#hang", () => turn(!hangs()));
  document.addEventListener("keydown", (event) => event.key === "Escape" && turn(false));
  view.canvas.addEventListener("click", (event) => {
    const hit = hangs() ? view.under(event) : null;
    if (!hit) return;
    event.stopImmediatePropagation();
    const out = hit.face ? hit.face.normal.clone().transformDirection(hit.object.matrixWorld) : new Vector3(0, -1, 0);
    if (out.dot(view.ray(event).direction) > 0) out.negate();
    const { x, y, z } = hit.point.clone().addScaledVector(out, OFF);
    const place = [x, -z, y].map((metres) => `${Math.round(metres * 1000)} mm`).join("; ");
    void entries.send({ do: "add-lamp", place, keep: "1" }, byId("hang"));
    turn(false);
  }, { capture: true });
}
