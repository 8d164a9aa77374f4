// The entry of a sheet: readings go into the queue, the call forms while typing, what waits is shown.
import { $, $$, on, parsed } from "./dom.js";
import { asked, refresh, swap } from "./live.js";
import { Waiting } from "./waiting.js";

const body = document.body;
const waiting = new Waiting({
  storage: localStorage,
  me: body.dataset.person,
  name: body.dataset.name,
  post: item => {
    const names = ["id", "cell", "text", "over", "instrument", "units"],
      form = new URLSearchParams(names.map(n => [n, item[n]]));
    if (item.sure) form.set("sure", "true");
    if (item.reason) form.set("reason", item.reason);
    const headers = { "HX-Request": "true", "X-CSRF-Token": body.dataset.csrf };
    return fetch(item.base + "/readings", { method: "POST", body: form, headers, signal: AbortSignal.timeout(8000) });
  },
  // Without locks ids alone see to it that none is taken twice.
  alone: work => (navigator.locks ? navigator.locks.request("iron-seat-sending", work) : work()),
});

// Points the entry at a cell.
function aim(form, rows, row, over) {
  form.elements.namedItem("cell").value = row.dataset.cell;
  form.elements.namedItem("over").value = over;
  rows.forEach(r => r.classList.toggle("active", r === row));
  $(".measure h1", form.closest("#live")).textContent = $("th", row).textContent.replace(/^./, c => c.toUpperCase());
}

const element = (tag, text, cls) => Object.assign(document.createElement(tag), { textContent: text, className: cls ?? "" });
let refused = []; // readings of this page that were not taken while the person was further on already

function mark() {
  const box = $("#waiting");
  if (!box) return;
  const q = waiting.own(),
    theirs = waiting.others(),
    waits = q.some(i => i.tried);
  box.hidden = !waits && refused.length === 0 && theirs.length === 0;
  box.replaceChildren();
  for (const i of refused) {
    const line = element("div", `${i.cell} “${i.text}” was not taken: ${i.why} `);
    line.append(Object.assign(element("a", "Read it again"), { href: i.base + "?cell=" + i.cell }));
    box.append(line);
  }
  for (const name of new Set(theirs.map(i => i.name))) {
    const n = theirs.filter(i => i.name === name).length;
    const many = n === 1 ? `1 reading of ${name} waits` : `${n} readings of ${name} wait`;
    box.append(element("div", `${many} on this machine until ${name} signs in here.`));
  }
  if (waits) {
    box.append(element("b", q.length === 1 ? "1 reading waits to be sent:" : q.length + " readings wait to be sent:"));
    for (const i of q.slice(0, 12)) box.append(" ", element("span", i.cell + " " + i.text, "num"));
    const over = q.some(i => i.signedOut);
    const how = over
      ? "You are signed out, or may not write just now: sign in again, they are sent then."
      : "They are sent by themselves, none twice.";
    box.append(element("div", how));
  }
  const here = $("#live")?.dataset.sheet;
  for (const i of q.filter(i => i.base === here)) {
    const row = $(`tr[data-cell="${CSS.escape(i.cell)}"]`);
    if (!row) continue;
    row.classList.add("waits");
    $("[data-value]", row).textContent = i.text + " waits";
  }
}

async function send() {
  await waiting.send({
    elsewhere: refresh,
    kept: mark,
    final(item, answer, html) {
      // What was refused is in sight until its place is read by this person.
      if (answer.ok) refused = refused.filter(i => i.base !== item.base || i.cell !== item.cell);
      if ($("#live")?.dataset.sheet === item.base) {
        const more = asked.under || waiting.own().some(i => i.base === item.base);
        // A correction is done: the address names its cell no longer, so that a refresh goes on as well.
        if (answer.ok && location.search) history.replaceState(null, "", item.base);
        // Refused: the sentence stands beside the entry with what was typed, unless the person is further on already.
        if (answer.ok && asked.under) asked.again = true;
        else if (answer.status !== 404 && (answer.ok || !more)) {
          swap(html, answer.ok);
          $("#entry #text")?.focus();
        }
        if (!answer.ok && more) refused.push({ ...item, why: $('[role="alert"]', parsed(html))?.textContent.trim() || "see its sheet." });
        else if (!answer.ok) $("#entry #text")?.select();
      } else if (!answer.ok) alert(`The reading ${item.text} for ${item.cell} was not taken. Open its sheet and read it again.`);
      mark();
    },
  });
  mark();
}

