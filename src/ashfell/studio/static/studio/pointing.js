// Point at a part, a number or a sentence, and the same thing lights up everywhere.

// What an element stands for, as a test on a part {part, entry}.
export function matcher({ part = "", entry = "", lights = "", role = "" }) {
  if (lights) return (other) => new RegExp(`^glass\\.(${lights}r\\d+|c\\d+${lights})$`).test(other.part || "");
  if (part) return (other) => other.part === part;
  if (role) return (other) => other.role === role;
  const stem = entry.replace(/\.(face|depth|chamfer|setback|through|rule|count|thickness|shows|cover|bar_cover|clearance)$/, "").replace(/\.bars$/, "");
  if (!stem || ["width", "height", "name", "outline", "finishes"].includes(stem)) return () => false;
  if (stem === "bars") return (other) => other.role === "bar";
  return (other) => other.entry === stem || (other.entry || "").startsWith(`${stem}.`);
}

export function pointing(view, host) {
  let held = null;
  const lightUp = (source) => {
    const test = source ? matcher(source) : () => false;
    host().querySelectorAll("[data-part]").forEach((shape) => shape.classList.toggle("lit", test(shape.dataset)));
    host().querySelectorAll(".box, .build-up > li, .lock").forEach((element) => element.classList.toggle("lit", Boolean(source) && sameThing(source, element.dataset)));
    view.highlight(test);
  };
  const sourceOf = (element) => element?.closest?.("[data-part], [data-lights]:not([data-lights='']), [data-role], [data-entry]")?.dataset;
  const over = (event) => host().contains(event.target) && lightUp(sourceOf(event.target) || held);
  document.addEventListener("mouseover", over);
  document.addEventListener("focusin", (event) => {
    if (host().contains(event.target)) lightUp((held = sourceOf(event.target)));
  });
  view.on("over", (part) => lightUp(part || held));
  view.on("pick", (part) => lightUp((held = part)));
}

// Whether a strip's box or a sentence stands for what is pointed at.
function sameThing(source, element) {
  const pane = /^glass\.(c\d+)(r\d+)$/.exec(source.part || "");
  if (element.lights) return pane ? [pane[1], pane[2]].includes(element.lights) : source.lights === element.lights;
  const entry = source.entry || "";
  return Boolean(entry && element.entry) && (entry === element.entry || entry.startsWith(`${element.entry}.`));
}
