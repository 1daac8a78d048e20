// The unit page: the drawing, the strips, the list and the 3D view show one unit.

import { Entries, csrfToken } from "./entries.js";
import { pointing } from "./pointing.js";
import { View } from "./view.js";

const bench = document.querySelector(".bench");
const view = new View(document.querySelector("#view canvas"));
const entries = new Entries(bench, "workspace");

let waiting = null;
let busy = false;

// Only the latest state is fetched; those overtaken meanwhile are left out.
async function refresh(values) {
  waiting = values;
  if (busy) return;
  busy = true;
  while (waiting) {
    const { entry = "", value = "", keep = "1" } = waiting;
    waiting = null;
    const preview = keep === "0" && entry;
    const response = await fetch(bench.dataset.viewUrl, preview
      ? { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body: new URLSearchParams({ entry, value }) }
      : {});
    if (response.ok) await view.show(await response.arrayBuffer());
  }
  busy = false;
}

entries.onShown(refresh);
pointing(view, () => document.getElementById("workspace"));

view.on("pick", (part) => {
  document.getElementById("picked").textContent = part ? part.part : "";
  const sentence = part && document.querySelector(`.build-up > li[data-entry="${part.entry.replace(/\.bars\.\d+$/, "")}"]`);
  sentence?.scrollIntoView({ block: "nearest" });
});

document.addEventListener("click", (event) => {
  const shape = event.target.closest("#elevation [data-part]");
  if (!shape) return;
  const entry = shape.dataset.entry.replace(/\.bars\.\d+$/, ".count");
  const input = document.querySelector(`.build-up input[data-entry="${shape.dataset.entry}"], .build-up input[data-entry^="${entry}"]`);
  input?.focus();
});

refresh({});
