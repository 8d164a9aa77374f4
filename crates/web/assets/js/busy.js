// What takes longer than a blink says that it is under way: a line along the top edge.
const BLINK = 300;
let under = 0,
  soon;

const show = () => document.body.classList.toggle("busy", under > 0);

export function begin() {
  under++;
  clearTimeout(soon);
  soon = setTimeout(show, BLINK);
}
export function end() {
  under = Math.max(0, under - 1);
  if (under) return;
  clearTimeout(soon);
  show();
}

document.addEventListener("htmx:beforeRequest", begin);
document.addEventListener("htmx:afterRequest", end);
// A page that is on its way: what nobody else has taken in hand leaves this one. Whoever stops it stays here.
const leave = () => {
  begin();
  setTimeout(end, 15_000);
};
addEventListener("submit", e => {
  if (!e.defaultPrevented) leave();
});
addEventListener("click", e => {
  const a = e.target.closest?.("a[href]");
  const here =
    !a || a.target || a.hasAttribute("download") || a.getAttribute("href").startsWith("#") || /\.(csv|svg|toml)$/.test(a.pathname);
  if (!here && !e.defaultPrevented && !e.ctrlKey && !e.metaKey && !e.shiftKey && e.button === 0) leave();
});
addEventListener("pageshow", () => {
  under = 0;
  end();
});
