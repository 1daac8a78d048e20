// Who else is here, and what they change: shown without loading the page again.

import { byId, csrfToken } from "./page.js";

const EVERY = 4000; // ms

/**
 * @param {import("./entries.js").Entries} entries
 * @param {HTMLElement} bench
 */
export function together(entries, bench) {
  const url = bench.dataset.hereUrl;
  if (!url) return;
  const what = bench.dataset.what || "";
  const place = byId("others");

  async function ask() {
    if (document.hidden) return;
    let told;
    try {
      const response = await fetch(String(url), {
        method: "POST",
        headers: { "X-CSRFToken": csrfToken() },
        body: new URLSearchParams({ what }),
      });
      if (!response.ok || response.redirected) return;
      told = await response.json();
    } catch {
      return; // the next one will say
    }
    show(told.others);
    const base = byId("workspace").dataset.base;
    // What somebody is typing is not taken from under their hands: a stale save offers both.
    if (calm() && base && String(told.current) !== base) await entries.renew(`Changed by ${told.by}.`);
  }

  /** @param {{ name: string, here: boolean }[]} others */
  function show(others) {
    place.textContent = others.map((one) => one.name).join(", ");
    place.title = others.map((one) => `${one.name} is ${one.here ? "here" : "elsewhere in the project"}`).join("; ");
    place.hidden = !others.length;
  }

  function calm() {
    const at = document.activeElement;
    const typing = at instanceof HTMLInputElement && at.matches("input.entry") && at.value !== at.getAttribute("value");
    return !typing && Number(bench.dataset.pending || 0) === 0;
  }

  void ask();
  setInterval(ask, EVERY);
}
