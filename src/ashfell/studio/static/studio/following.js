// The 3D view follows what is typed: only the latest state is fetched, those overtaken meanwhile are left out.

import { csrfToken } from "./entries.js";

// more: what the view itself asks for, e.g. how far sashes are opened.
export function following(view, bench, entries, more = () => ({})) {
  let waiting = null;
  let busy = false;

  async function refresh(values) {
    if (values.look) return;
    waiting = values;
    if (busy) return;
    busy = true;
    while (waiting) {
      const sent = waiting;
      waiting = null;
      const typed = sent.keep === "0" && sent.entry;
      const body = new URLSearchParams({ ...(typed ? sent : {}), ...more() });
      const asked = [...body.keys()].length ? { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body } : {};
      try {
        const response = await fetch(bench.dataset.viewUrl, asked);
        if (response.ok && !response.redirected) await view.show(await response.arrayBuffer());
        else if (response.status === 422 && !typed) document.getElementById("message").innerHTML = await response.text();
      } catch (error) {
        if (!(error instanceof TypeError)) throw error; // the server cannot be reached: entries.js says so
      }
    }
    busy = false;
  }

  entries.onShown(refresh);
  refresh({});
  return refresh;
}
