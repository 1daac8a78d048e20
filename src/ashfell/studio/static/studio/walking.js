// The building looked at: walked through at the height of the eye, a storey at a time, cut open, a wall from either side.

import { byId, on } from "./page.js";

const EYE = 1.6; // m above the floor (common practice, no source)
const PACE = 0.5; // m
const TURN = Math.PI / 18;

/** @type {Record<string, [number, number, number]>} how far ahead, to the right, and how far turned to the left */
const STEPS = {
  ArrowUp: [PACE, 0, 0],
  ArrowDown: [-PACE, 0, 0],
  ArrowLeft: [0, 0, TURN],
  ArrowRight: [0, 0, -TURN],
};

/**
 * @param {import("./view.js").View} view
 * @param {() => Promise<void>} refresh what fetches the building again
 */
export function walking(view, refresh) {
  const storey = () => /** @type {HTMLSelectElement | null} */ (document.querySelector("#view-storey"));
  const level = () => Number(storey()?.selectedOptions[0]?.dataset.level || 0) / 1000;
  on("click", "#view-walk", (button) => {
    const walks = button.getAttribute("aria-pressed") !== "true";
    button.setAttribute("aria-pressed", String(walks));
    view.canvas.dataset.walks = String(walks);
    if (!walks) view.frame();
    else view.eye.stand(view.box, level() + EYE);
    view.canvas.focus();
  });
  view.canvas.addEventListener("keydown", (event) => {
    const step = STEPS[event.key];
    if (view.canvas.dataset.walks !== "true" || !step) return;
    event.preventDefault();
    const [ahead, right, left] = event.shiftKey && step[2] ? [0, step[2] > 0 ? -PACE : PACE, 0] : step;
    view.eye.walk(ahead, right, left);
  });
  on("change", "#view-storey", (choice) => view.storey(choice.value));
  on("input", "#view-section", (slider) => view.section(Number(slider.value) / 100));
  on("change", "#view-opened", () => void refresh());
  on("click", "[data-face]", (button) => {
    byId("view-walk").setAttribute("aria-pressed", "false");
    view.canvas.dataset.walks = "false";
    view.face(byId("workspace").dataset.wall || "", button.dataset.face === "inside" ? -1 : 1);
  });
}
