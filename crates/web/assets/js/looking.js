// What of this page is looked at: links that fetch a part, the map, the sides of a part, the place in a long trail.
import { $, on } from "./dom.js";
import { asked, swap } from "./live.js";

// A link that only changes what of this page is looked at: the part is fetched, what is being typed stays.
async function look(query) {
  history.replaceState(null, "", query);
  const at = location.href;
  try {
    const r = await fetch(location.href, { headers: { "HX-Request": "true" } }),
      html = await r.text();
    if (location.href !== at) return; // something else is looked at by now
    if (!r.ok) location.reload();
    else if (asked.under) asked.again = true;
    else swap(html);
  } catch {
    location.reload();
  }
}
document.addEventListener("click", e => {
  const a = e.target.closest?.("#live a[data-live]");
  if (a && !e.ctrlKey && !e.metaKey) {
    e.preventDefault();
    look(a.getAttribute("href"));
    return;
  }
  // The map: touching the lit part while its facing is asked turns it round; any other asks what comes off for it.
  const part = e.target.closest?.(".map svg.section [data-part]");
  if (!part || part.closest(".moved.dragged") || e.target.closest("a.seat")) return;
  const holder = part.closest("[data-zoom]"),
    id = part.dataset.part,
    q = new URLSearchParams(location.search);
  if (holder.dataset.flip && part.classList.contains("hand")) look(holder.dataset.flip);
  else {
    q.set("part", id);
    look("?" + q);
  }
});
document.addEventListener("change", e => {
  const side = e.target.matches?.(".act-in-hand .sides input[type=radio]") && e.target;
  if (side) {
    const q = new URLSearchParams(location.search);
    q.set("found", side.value.slice(-1));
    look("?" + q);
  }
});
// What is in hand stays in hand when somebody else goes on: the address names it.
const here = $("#live")?.dataset.here;
if (here && !location.search) history.replaceState(null, "", here);
// A long trail shows where the act in hand stands, without moving the page.
const inSight = () => {
  const a = $(".trail-list [aria-current]"),
    list = a?.closest(".trail-list");
  if (list && list.scrollHeight > list.clientHeight) list.scrollTop = a.offsetTop - list.clientHeight / 3;
};
on("swapped", inSight);
inSight();
