// What is looked at: which cell the strips show, which side is drawn, where it is cut; zoom, pan, measuring.

import { csrfToken } from "./entries.js";
import { onArrows, onDrag } from "./gestures.js";
import { inUnit, onSheet, pointOn } from "./sheets.js";

const SVG = "http://www.w3.org/2000/svg";

export function looking(entries, bench) {
  const workspace = () => document.getElementById("workspace");
  const sheet = () => document.getElementById("elevation");
  const look = (values, field = workspace()) => {
    Object.assign(workspace().dataset, values);
    return entries.send({ entry: "", value: "", keep: "0", look: "1" }, field);
  };

  // Before anything is sent: what a button sets, if anything, is shown with the points it asks for.
  document.addEventListener("click", (event) => {
    const press = event.target.closest("[data-points]:not(#workspace)");
    if (!press) return;
    workspace().dataset.points = press.dataset.points;
    if (!press.dataset.set) look({});
  }, { capture: true });
  document.addEventListener("click", (event) => {
    const press = event.target.closest("[data-look]");
    if (press) return look({ [press.dataset.look]: press.dataset.value });
    if (measuring) return;
    const pick = event.target.closest("[data-at]:not(#workspace)");
    if (pick) look({ at: pick.dataset.at });
  });
  let asked = null; // where the section is to be taken, while an earlier place is on its way
  document.addEventListener("change", (event) => {
    const typed = event.target.closest("[data-look-typed]");
    if (!typed) return;
    asked = null;
    look({ [typed.dataset.lookTyped]: `@${typed.value}` }, typed);
  });

  // The line of a section, on the key elevation: dragged, or moved with the arrow keys.
  async function cutAt(share) {
    const waiting = asked !== null;
    asked = String(Math.min(0.99, Math.max(0.01, share)));
    if (waiting) return;
    while (asked !== null) {
      const now = asked;
      await look({ cut: now });
      if (asked === now) asked = null;
    }
  }
  onDrag("#cut-line", {
    start: (line, event) => {
      line.focus();
      sheet().setPointerCapture(event.pointerId);
      return line;
    },
    move: (line, event) => {
      const [x, y] = pointOn(sheet(), event);
      const { keyAxis, keyLeft, keyTop, keyWidth, keyHeight } = document.querySelector(".key").dataset;
      cutAt(keyAxis === "rows" ? 1 - (y - keyTop) / keyHeight : (x - keyLeft) / keyWidth);
    },
    end: () => {},
  });
  onArrows("#cut-line", (line, [right, up]) => cutAt(Number(workspace().dataset.cut) + (right + up) * 0.01));
  document.addEventListener("keydown", (event) => {
    if (event.target.matches("input, select, textarea")) return;
    const pick = event.target.closest?.("path.pick");
    if (pick && (event.key === "Enter" || event.key === " ")) {
      event.preventDefault();
      return look({ at: pick.dataset.at });
    }
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (!sheet()) return;
    if (event.key === "m") return measure(!measuring);
    if (event.key === "Escape" && measuring) return measure(false);
    if (event.key === "+" || event.key === "=") return zoom(1 / 1.25);
    if (event.key === "-") return zoom(1.25);
    if (event.key === "0") return fit();
  });

  // Zoom and pan: the sheet's view box.
  let box = null; // while null the whole sheet is shown
  const full = () => sheet().dataset.full.split(" ").map(Number);
  const show = () => sheet()?.setAttribute("viewBox", (box || full()).join(" "));
  function zoom(by, at = null) {
    const [x, y, width, height] = box || full();
    const centre = at || [x + width / 2, y + height / 2];
    const share = Math.min(full()[2] * 1.5, Math.max(full()[2] / 40, width * by)) / width;
    box = [centre[0] + (x - centre[0]) * share, centre[1] + (y - centre[1]) * share, width * share, height * share];
    show();
  }
  const fit = () => ((box = null), show());
  document.addEventListener("wheel", (event) => {
    if (!event.target.closest?.("#elevation")) return;
    event.preventDefault();
    zoom(event.deltaY > 0 ? 1.12 : 1 / 1.12, pointOn(sheet(), event));
  }, { passive: false });
  onDrag("#elevation", {
    buttons: [0, 1],
    start: (drawn, event) => (event.button === 1 || event.target === drawn ? { at: pointOn(sheet(), event) } : null),
    move: (held, event) => {
      const now = pointOn(sheet(), event);
      const [x, y, width, height] = box || full();
      box = [x + held.at[0] - now[0], y + held.at[1] - now[1], width, height];
      show();
    },
    end: () => {},
  });
  document.addEventListener("click", (event) => {
    const { id } = event.target;
    if (id === "zoom-in") zoom(1 / 1.25);
    if (id === "zoom-out") zoom(1.25);
    if (id === "zoom-fit") fit();
    if (id === "measure") measure(!measuring);
  });

  // Measuring: two points, snapped by the server to the nearest edge, centre or corner, answered exactly.
  let measuring = false;
  let points = [];
  function measure(on) {
    measuring = on;
    points = [];
    document.getElementById("measure").setAttribute("aria-pressed", String(on));
    sheet().classList.toggle("measuring", on);
    if (!on) document.getElementById("measured").replaceChildren();
  }
  document.addEventListener("click", async (event) => {
    if (!measuring || !event.target.closest?.("#elevation") || event.target.closest("foreignObject")) return;
    event.preventDefault();
    points = points.length === 2 ? [] : points;
    points.push(inUnit(sheet(), pointOn(sheet(), event)));
    const reach = 9 / (Number(sheet().dataset.scale) * sheet().getScreenCTM().a);
    const body = new URLSearchParams({ points: JSON.stringify(points), reach: String(reach), at: workspace().dataset.at });
    const response = await fetch(bench.dataset.measureUrl, { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body });
    if (response.ok) draw(await response.json());
  });
  function draw({ snapped, text }) {
    const placed = snapped.map((place) => onSheet(sheet(), place));
    points = snapped.slice();
    const group = document.getElementById("measured");
    group.replaceChildren();
    const add = (name, attributes, words = "") => {
      const element = document.createElementNS(SVG, name);
      Object.entries(attributes).forEach(([key, value]) => element.setAttribute(key, value));
      element.textContent = words;
      group.append(element);
    };
    placed.forEach(([x, y]) => add("circle", { cx: x, cy: y, r: 3.5 }));
    if (placed.length < 2) return;
    const [[a, b], [c, d]] = placed;
    add("line", { x1: a, y1: b, x2: c, y2: d });
    add("text", { x: (a + c) / 2 + 8, y: (b + d) / 2 - 8 }, text);
  }

  entries.onShown(() => {
    if (!sheet()) return;
    show();
    if (measuring) {
      document.getElementById("measure").setAttribute("aria-pressed", "true");
      sheet().classList.add("measuring");
    }
  });
  return { look };
}
