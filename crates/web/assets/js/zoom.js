// A drawing that can be brought nearer: wheel, two fingers, drag, and + - 0 and the arrows when it has the focus.
import { on } from "./dom.js";
import { KEYS, moved, scaled, within } from "./view_box.js";

const views = new Map();
const boxOf = svg => svg.viewBox.baseVal;
// All of a drawing: on an upright screen without the empty paper beside it, so that it is as large as the width allows.
function trimmed(svg) {
  const paper = boxOf(svg),
    room = svg.getBoundingClientRect(),
    margin = 8;
  if (!room.width || room.height * paper.width <= room.width * paper.height) return;
  const ink = svg.getBBox(),
    left = Math.max(paper.x, ink.x - margin),
    right = Math.min(paper.x + paper.width, ink.x + ink.width + margin);
  if (right > left) svg.setAttribute("viewBox", [left, paper.y, right - left, paper.height].map(v => v.toFixed(2)).join(" "));
}
function whole(svg) {
  if (!svg.dataset.whole) {
    trimmed(svg);
    svg.dataset.whole = svg.getAttribute("viewBox");
  }
  return svg.dataset.whole.split(" ").map(Number);
}
function show(holder, box) {
  const svg = holder.querySelector("svg"),
    all = whole(svg),
    next = within(all, box);
  svg.setAttribute("viewBox", next.map(v => v.toFixed(2)).join(" "));
  holder.classList.toggle("moved", next[2] < all[2] - 1);
  if (holder.dataset.zoom !== "off") views.set(location.pathname, next);
}
const shown = holder => (({ x, y, width, height }) => [x, y, width, height])(boxOf(holder.querySelector("svg")));
const zoom = (holder, by, cx, cy) => show(holder, scaled(shown(holder), by, cx, cy));
const pan = (holder, dx, dy) => show(holder, moved(shown(holder), dx, dy));
// Holders whose wheel and fingers are listened to already: a page that is brought up to date keeps its elements.
const known = new WeakSet();
function ready(root) {
  root.querySelectorAll("[data-zoom]").forEach(holder => {
    const drawn = () => holder.querySelector("svg");
    if (!drawn() || holder.querySelector(".zooms")) return;
    whole(drawn());
    const bar = document.createElement("div");
    bar.className = "zooms";
    [
      ["+", "Nearer", 0.7],
      ["\u2212", "Farther", 1 / 0.7],
      ["\u2922", "All of it", 99],
    ].forEach(([t, label, by]) => {
      const b = document.createElement("button");
      b.type = "button";
      b.textContent = t;
      b.title = label;
      b.setAttribute("aria-label", label);
      b.addEventListener("click", () => zoom(holder, by));
      bar.append(b);
    });
    holder.append(bar);
    const kept = views.get(location.pathname);
    if (kept) show(holder, kept);
    if (known.has(holder)) return;
    known.add(holder);
    holder.addEventListener(
      "wheel",
      e => {
        if (!e.ctrlKey && !holder.matches(":focus-within") && !holder.classList.contains("moved")) return;
        e.preventDefault();
        const r = drawn().getBoundingClientRect();
        zoom(holder, e.deltaY > 0 ? 1.15 : 1 / 1.15, (e.clientX - r.left) / r.width, (e.clientY - r.top) / r.height);
      },
      { passive: false },
    );
    const fingers = new Map();
    let apart = 0;
    holder.addEventListener("pointerdown", e => {
      fingers.set(e.pointerId, [e.clientX, e.clientY]);
      apart = 0;
    });
    holder.addEventListener("pointermove", e => {
      const was = fingers.get(e.pointerId);
      if (!was) return;
      const r = drawn().getBoundingClientRect();
      fingers.set(e.pointerId, [e.clientX, e.clientY]);
      if (fingers.size === 2) {
        const [a, b] = [...fingers.values()],
          d = Math.hypot(a[0] - b[0], a[1] - b[1]);
        if (apart) zoom(holder, apart / d, ((a[0] + b[0]) / 2 - r.left) / r.width, ((a[1] + b[1]) / 2 - r.top) / r.height);
        apart = d;
      } else if (holder.classList.contains("moved")) {
        pan(holder, (was[0] - e.clientX) / r.width, (was[1] - e.clientY) / r.height);
      }
    });
    ["pointerup", "pointercancel", "pointerleave"].forEach(t =>
      holder.addEventListener(t, e => {
        fingers.delete(e.pointerId);
        apart = 0;
      }),
    );
    holder.addEventListener("keydown", e => {
      if (e.target !== holder) return;
      const [by, dx, dy] = KEYS[e.key] ?? [];
      if (!by) return;
      e.preventDefault();
      e.stopPropagation();
      if (by === 1) pan(holder, dx, dy);
      else zoom(holder, by);
    });
  });
}
ready(document);
document.addEventListener("htmx:afterSettle", e => ready(e.target));
on("swapped", e => ready(e.target));
