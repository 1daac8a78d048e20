// A unit put into the wall where somebody clicks on its elevation.

import { byId, drawing, on, within } from "./page.js";
import { inUnit, pointOn } from "./sheets.js";

/** @param {import("./entries.js").Entries} entries */
export function putting(entries) {
  const state = { on: false };
  const show = () => {
    if (!byId("put")) state.on = false;
    byId("put")?.setAttribute("aria-pressed", String(state.on));
    drawing()?.classList.toggle("drawing", state.on && Boolean(byId("elevation")));
  };
  /** @param {boolean} turned */
  const turn = (turned) => {
    state.on = turned;
    show();
  };

  on("click", "#put", () => turn(!state.on));
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || within(event.target, "input, select, textarea") || !byId("put")) return;
    if (event.key.toLowerCase() === "p") turn(!state.on);
    if (event.key === "Escape" && state.on) turn(false);
  });
  document.addEventListener("click", (event) => {
    if (!state.on || !within(event.target, "#elevation")) return;
    event.preventDefault();
    event.stopPropagation();
    const [along, up] = inUnit(drawing(), pointOn(drawing(), event)).map((mm) => `${Math.round(mm)} mm`);
    const wall = byId("workspace").dataset.host || "";
    const put = { do: "add-placement", wall, unit: byId("put-unit").value, place: `${along}; ${up}`, keep: "1" };
    void entries.send(put, byId("put"));
  }, { capture: true });
  entries.onShown(show);
}