// The form holds a field named "id", so form.id is that field.
const isEntry = form => form.getAttribute("id") === "entry";

function take(form, text) {
  const v = n => form.elements.namedItem(n)?.value || "";
  const base = form.getAttribute("action").replace(/\/readings$/, "");
  const sure = !!form.elements.namedItem("sure");
  waiting.take({ base, cell: v("cell"), text, over: v("over"), instrument: v("instrument"), units: v("units"), reason: v("reason"), sure });
  mark();
  // Go on to the next empty cell at once; the server's answer replaces this.
  const rows = $$("tr[data-cell]"),
    at = rows.findIndex(r => r.dataset.cell === v("cell"));
  const onTheWay = c => waiting.own().some(i => i.base === base && i.cell === c);
  const next = [...rows.slice(at + 1), ...rows.slice(0, at)].find(r => !r.dataset.reading && !onTheWay(r.dataset.cell));
  // An answered question is done with as soon as it is pressed: hands are at the next place already.
  const going = isEntry(form) ? form : $("#entry");
  if (going && next) aim(going, rows, next, "");
  if (!isEntry(form)) form.closest(".ask")?.remove();
  const entry = $("#text"); // of an answered question too: its text is sent now
  if (entry) entry.value = "";
  send();
}
document.addEventListener("submit", e => {
  const form = e.target;
  if (!isEntry(form) && !form.matches(".ask-form")) return;
  e.preventDefault();
  take(form, e.submitter?.name === "text" ? e.submitter.value : (form.elements.namedItem("text")?.value ?? ""));
});

// The entry stays where the person is: in the cell being typed into, else in the next one that is neither read nor on
// its way. The server does not know yet what waits in this page.
function stay(was) {
  const live = $("#live"),
    form = live && $("#entry", live);
  if (was?.keepTyping && form) {
    const cell = form.elements.namedItem("cell").value,
      rows = $$("tr[data-cell]", live);
    const onTheWay = c => waiting.own().some(i => i.base === live.dataset.sheet && i.cell === c);
    const free = () => rows.find(r => !r.dataset.reading && !onTheWay(r.dataset.cell))?.dataset.cell;
    const at = was.text ? was.cell : onTheWay(cell) ? free() : null;
    const row = at && at !== cell && rows.find(r => r.dataset.cell === at);
    if (row) aim(form, rows, row, was.text ? was.over : "");
    const entry = $("#text", form);
    if (entry && was.text) entry.value = was.text;
  }
  mark();
}
on("swapped", e => stay(e.detail));
on("back", send);
addEventListener("storage", e => {
  if (Waiting.has(e.key)) mark();
});
// A chosen instrument hands the keys back to the entry, with what was typed while it was being chosen.
let typed = null;
document.addEventListener("htmx:beforeSwap", () => {
  const value = name => $("#entry")?.elements.namedItem(name)?.value ?? "";
  typed = { text: value("text"), cell: value("cell"), over: value("over"), keepTyping: true };
});
document.addEventListener("htmx:afterSwap", () => {
  stay(typed);
  $("#entry #text")?.focus();
});

// The call forms while typing.
let timer, last;
document.addEventListener("input", e => {
  if (e.target.id !== "text") return;
  clearTimeout(timer);
  timer = setTimeout(async () => {
    const form = $("#entry");
    if (!form) return;
    const q = new URLSearchParams({ cell: form.elements.namedItem("cell").value, text: e.target.value });
    const mine = (last = {});
    try {
      const r = await fetch(form.dataset.preview + "?" + q);
      if (!r.ok || mine !== last) return;
      const fresh = $("#judged", parsed(await r.text()));
      if (fresh && $("#judged")) $("#judged").replaceWith(document.adoptNode(fresh));
    } catch {
      /* the stored call stays in view */
    }
  }, 140);
});

send();
