// Walls drawn on the plan: from point to point, by clicking or typing.

import { byId, drawing, drawn, on, within } from "./page.js";
import { onSheet } from "./sheets.js";
import { isClosed, lastEnd, point, run, shown, snapped } from "./snapping.js";

/** @typedef {import("./sheets.js").Place} Place */

/** The walls that are being drawn. */
class Draft {
  on = false;
  /** @type {Place | null} */
  from = null;
  /** @type {Place | null} */
  to = null;

  /** @param {import("./entries.js").Entries} entries */
  constructor(entries) {
    this.entries = entries;
  }

  show() {
    byId("draw")?.setAttribute("aria-pressed", String(this.on));
    if (!plan()) return;
    drawing().classList.toggle("drawing", this.on);
    byId("draft").hidden = !this.on;
    byId("plan-hint").hidden = this.on;
    this.line();
  }

  /** The line from the last point to where the pointer is, with its length and angle. */
  line() {
    const layer = byId("drafting");
    layer.replaceChildren();
    if (!this.on || !this.to) return;
    const [x, y] = onSheet(drawing(), this.to);
    layer.append(drawn("circle", { cx: x, cy: y, r: 3.5 }));
    if (!this.from) return;
    const [fx, fy] = onSheet(drawing(), this.from);
    layer.append(drawn("line", { x1: fx, y1: fy, x2: x, y2: y }));
    const { length, angle } = run(this.from, this.to);
    const fields = { "draft-length": shown(length), "draft-angle": String(Math.round(angle * 100) / 100) };
    Object.entries(fields).forEach(([id, text]) => {
      if (document.activeElement !== byId(id)) byId(id).value = text;
    });
  }

  /** @param {boolean} turned */
  turn(turned) {
    Object.assign(this, { on: turned, from: null, to: null });
    this.show();
  }

  /** Ends the chain; where none is begun, drawing itself. */
  end() {
    /** @type {HTMLElement} */ (document.activeElement)?.blur();
    if (this.from) this.from = null;
    else this.on = false;
    this.show();
  }

  /** @param {MouseEvent} event */
  point(event) {
    this.to = snapped(event, this.from);
    this.line();
  }

  /** @param {MouseEvent} event */
  press(event) {
    const here = snapped(event, this.from);
    if (this.from) void this.add({ to: point(here) });
    else this.from = this.to = here;
    this.line();
  }

  /** @param {Record<string, string>} values of a wall that is added */
  async add(values) {
    const from = point(this.from || [0, 0]);
    const kept = await this.entries.post(this.entries.bench.dataset.editUrl || "", { do: "add-wall", from, ...values, keep: "1" });
    if (kept) {
      const end = lastEnd();
      this.from = this.to = isClosed(end) ? null : end;
    }
    this.show();
  }

  /** @param {string} figure the first one of a length */
  typed(figure) {
    if (!this.on || !this.from || !/^\d$/.test(figure)) return;
    byId("draft-length").value = "";
    byId("draft-length").focus();
  }
}

/** @param {import("./entries.js").Entries} entries */
export function drafting(entries) {
  const draft = new Draft(entries);
  on("click", "#draw", () => draft.turn(!draft.on));
  document.addEventListener("keydown", (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || !plan()) return;
    if (event.key === "Escape" && draft.on) draft.end();
    if (within(event.target, "input, select, textarea")) return;
    if (event.key.toLowerCase() === "w") draft.turn(!draft.on);
    else draft.typed(event.key);
  });
  on("keydown", "#draft-length, #draft-angle", (input, event) => {
    if (event.key !== "Enter") return;
    event.preventDefault();
    void draft.add({ length: byId("draft-length").value, angle: byId("draft-angle").value });
  });
  document.addEventListener("pointermove", (event) => {
    if (draft.on && within(event.target, "#plan")) draft.point(event);
  });
  // While walls are drawn a press does nothing else.
  document.addEventListener("click", (event) => {
    if (!draft.on || !within(event.target, "#plan")) return;
    event.preventDefault();
    event.stopPropagation();
    draft.press(event);
  }, { capture: true });
  entries.onShown(() => draft.show());
}

const plan = () => document.getElementById("plan");
