// Numbers typed where they are seen: what is typed is shown at once, and kept on Enter or on leaving.

const REFUSED = (text) => `<p class="refusal" role="alert">${text}</p>`;
const LOOK_AFTER = 90; // ms of quiet before what is typed is shown

export class Entries {
  // bench: the element with data-edit-url; target: the id of what the server draws anew.
  constructor(bench, target) {
    this.bench = bench;
    this.target = target;
    this.sent = 0;
    this.listeners = [];
    document.addEventListener("input", (event) => this.typed(event));
    document.addEventListener("change", (event) => this.left(event));
    document.addEventListener("keydown", (event) => this.key(event));
    document.addEventListener("click", (event) => this.pressed(event));
    document.addEventListener("focusin", (event) => event.target.matches?.("input.entry") && event.target.select());
    bench.inert = false; // until now a click would have been lost
  }

  onShown(listener) {
    this.listeners.push(listener);
  }

  get base() {
    return document.getElementById(this.target).dataset.base;
  }

  // What the page looks at goes with every change, so that the same is shown again.
  get looked() {
    const { at, side, cut, points } = document.getElementById(this.target).dataset;
    return at === undefined ? {} : { at, side, cut, points };
  }

  typed(event) {
    const input = event.target;
    if (!input.matches("input.entry")) return;
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.send({ entry: input.dataset.entry, value: input.value, keep: "0" }, input), LOOK_AFTER);
  }

  left(event) {
    const input = event.target;
    if (!input.matches("input.entry, select.entry")) return;
    clearTimeout(this.timer);
    // What was not typed over is not sent: a number as shown must not replace what was typed, nor a rounded one the exact.
    if (input.matches("input") && !this.isDirty(input)) return;
    this.send({ entry: input.dataset.entry, value: input.value, keep: "1" }, input);
  }

  key(event) {
    const input = event.target;
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && !this.isDirty(input)) {
      event.preventDefault();
      return this.move(event.shiftKey ? "redo" : "undo");
    }
    if (!input.matches?.("input.entry")) return;
    if (event.key === "Enter") {
      event.preventDefault();
      this.left(event);
    } else if (event.key === "Escape") {
      input.value = input.getAttribute("value");
      clearTimeout(this.timer);
      this.send({ entry: "", value: "", keep: "0" }, input);
    } else if ((event.key === "ArrowUp" || event.key === "ArrowDown") && /^-?\d+(\.\d+)?$/.test(input.value)) {
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) * (event.key === "ArrowUp" ? 1 : -1);
      input.value = String(Math.round((parseFloat(input.value) + step) * 1e6) / 1e6);
      input.dispatchEvent(new Event("input", { bubbles: true }));
    }
  }

  isDirty(input) {
    return input.matches?.("input.entry") && input.value !== input.getAttribute("value");
  }

  pressed(event) {
    const button = event.target.closest("[data-move], [data-set], [data-do]");
    if (!button) return;
    if (button.dataset.move) return this.move(button.dataset.move, { revision: button.dataset.revision || "" });
    if (button.dataset.set) return this.send({ entry: button.dataset.set, value: button.dataset.value || "", keep: "1" }, button);
    const taken = button.dataset.take ? { unit: document.getElementById(button.dataset.take).value } : {};
    this.send({ do: button.dataset.do, ...JSON.parse(button.dataset.with || "{}"), ...taken, keep: "1" }, button);
  }

  move(way, values = {}) {
    return this.post(this.bench.dataset.moveUrl.replace("WAY", way), { ...values, keep: "1" });
  }

  async send(values, input) {
    const shown = await this.post(this.bench.dataset.editUrl, values, input);
    if (shown === null || !input.isConnected) return;
    input.setAttribute("aria-invalid", shown ? "false" : "true");
    if (!shown) {
      const place = document.querySelector("#message [data-position]");
      if (place && values.keep === "1" && input.setSelectionRange) {
        input.focus();
        input.setSelectionRange(Number(place.dataset.position), input.value.length);
      }
    }
  }

  // What is kept goes one after the other, each from the revision the one before it made.
  // form: a file to send with them.
  post(url, values, input = null, form = null) {
    if (values.keep !== "1") return this.sendNow(url, values, input);
    this.pending(1);
    this.keeping = (this.keeping || Promise.resolve())
      .then(() => this.sendNow(url, values, input, form))
      .finally(() => this.pending(-1));
    return this.keeping;
  }

  // How many changes are on their way to be kept.
  pending(more) {
    this.bench.dataset.pending = String(Number(this.bench.dataset.pending || 0) + more);
  }

  body(values, form) {
    if (!form) return new URLSearchParams(values);
    Object.entries(values).forEach(([key, value]) => form.append(key, value));
    return form;
  }

  // Answers true when the change was shown, false when it was refused, null when a later one has overtaken it.
  async sendNow(url, values, input, form = null) {
    const turn = ++this.sent;
    const message = document.getElementById("message");
    let response, text;
    try {
      response = await fetch(url, {
        method: "POST",
        headers: { "X-CSRFToken": csrfToken(), "HX-Request": "true" },
        body: this.body({ base: this.base, ...this.looked, ...values }, form),
      });
      text = await response.text();
    } catch {
      message.innerHTML = REFUSED("The server cannot be reached. What you typed is not kept yet; press Enter to try again.");
      return false;
    }
    if (response.redirected || response.status === 403) return location.reload(); // signed out meanwhile
    if (turn !== this.sent && values.keep !== "1") return null;
    if (!response.ok) {
      message.innerHTML = response.status < 500 ? text : REFUSED("The server could not do this. Nothing saved is lost.");
      return false;
    }
    const target = document.getElementById(this.target);
    // What somebody is still typing stays; what was just kept is shown as it was understood.
    const typing = (values.keep !== "1" && !values.look) || document.activeElement !== input;
    Idiomorph.morph(target, text, { morphStyle: "outerHTML", ignoreActiveValue: typing });
    document.getElementById("message").innerHTML = "";
    htmx.process(document.getElementById(this.target));
    if (values.keep === "1") document.body.dispatchEvent(new CustomEvent("kept"));
    this.listeners.forEach((listener) => listener(values));
    return true;
  }
}

export function csrfToken() {
  return JSON.parse(document.body.getAttribute("hx-headers"))["X-CSRFToken"];
}
