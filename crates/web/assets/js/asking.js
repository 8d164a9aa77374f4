// Around every answer that htmx puts into the page: what may be touched meanwhile, what stays open, what is said when
// it fails.
import { $, $$, parsed, say } from "./dom.js";

// While the board's answer is on its way nothing can be typed into what it will replace, and nothing else is asked of
// it: typed into the old form it would be lost, and a second answer would find its place taken.
let onTheWay = null;
document.addEventListener("htmx:beforeRequest", e => {
  const root = e.detail.target;
  if (root?.id !== "board") return;
  if (onTheWay) {
    e.preventDefault();
    e.stopImmediatePropagation();
    return;
  }
  onTheWay = root;
  say("asked", {}, root); // where the focus is, before it is lost
  const controls = $$("input:enabled, select:enabled, textarea:enabled, button:enabled", root);
  root.inert = true;
  for (const c of controls) c.disabled = true;
  e.detail.xhr.addEventListener("loadend", () => {
    onTheWay = null;
    root.inert = false;
    for (const c of controls) c.disabled = false;
  });
});
document.addEventListener("htmx:beforeSwap", e => {
  if (e.detail.target === onTheWay) onTheWay.inert = false;
}); // so that it can have the focus

// What somebody opened while an answer was on its way stays open under it; what was open before closes as the answer
// says.
const opened = root => new Set($$("details[open] > summary", root).map(s => s.textContent));
let before = new Set(),
  since = new Set();
document.addEventListener("htmx:beforeRequest", () => {
  before = opened(document);
});
document.addEventListener("htmx:beforeSwap", e => {
  since = opened(e.detail.target).difference(before);
});
document.addEventListener("htmx:afterSettle", e => {
  for (const s of $$("details > summary", e.target)) if (since.has(s.textContent)) s.parentElement.open = true;
});
const notTaken = (e, why) => {
  $$(".not-taken").forEach(x => x.remove());
  const form = e.detail.elt.closest("form"),
    p = document.createElement("p");
  p.className = "said not-taken";
  p.setAttribute("role", "alert");
  p.textContent = why;
  if (form) form.after(p);
  else e.detail.target.prepend(p); // a drop on the drawing has no form
};
document.addEventListener("htmx:responseError", e => {
  const said = $(".lone p, [role='alert']", parsed(e.detail.xhr.responseText))?.textContent.trim();
  notTaken(e, "This was not taken. " + (said || "Open the page again to see what stands."));
});
document.addEventListener("htmx:sendError", e => notTaken(e, "This was not taken: the server does not answer. Try it once more."));
