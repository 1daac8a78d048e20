// Numbers typed where they are seen: what is typed is shown at once, and kept on Enter or on leaving.

import { byId, csrfToken, on } from "./page.js";

/**
 * What is sent of a change: its address and value or what is to be done, and whether it is kept ("1") or only shown ("0").
 * @typedef {Record<string, string> & { keep: string }} Values
 */

/** @param {string} text */
const REFUSED = (text) => `<p class="refusal" role="alert">${text}</p>`;
const LOOK_AFTER = 90; // ms of quiet before what is typed is shown

export class Entries {
  /** @type {((values: Values) => unknown)[]} */
  listeners = [];
  /** @type {Promise<unknown>} */
  keeping = Promise.resolve();
  sent = 0;
  timer = 0;

  /**
   * @param {HTMLElement} bench the element that says where changes go
   * @param {string} target id of what the server draws anew
   */
  constructor(bench, target) {
    this.bench = bench;
    this.target = target;
    on("input", "input.entry", (input) => this.typed(input));
    on("change", "input.entry, select.entry", (input) => this.left(input));
    document.addEventListener("keydown", (event) => this.undo(event));
    on("keydown", "input.entry", (input, event) => this.key(input, event));
    on("click", "[data-move], [data-set], [data-do]", (button) => this.pressed(button));
    on("focusin", "input.entry", (input) => entered(input));
    on("focusout", "input.entry", (input) => {
      if (!isDirty(input)) input.value = input.getAttribute("value") || "";
      shownTyped.delete(input);
    });
    bench.inert = false; // until now a click would have been lost
  }

  /** @param {(values: Values) => unknown} listener */
  onShown(listener) {
    this.listeners.push(listener);
  }

  /**
   * What goes with every change: the revision it starts from, and what the page looks at, so that the same is shown again.
   * @returns {Record<string, string>}
   */
  get state() {
    const { base = "", at, side = "", cut = "", points = "", first = "", frame = "", unrolled = "", host = "" } = byId(this.target).dataset;
    return at === undefined ? { base } : { base, at, side, cut, points, first, frame, unrolled, host };
  }

