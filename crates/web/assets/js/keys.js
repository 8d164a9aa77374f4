// Keys, and what a click anywhere does.
import { $, $$ } from "./dom.js";
import { meant } from "./keymap.js";

const typing = t => t.matches?.("input, textarea, select, [contenteditable]");
document.addEventListener("keydown", e => {
  const t = e.target,
    dialog = $("#key-help");
  if (dialog.open) return;
  const entry = $("#text") ?? $("[data-in-hand] [data-entry]");
  const what = meant(e, { entry: t.id === "text", typing: typing(t), digits: !!entry });
  const go = el => {
    if (el) {
      e.preventDefault();
      el.click();
    }
  };
  const steps = $$(".trail-list details[open] li a"),
    here = steps.findIndex(a => a.getAttribute("aria-current"));
  switch (what) {
    case "cell before": {
      e.preventDefault();
      const rows = $$("tr[data-cell]"),
        at = rows.findIndex(r => r.classList.contains("active"));
      const back = rows[at > 0 ? at - 1 : 0];
      if (back) $("a", back).click();
      break;
    }
    case "leave":
      t.blur();
      break;
    case "digit":
      e.preventDefault();
      entry.focus();
      entry.value += e.key;
      entry.dispatchEvent(new Event("input", { bubbles: true }));
      break;
    case "help":
      e.preventDefault();
      dialog.showModal();
      break;
    case "find": {
      const f = $('[data-key="/"]');
      if (f) {
        e.preventDefault();
        f.focus();
      } else location.href = "/";
      break;
    }
    case "undo":
      go($('[data-key="u"]'));
      break;
    case "clocks":
      $("#clocks a")?.focus();
      break;
    case "next":
      if ($(".bench-grid")) {
        e.preventDefault();
        location.href = location.pathname;
      }
      break;
    case "below":
      go(steps[here + 1]);
      break;
    case "above":
      go(steps[here - 1]);
      break;
    case "back":
      go($("[data-back]"));
      break;
    case "seat": {
      const seats = $$("[data-seat-link]");
      go(seats[(seats.findIndex(a => a.getAttribute("aria-current")) + 1) % seats.length]);
      break;
    }
    case "go on":
      if (t === document.body) go($("[data-primary]"));
      break;
  }
});
document.addEventListener("click", e => {
  const open = $(".person[open]");
  if (open && !open.contains(e.target)) open.open = false;
});
