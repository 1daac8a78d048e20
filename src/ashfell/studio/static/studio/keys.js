// The one key that works everywhere: ? shows all of them.

document.addEventListener("keydown", (event) => {
  const typing = event.target instanceof Element && event.target.closest("input, select, textarea");
  const link = /** @type {HTMLAnchorElement | null} */ (document.querySelector("a.keys-of"));
  if (event.key === "?" && !typing && link) location.assign(link.href);
});
