// Point at a part, a number or a sentence, and the same thing lights up everywhere.

const LEAVES = /\.(face|depth|edge|size|kind|setback|joint|through|rule|count|thickness|shows|cover|bar_cover|clearance|panes?|opening|hand|swing|stop|ring|sides|own|meeting|gap|slide|moves|colours|style|pitch|width|proud|faces)$/;

// What an element stands for, as a test on a part {part, entry, role}.
export function matcher({ part = "", entry = "", lights = "", light = "", role = "" }) {
  if (light) return inLight(light.replace(/^Light /, ""));
  if (lights) return inStretch(lights);
  if (part) return (other) => other.part === part;
  if (role) return (other) => other.role === role;
  let stem = entry;
  while (LEAVES.test(stem)) stem = stem.replace(LEAVES, "");
  stem = stem.replace(/\.bars$/, "");
  if (!stem || ["width", "height", "name", "outline", "finishes", "at", "trim"].includes(stem)) return () => false;
  if (stem === "bars") return (other) => other.role === "bar";
  return (other) => other.entry === stem || (other.entry || "").startsWith(`${stem}.`);
}

const escaped = (text) => text.replace(/[.]/g, "\\.");

// Everything in one light: glass.c2r1, bead.c2r1.sill, sash.c2r1.left …
function inLight(key) {
  const test = new RegExp(`^(glass|panel|louvre|sash|came|muntin)\\.${escaped(key)}(\\.|$)`);
  return (other) => test.test(other.part || "");
}

// The lights of a column or row: "c2", or "c1r1.r3" in a divided light.
function inStretch(lights) {
  const [, before, which] = /^(.*?)([cr]\d+)$/.exec(lights);
  const place = which[0] === "c" ? `${which}r\\d+` : `c\\d+${which}`;
  const test = new RegExp(`^(glass|panel|louvre|sash|came)\\.${escaped(before)}${place}(\\.|$)`);
  return (other) => test.test(other.part || "");
}

export function pointing(view, host) {
  let held = null;
  const lightUp = (source) => {
    const test = source ? matcher(source) : () => false;
    host().querySelectorAll("[data-part]").forEach((shape) => shape.classList.toggle("lit", test(shape.dataset)));
    host().querySelectorAll(".box, .build-up > li, .lock, .pick").forEach((element) => element.classList.toggle("lit", Boolean(source) && sameThing(source, element.dataset)));
    view.highlight(test);
  };
  const sourceOf = (element) => element?.closest?.("[data-part], [data-light], [data-lights]:not([data-lights='']), [data-role], [data-entry]")?.dataset;
  const over = (event) => host().contains(event.target) && lightUp(sourceOf(event.target) || held);
  document.addEventListener("mouseover", over);
  document.addEventListener("focusin", (event) => {
    if (host().contains(event.target)) lightUp((held = sourceOf(event.target)));
  });
  view.on("over", (part) => lightUp(part || held));
  view.on("pick", (part) => lightUp((held = part)));
  return () => lightUp(held);
}

// Whether a strip's box, a light or a sentence stands for what is pointed at.
function sameThing(source, element) {
  if (element.light) return source.light === element.light || inLight(element.light.replace(/^Light /, ""))(source);
  const key = (source.light || "").replace(/^Light /, "") || /^glass\.((?:[a-z]+\d*\.)*c\d+r\d+)/.exec(source.part || "")?.[1];
  if (element.lights) return key ? stretchesOf(key).includes(element.lights) : source.lights === element.lights;
  const entry = source.entry || "";
  return Boolean(entry && element.entry) && (entry === element.entry || entry.startsWith(`${element.entry}.`));
}

// The columns and rows a light is in, from the outermost cell to its own: c1, r1, c1r1.c2, c1r1.r1.
function stretchesOf(key) {
  return [...key.matchAll(/(c\d+)(r\d+)/g)].flatMap((place) => [place[1], place[2]].map((end) => key.slice(0, place.index) + end));
}