  /** @param {HTMLInputElement} input */
  typed(input) {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.send({ entry: input.dataset.entry || "", value: input.value, keep: "0" }, input), LOOK_AFTER);
  }

  /** @param {HTMLInputElement} input */
  left(input) {
    clearTimeout(this.timer);
    // What was not typed over is not sent: a number as shown must not replace what was typed, nor a rounded one the exact.
    if (input.matches("input") && !isDirty(input)) return;
    shownTyped.delete(input);
    void this.send({ entry: input.dataset.entry || "", value: input.value, keep: "1" }, input);
  }

  /** @param {KeyboardEvent} event */
  undo(event) {
    if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== "z" || isDirty(event.target)) return;
    event.preventDefault();
    void this.move(event.shiftKey ? "redo" : "undo");
  }

  /**
   * @param {HTMLInputElement} input
   * @param {KeyboardEvent} event
   */
  key(input, event) {
    if (event.key === "Enter") {
      event.preventDefault();
      this.left(input);
    } else if (event.key === "Escape") {
      input.value = input.getAttribute("value") || "";
      clearTimeout(this.timer);
      void this.send({ entry: "", value: "", keep: "0" }, input);
    } else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      const shown = isDirty(input) ? input.value : input.getAttribute("value") || "";
      if (!/^-?\d+(\.\d+)?$/.test(shown)) return;
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      input.value = String(Math.round((parseFloat(shown) + step) * 1e6) / 1e6);
      input.dispatchEvent(new Event("input", { bubbles: true }));
    }
  }

  /** @param {HTMLElement} button */
  pressed(button) {
    const { move, revision = "", seen = "", set, value = "", take, takeAll, do: done = "", with: more = "{}" } = button.dataset;
    if (set) return this.send({ entry: set, value, keep: "1" }, button);
    const fields = takeAll ? [.../** @type {NodeListOf<HTMLInputElement>} */ (document.querySelectorAll(`${takeAll} input`))] : [];
    const taken = fields.filter((field) => field.type !== "checkbox" || field.checked);
    const typed = Object.fromEntries(taken.map((field) => [field.name, field.value]));
    if (move) return this.move(move, { ...typed, revision, ...(seen ? { seen } : {}) });
    return this.send({ do: done, ...JSON.parse(more), ...typed, ...(take ? { unit: byId(take).value } : {}), keep: "1" }, button);
  }

  /**
   * @param {string} way undo, redo or choose
   * @param {Record<string, string>} [values]
   */
  move(way, values = {}) {
    return this.post((this.bench.dataset.moveUrl || "").replace("WAY", way), { ...values, keep: "1" });
  }

  /**
   * @param {Values} values
   * @param {Element} input
   */
  async send(values, input) {
    const shown = await this.post(this.bench.dataset.editUrl || "", values, input);
    if (shown === null || !input.isConnected) return;
    input.setAttribute("aria-invalid", shown ? "false" : "true");
    const place = /** @type {HTMLElement | null} */ (shown ? null : document.querySelector("#message [data-position]"));
    if (place && values.keep === "1" && input instanceof HTMLInputElement) {
      input.focus();
      input.setSelectionRange(Number(place.dataset.position), input.value.length);
    }
  }

  /**
   * What is kept goes one after the other, each from the revision the one before it made.
   * @param {string} url
   * @param {Values} values
   * @param {Element | null} [input]
   * @param {FormData | null} [form] a file to send with them
   * @returns {Promise<any>}
   */
  post(url, values, input = null, form = null) {
    if (values.keep !== "1") return this.sendNow(url, values, input);
    this.pending(1);
    this.keeping = this.keeping.then(() => this.sendNow(url, values, input, form)).finally(() => this.pending(-1));
    return this.keeping;
  }

  /**
   * How many changes are on their way to be kept.
   * @param {number} more
   */
  pending(more) {
    this.bench.dataset.pending = String(Number(this.bench.dataset.pending || 0) + more);
  }

  /**
   * Answers true when the change was shown, false when it was refused, null when a later one has overtaken it.
   * @param {string} url
   * @param {Values} values
   * @param {Element | null} input
   * @param {FormData | null} [form]
   */
  async sendNow(url, values, input, form = null) {
    const turn = ++this.sent;
    const message = byId("message");
    let response, text;
    try {
      response = await fetch(url, {
        method: "POST",
        headers: { "X-CSRFToken": csrfToken(), "HX-Request": "true" },
        body: bodyOf({ ...this.state, ...values }, form),
      });
      text = await response.text();
    } catch {
      message.innerHTML = REFUSED("The server cannot be reached. What you typed is not kept yet; press Enter to try again.");
      return false;
    }
    const told = response.headers.has("HX-Retarget");
    if (response.redirected || (response.status === 403 && !told)) return location.reload(); // signed out meanwhile
    if (turn !== this.sent && values.keep !== "1") return null;
    if (!response.ok) {
      message.innerHTML = response.status < 500 || told ? text : REFUSED("The server could not do this. Nothing saved is lost.");
      return false;
    }
    this.shown(text, values, input);
    return true;
  }

  /**
   * Show what is in force, which somebody else has changed.
   * @param {string} words
   */
  async renew(words) {
    const done = await this.post(this.bench.dataset.editUrl || "", /** @type {Values} */ ({ entry: "", value: "", look: "1", keep: "0" }));
    if (done) byId("message").innerHTML = `<p class="told" role="status">${words}</p>`;
  }

  /**
   * What the server answered takes the place of what it draws anew.
   * @param {string} text
   * @param {Values} values
   * @param {Element | null} input
   */
  shown(text, values, input) {
    // What somebody is still typing stays; what was just kept is shown as it was understood.
    const typing = (values.keep !== "1" && !values.look) || document.activeElement !== input;
    Idiomorph.morph(byId(this.target), text, { morphStyle: "outerHTML", ignoreActiveValue: typing });
    byId("message").innerHTML = "";
    htmx.process(byId(this.target));
    if (values.keep === "1") document.body.dispatchEvent(new CustomEvent("kept"));
    this.listeners.forEach((listener) => listener(values));
  }
}

/**
 * Whether something was typed over what is shown, or over what was typed before.
 * @param {EventTarget | null} input
 */
function isDirty(input) {
  if (!(input instanceof HTMLInputElement) || !input.matches("input.entry")) return false;
  return input.value !== input.getAttribute("value") && input.value !== shownTyped.get(input);
}

/**
 * What was typed before, as long as it is shown in a field that was entered and not typed over.
 * @type {WeakMap<HTMLInputElement, string>}
 */
const shownTyped = new WeakMap();

/**
 * A field that is entered shows what was typed there, all of it chosen.
 * @param {HTMLInputElement} input
 */
function entered(input) {
  if (input.dataset.typed && !isDirty(input)) {
    input.value = input.dataset.typed;
    shownTyped.set(input, input.value);
  }
  input.select();
}

/**
 * @param {Record<string, string>} values
 * @param {FormData | null} form
 */
function bodyOf(values, form) {
  if (!form) return new URLSearchParams(values);
  Object.entries(values).forEach(([key, value]) => form.append(key, value));
  return form;
}
