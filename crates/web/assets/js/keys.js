// Keys, and what a click anywhere does.
import { $, $$ } from "./dom.js";

// Keys. Plain digits are never shortcuts: they go into the entry, also from a gauge that types and sends Enter.
const typing = t => t.matches?.("input, textarea, select, [contenteditable]");
document.addEventListener("keydown", e => {
  if (e.ctrlKey || e.metaKey || e.altKey) return;
  const t = e.target,
    dialog = $("#key-help");
  if (dialog.open) return;
  if (t.id === "text" && e.key === "Enter" && e.shiftKey) {
    e.preventDefault();
    const rows = $$("tr[data-cell]"),
      at = rows.findIndex(r => r.classList.contains("active"));
    const back = rows[at > 0 ? at - 1 : 0];
    if (back) $("a", back).click();
    return;
  }
  if (typing(t)) {
    if (e.key === "Escape") t.blur();
    return;
  }
  const entry = $("#text") ?? $("[data-in-hand] [data-entry]");
  if (entry && /^[0-9.,+\-−]$/.test(e.key)) {
    e.preventDefault();
    entry.focus();
    entry.value += e.key;
    entry.dispatchEvent(new Event("input", { bubbles: true }));
    return;
  }
  const go = el => {
    if (el) {
      e.preventDefault();
      el.click();
    }
  };
  const steps = $$(".trail-list details[open] li a"),
    here = steps.findIndex(a => a.getAttribute("aria-current"));
  switch (e.key) {
    case "?":
      e.preventDefault();
      dialog.showModal();
      break;
    case "/": {
      const f = $('[data-key="/"]');
      if (f) {
        e.preventDefault();
        f.focus();
      } else location.href = "/";
      break;
    }
    case "u":
      go($('[data-key="u"]'));
      break;
    case "c":
      $("#clocks a")?.focus();
      break;
    case "n":
      if ($(".bench-grid")) {
        e.preventDefault();
        location.href = location.pathname;
      }
      break;
    case "j":
      go(steps[here + 1]);
      break;
    case "k":
      go(steps[here - 1]);
      break;
    case "b":
      go($("[data-back]"));
      break;
    case "s": {
      const seats = $$("[data-seat-link]");
      go(seats[(seats.findIndex(a => a.getAttribute("aria-current")) + 1) % seats.length]);
      break;
    }
    case "Enter":
      if (t === document.body) go($("[data-primary]"));
      break;
  }
});
document.addEventListener("click", e => {
  const open = $(".person[open]");
  if (open && !open.contains(e.target)) open.open = false;
});
