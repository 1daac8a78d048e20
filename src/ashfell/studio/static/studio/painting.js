// Painting where it is picked in 3D: one part, all parts of its role, or those of every unit of the project.

import { byId, csrfToken, on } from "./page.js";

/** @typedef {import("./entries.js").Entries} Entries */
/** @typedef {import("./things.js").Thing} Thing */

/**
 * @param {string} id
 * @returns {string} what a choice is at, "" where it is not there
 */
const chosen = (id) => /** @type {HTMLSelectElement | null} */ (document.getElementById(id))?.value || "";

/**
 * Where the finish of a part comes from: its own, that of its role on this side, or that of what it is part of.
 * @param {Thing} part
 */
function origin(part) {
  if (chosen(`list-painted.${part.part}`)) return "own";
  if (part.finish === chosen(`list-inner.${part.role}`)) return "inner";
  return part.finish === chosen(`finish-${part.role}`) ? "finishes" : "";
}

/** @type {Record<string, string>} */
const WORDS = { inner: "as its role, inside", finishes: "as its role", "": "as its filling" };

/**
 * @param {Entries} entries
 * @param {HTMLElement} bench
 * @returns {(part: Thing | null) => void} shows what a picked part is finished with
 */
export function painting(entries, bench) {
  const [select, what] = [...document.querySelectorAll("select")].filter((one) => one.closest("#painting"));
  /** @type {Thing | null} */
  let shown = null;
  let table = "";

  /** @param {string} value */
  async function paint(value) {
    if (!shown) return;
    if (what.value === "part") return entries.send({ entry: "painted", value: `${shown.part}; ${value}`, keep: "1" }, select);
    const entry = `${table === "inner" ? "inner" : "finishes"}.${shown.role}`;
    await entries.send({ entry, value, keep: "1" }, select);
    if (what.value !== "units") return;
    const body = new URLSearchParams({ entry, value });
    const answer = await fetch(bench.dataset.everywhereUrl || "", { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body });
    const did = byId("did");
    did[answer.ok ? "innerHTML" : "textContent"] = await answer.text();
    htmx.process(did);
  }

  on("change", "#paint", () => void paint(select.value));
  on("change", "#paint-what", () => {
    select.options[0].hidden = what.value !== "part";
  });
  return (part) => {
    shown = part;
    byId("painting").hidden = !part;
    select.dataset.part = part?.part || "";
    if (!part) return;
    table = origin(part);
    what.value = "part";
    for (const [index, words] of scopes(part, table).entries()) what.options[index + 1].text = words;
    select.options[0].hidden = false;
    select.options[0].text = table === "own" ? "as its role" : `${named(select, part.finish)}, ${WORDS[table]}`;
    select.value = table === "own" ? part.finish || "" : "";
  };
}

/**
 * @param {HTMLSelectElement} select
 * @param {string | undefined} key of a finish
 * @returns {string} its name
 */
const named = (select, key) => [...select.options].find((option) => option.value === key)?.text || key || "";

/**
 * @param {Thing} part
 * @param {string} table where its finish comes from
 * @returns {string[]} what else than the part can be painted, in words
 */
function scopes(part, table) {
  const label = document.querySelector(`label[for="finish-${part.role}"] > span`)?.textContent || part.role || "";
  const role = `all parts: ${label.toLowerCase()}${table === "inner" ? ", inside" : ""}`;
  return [role, `${role}, in every unit`];
}
