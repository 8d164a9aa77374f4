// The drawing board: touch a part or land, drop a kind from the shelf on a land, undo and redo by keys.
import { on } from "./dom.js";
import { answered, redone } from "./keymap.js";

const board = () => document.querySelector(".board");
function look(query) {
  const b = board();
  history.replaceState(null, "", b.dataset.draft + "?" + query);
  htmx.ajax("GET", b.dataset.draft + "?" + query, { target: "#board", swap: "innerHTML" });
}
function send(values) {
  const b = board();
  htmx.ajax("POST", b.dataset.draft, {
    target: "#board",
    swap: "innerHTML",
    values: { ...values, seen: b.dataset.seen, _csrf: document.body.dataset.csrf },
  });
}
document.addEventListener("click", e => {
  if (!board()) return;
  const link = e.target.closest("[data-pick-part],[data-pick-land]");
  const part = e.target.closest(".board svg [data-part]"),
    land = e.target.closest(".board svg [data-land]");
  if (link) {
    e.preventDefault();
    look(link.dataset.pickPart ? "part=" + encodeURIComponent(link.dataset.pickPart) : "land=" + encodeURIComponent(link.dataset.pickLand));
  } else if (part) look("part=" + encodeURIComponent(part.dataset.part));
  else if (land) look("land=" + encodeURIComponent(land.dataset.land));
});
/* An edit answers with the whole board: what had the focus has it again, or what was refused has it. Of things that look
   the same the one at the same place among them is meant. */
const alike = e =>
  [
    e.tagName,
    e.name || "",
    e.dataset.kind || "",
    e.dataset.pickPart || e.dataset.pickLand || "",
    e.matches("button,summary") ? e.textContent : "",
    e.form?.elements.namedItem("op")?.value || "",
  ].join("|");
const same = (root, sign) => [...root.querySelectorAll("a,button,input,select,summary,textarea,[tabindex]")].filter(e => alike(e) === sign);
let hadFocus = null;
on("asked", e => {
  // Once a question is answered the next one is at hand.
  const f = document.activeElement.closest(".answers") ?? document.activeElement,
    root = e.target,
    sign = root.contains(f) && alike(f);
  hadFocus = sign ? [sign, same(root, sign).indexOf(f)] : null;
});
document.addEventListener("htmx:afterSwap", e => {
  if (e.detail.target.id !== "board") return;
  const root = e.detail.target,
    wrong = root.querySelector("[aria-invalid]");
  if (wrong) {
    wrong.focus();
    return;
  }
  const list = hadFocus ? same(root, hadFocus[0]) : [];
  if (hadFocus) (list[hadFocus[1]] || list.at(-1) || root.querySelector("[data-zoom]"))?.focus({ preventScroll: true });
  // What was asked for is shown, even when it was asked for from far down the lists.
  if (e.detail.requestConfig.verb === "get") root.querySelector(".in-hand")?.scrollIntoView({ block: "nearest" });
});
let dragged = null;
/* Where a part would land: the land under it, or the housing, then with the land it stands over. */
function targetUnder(x, y) {
  const under = document.elementsFromPoint(x, y);
  const land = under.find(e => e.dataset && e.dataset.land);
  if (land) return { mark: land, land: land.dataset.land };
  const house = under.map(e => e.closest && e.closest(".board [data-housing]")).find(Boolean);
  if (!house) return null;
  const lands = [...document.querySelectorAll(".board .land-target")],
    boxes = lands.map(l => l.getBoundingClientRect());
  const near = lands.map((l, i) => [Math.max(boxes[i].left - x, x - boxes[i].right, 0), l]).sort((p, q) => p[0] - q[0])[0];
  return near && { mark: house, land: near[1].dataset.land, housing: house.dataset.housing };
}
function mark(target) {
  document.querySelectorAll(".board svg .drop").forEach(x => x.classList.toggle("drop", !!target && x === target.mark));
  if (target) target.mark.classList.add("drop");
}
function land(target) {
  mark(null);
  if (target) send({ op: "add-part", kind: dragged, land: target.land, housing: target.housing || "" });
  dragged = null;
}
document.addEventListener("dragstart", e => {
  const k = e.target.closest && e.target.closest("[data-kind]");
  if (k) {
    dragged = k.dataset.kind;
    e.dataTransfer.setData("text/plain", dragged);
    e.dataTransfer.effectAllowed = "copy";
  }
});
document.addEventListener("dragend", () => {
  dragged = null;
  mark(null);
});
document.addEventListener("dragover", e => {
  if (!dragged || !board()) return;
  const t = targetUnder(e.clientX, e.clientY);
  mark(t);
  if (t) {
    e.preventDefault();
    e.dataTransfer.dropEffect = "copy";
  }
});
document.addEventListener("drop", e => {
  const t = dragged && board() && targetUnder(e.clientX, e.clientY);
  if (t) {
    e.preventDefault();
    land(t);
  }
});
/* By finger: pull a kind off the shelf, a slip with its name follows, let it go over the drawing. A short touch still presses. */
let slip = null,
  from = null;
document.addEventListener("pointerdown", e => {
  const k = e.pointerType !== "mouse" && e.target.closest && e.target.closest(".shelf [data-kind]");
  if (k) from = { k, x: e.clientX, y: e.clientY, id: e.pointerId };
});
document.addEventListener("pointermove", e => {
  if (!from || e.pointerId !== from.id) return;
  if (!slip && Math.hypot(e.clientX - from.x, e.clientY - from.y) > 14) {
    slip = document.createElement("div");
    slip.className = "slip";
    slip.textContent = from.k.textContent;
    document.body.append(slip);
    dragged = from.k.dataset.kind;
  }
  if (slip) {
    slip.style.transform = `translate(${e.clientX + 10}px, ${e.clientY - 46}px)`;
    mark(targetUnder(e.clientX, e.clientY));
  }
});
const letGo = e => {
  if (!from || e.pointerId !== from.id) return;
  if (slip) {
    slip.remove();
    slip = null;
    const k = from.k,
      stop = c => {
        c.preventDefault();
        c.stopPropagation();
      };
    k.addEventListener("click", stop, { capture: true, once: true });
    setTimeout(() => k.removeEventListener("click", stop, { capture: true }), 60);
    land(e.type === "pointerup" ? targetUnder(e.clientX, e.clientY) : null);
  }
  from = null;
};
document.addEventListener("pointerup", letGo);
document.addEventListener("pointercancel", letGo);
document.addEventListener("keydown", e => {
  if (!board() || e.target.closest("input,textarea,select")) return;
  const answer = answered(e) && e.target.closest(".answers")?.querySelectorAll("button")[answered(e) - 1];
  if (answer) {
    e.preventDefault();
    answer.click();
    return;
  }
  const op = redone(e);
  if (op) {
    e.preventDefault();
    send({ op });
  }
});
document.addEventListener("change", e => {
  const file = e.target.matches && e.target.matches("[data-reads-into]") && e.target.files[0];
  if (file)
    file.text().then(t => {
      document.getElementById(e.target.dataset.readsInto).value = t;
    });
});
document.addEventListener("submit", e => {
  const q = e.target.dataset && e.target.dataset.confirm;
  if (q && !window.confirm(q)) e.preventDefault();
});
