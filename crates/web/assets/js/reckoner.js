// The Reckoner: the answer comes while the question is typed, and stands in the address. Enter goes on to the next
// field.
import { begin, end } from "./busy.js";
import { $, $$, on, parsed, scripted } from "./dom.js";

let turn = 0,
  soon;

async function reckon(form) {
  const mine = ++turn,
    filled = [...new FormData(form)].filter(([, value]) => value.trim()),
    here = form.getAttribute("action") + "?" + new URLSearchParams(filled);
  history.replaceState(null, "", here);
  begin();
  try {
    const r = await fetch(here, { headers: { "HX-Request": "true" } });
    const fresh = $("#reckon", parsed(await r.text()));
    // Of two the one that was asked last counts.
    if (mine !== turn || !fresh) return;
    Idiomorph.morph($("#reckon"), fresh, { morphStyle: "outerHTML", ignoreActiveValue: true });
    scripted();
  } catch {
    /* no network: what is typed stays, and the button asks again */
  } finally {
    end();
  }
}

// What is slid is typed.
document.addEventListener("input", e => {
  const to = e.target.dataset?.slides;
  const field = to && e.target.form && $(`[name="${CSS.escape(to)}"]`, e.target.form);
  if (field) field.value = e.target.value;
});
on("swapped", () => scripted());
scripted();

const formOf = e => e.target.closest?.(".reckon-form[method=get]");
const later = form => {
  clearTimeout(soon);
  soon = setTimeout(() => reckon(form), 180);
};
for (const event of ["input", "change"]) {
  document.addEventListener(event, e => {
    const form = formOf(e);
    if (form) later(form);
  });
}
document.addEventListener("submit", e => {
  const form = formOf(e);
  if (!form) return;
  e.preventDefault();
  clearTimeout(soon);
  reckon(form);
});
document.addEventListener("keydown", e => {
  const form = formOf(e);
  if (!form || e.key !== "Enter" || !e.target.matches("input, select")) return;
  e.preventDefault();
  const fields = $$("input:not([type=hidden]), select, textarea, button", form);
  fields[fields.indexOf(e.target) + (e.shiftKey ? -1 : 1)]?.focus();
});
