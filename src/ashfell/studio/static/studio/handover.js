// A file that was just asked for is fetched when it is there.

const waiting = new Set();

/** Look at the list: what is asked for is waited for, what is waited for and there is fetched. */
function look() {
  const list = document.getElementById("handed");
  if (!list) return;
  if (list.dataset.fresh) waiting.add(list.dataset.fresh);
  for (const key of [...waiting]) {
    const row = /** @type {HTMLElement | null} */ (list.querySelector(`[data-handover="${key}"]`));
    const state = row?.dataset.state;
    if (state === "waiting" || state === "writing") continue;
    waiting.delete(key);
    if (state === "done") /** @type {HTMLElement | null} */ (row?.querySelector("a[download]"))?.click();
  }
}
document.body.addEventListener("htmx:afterSettle", look);
