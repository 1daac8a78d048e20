// The 3D view follows what is typed: only the latest state is fetched, those overtaken meanwhile are left out.

import { byId, csrfToken } from "./page.js";

const WAITED = 202; // the status of what is not there yet

/**
 * @param {import("./view.js").View} view
 * @param {HTMLElement} bench the element that says where the view is to be had
 * @param {import("./entries.js").Entries} entries
 * @param {() => Record<string, string>} [more] what the view itself asks for, e.g. how far sashes are opened
 */
export function following(view, bench, entries, more = () => ({})) {
  /** @type {{ waiting: Record<string, string> | null, busy: boolean }} */
  const state = { waiting: null, busy: false };

  /** @param {Record<string, string>} values */
  async function refresh(values) {
    if (values.look) return;
    state.waiting = values;
    if (state.busy) return;
    state.busy = true;
    while (state.waiting) {
      const sent = state.waiting;
      state.waiting = null;
      await fetchView(view, bench, sent.keep === "0" && sent.entry ? sent : {}, more());
    }
    state.busy = false;
  }

  entries.onShown(refresh);
  void refresh({});
  return refresh;
}

/**
 * What is asked for until it is there: a large unit is made by the worker, and said to be so meanwhile.
 * @param {() => Promise<Response>} ask
 */
async function made(ask) {
  let response = await ask();
  while (response.status === WAITED && response.headers.has("Retry-After")) {
    waits(true);
    await new Promise((resolve) => setTimeout(resolve, 1000));
    response = await ask();
  }
  waits(false);
  return response;
}

/** @param {boolean} told whether it is said that the worker is at it */
function waits(told) {
  const said = document.getElementById("view-waits");
  if (said) said.hidden = !told;
}

/**
 * @param {import("./view.js").View} view
 * @param {HTMLElement} bench
 * @param {Record<string, string>} typed
 * @param {Record<string, string>} more
 */
async function fetchView(view, bench, typed, more) {
  const body = new URLSearchParams({ ...typed, ...more });
  const asked = [...body.keys()].length ? { method: "POST", headers: { "X-CSRFToken": csrfToken() }, body } : {};
  try {
    const response = await made(() => fetch(bench.dataset.viewUrl || "", asked));
    if (response.status === WAITED) return;
    if (response.ok && !response.redirected) await view.show(await response.arrayBuffer());
    else if (response.status === 422 && !typed.entry) byId("message").innerHTML = await response.text();
  } catch (error) {
    if (!(error instanceof TypeError)) throw error; // the server cannot be reached: entries.js says so
  }
}
