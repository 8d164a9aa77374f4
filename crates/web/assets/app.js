// Iron Seat in the browser: clocks, live events, keys, and the queue that never loses a typed reading.
(() => {
  "use strict";
  const $ = (s, r = document) => r.querySelector(s);
  const $$ = (s, r = document) => [...r.querySelectorAll(s)];
  const body = document.body;

  // Clocks: the server's time counts, whatever this device believes.
  const skew = Number(body.dataset.now || Date.now()) - Date.now();
  const two = n => String(n).padStart(2, "0");
  const rung = new Set();
  function tick() {
    for (const el of $$("[data-ends]")) {
      const left = Math.max(0, Math.round((Number(el.dataset.ends) - Date.now() - skew) / 1000));
      const out = el.matches("[data-left]") ? el : $("[data-left]", el);
      const h = Math.floor(left / 3600), text = (h ? h + ":" : "") + two(Math.floor(left / 60) % 60) + ":" + two(left % 60);
      if (out && out.textContent !== text) out.textContent = text;
      if (el.matches(".chip")) {
        el.classList.toggle("rung", left === 0);
        if (left > 0) rung.add(el.dataset.ends); else if (rung.delete(el.dataset.ends)) ring();
      }
    }
  }
  let audio;
  function ring() { // softly, and only if the browser lets us
    try {
      audio ||= new AudioContext();
      const o = audio.createOscillator(), g = audio.createGain();
      o.frequency.value = 660; g.gain.setValueAtTime(0.08, audio.currentTime); g.gain.exponentialRampToValueAtTime(0.0001, audio.currentTime + 1.4);
      o.connect(g).connect(audio.destination); o.start(); o.stop(audio.currentTime + 1.5);
    } catch { /* in sight it rings anyway */ }
  }
  setInterval(tick, 500); tick();

  // UUIDv7: made here, so that sending twice stores once.
  function uuid7() {
    const b = crypto.getRandomValues(new Uint8Array(16)), t = Date.now();
    for (let i = 0; i < 6; i++) b[i] = Math.floor(t / 2 ** (8 * (5 - i))) & 255;
    b[6] = (b[6] & 15) | 112; b[8] = (b[8] & 63) | 128;
    const h = [...b].map(x => x.toString(16).padStart(2, "0")).join("");
    return h.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
  }

  // Points the entry at a cell.
  function aim(form, rows, row, over) {
    form.elements.namedItem("cell").value = row.dataset.cell;
    form.elements.namedItem("over").value = over;
    rows.forEach(r => r.classList.toggle("active", r === row));
    $(".measure h1", form.closest("#live")).textContent = $("th", row).textContent.replace(/^./, c => c.toUpperCase());
  }

  // Swapping the live part keeps what is being typed and where the focus is.
  function swap(html) {
    const old = $("#live");
    if (!old) return;
    const doc = new DOMParser().parseFromString(html, "text/html"), fresh = $("#live", doc);
    if (!fresh) return;
    const kept = new Map($$("[data-keep], textarea, input[type=password]", old).filter(e => e.value).map(e => [e.name, e.value]));
    const entry = $("#entry #text", old), typed = entry?.value, cell = $("#entry [name=cell]", old)?.value, over = $("#entry [name=over]", old)?.value;
    const focus = document.activeElement, focused = old.contains(focus) ? (focus.id || focus.name || focus.dataset.step) : null;
    const open = new Set($$("details[open] > summary", old).map(s => s.textContent));
    old.replaceWith(document.adoptNode(fresh));
    swaps++;
    htmx.process(fresh);
    for (const [name, value] of kept) { const e = $(`[name="${name}"]`, fresh); if (e && !e.value) e.value = value; }
    for (const s of $$("details > summary", fresh)) if (open.has(s.textContent)) s.parentElement.open = true;
    const now = $("#entry #text", fresh), form = $("#entry", fresh);
    if (form && keepTyping) {
      // The entry stays where the person is: in the cell being typed into, else in the next one that is neither read nor
      // on its way. The server does not know yet what waits in this page.
      const here = fresh.dataset.sheet, onTheWay = c => queue().some(i => i.base === here && i.cell === c);
      const rows = $$("tr[data-cell]", fresh);
      const at = typed ? cell : onTheWay(form.elements.namedItem("cell").value) ? rows.find(r => !r.dataset.reading && !onTheWay(r.dataset.cell))?.dataset.cell : null;
      if (at && at !== form.elements.namedItem("cell").value) aim(form, rows, rows.find(r => r.dataset.cell === at), typed ? over : "");
      if (now && typed) now.value = typed;
    }
    if (focused === "text") now?.focus();
    else if (focused) ($(`#${CSS.escape(focused)}`, fresh) || $(`[name="${CSS.escape(focused)}"]`, fresh) || $(`[data-step="${CSS.escape(focused)}"]`, fresh))?.focus();
    fresh.dispatchEvent(new CustomEvent("iron-seat:swapped", { bubbles: true }));
    markWaiting(); tick();
  }
  let keepTyping = true, swaps = 0;

  // While the board's answer is on its way nothing can be typed into what it will replace, and nothing else is asked of it:
  // typed into the old form it would be lost, and a second answer would find its place taken.
  let onTheWay = null;
  document.addEventListener("htmx:beforeRequest", e => {
    const root = e.detail.target;
    if (root?.id !== "board") return;
    if (onTheWay) { e.preventDefault(); e.stopImmediatePropagation(); return; }
    onTheWay = root;
    root.dispatchEvent(new CustomEvent("iron-seat:asked", { bubbles: true })); // where the focus is, before it is lost
    const controls = $$("input:enabled, select:enabled, textarea:enabled, button:enabled", root);
    root.inert = true;
    for (const c of controls) c.disabled = true;
    e.detail.xhr.addEventListener("loadend", () => {
      onTheWay = null; root.inert = false;
      for (const c of controls) c.disabled = false;
    });
  });
  document.addEventListener("htmx:beforeSwap", e => { if (e.detail.target === onTheWay) onTheWay.inert = false; }); // so that it can have the focus
  // Live events: another browser, or another process, changed something.
  // While a choice is on its way its answer is newer than what a refresh would bring.
  let fetching = false, again = false, busy = 0;
  // A part swapped while it is under way would leave that answer nowhere to go, so nothing else swaps until then.
  document.addEventListener("htmx:beforeRequest", e => {
    if (busy++) again = true; // of two at once the later answer finds its place taken
    e.detail.xhr.addEventListener("loadend", () => { busy--; if (again && !busy) { again = false; refresh(); } });
  });
  // What somebody opened while an answer was on its way stays open under it; what was open before closes as the answer says.
  const opened = root => new Set($$("details[open] > summary", root).map(s => s.textContent));
  let before = new Set(), since = new Set();
  document.addEventListener("htmx:beforeRequest", () => { before = opened(document); });
  document.addEventListener("htmx:beforeSwap", e => { since = opened(e.detail.target).difference(before); });
  document.addEventListener("htmx:afterSettle", e => {
    for (const s of $$("details > summary", e.target)) if (since.has(s.textContent)) s.parentElement.open = true;
  });
  const notTaken = (e, why) => {
    $$(".not-taken").forEach(x => x.remove());
    const form = e.detail.elt.closest("form"), p = document.createElement("p");
    p.className = "said not-taken"; p.setAttribute("role", "alert"); p.textContent = why;
    if (form) form.after(p); else e.detail.target.prepend(p); // a drop on the drawing has no form
  };
  document.addEventListener("htmx:responseError", e => {
    const said = $(".lone p, [role='alert']", new DOMParser().parseFromString(e.detail.xhr.responseText, "text/html"))?.textContent.trim();
    notTaken(e, "This was not taken. " + (said || "Open the page again to see what stands."));
  });
  document.addEventListener("htmx:sendError", e => notTaken(e, "This was not taken: the server does not answer. Try it once more."));
  function inHand() {
    const touched = e => e.type === "radio" || e.type === "checkbox" ? e.checked !== e.defaultChecked : e.id !== "text" && e.type !== "hidden" && e.value !== e.defaultValue;
    // While a picture is being chosen its field has the focus: what is chosen must find the field still there.
    return $('#live [role="alert"]') || $("#live [type=file]:focus") || $$("#live [data-in-hand] input").some(touched);
  }
  async function refresh() {
    if (fetching) { again = true; return; }
    fetching = true;
    const asked = swaps;
    try {
      const r = await fetch(location.href, { headers: { "HX-Request": "true" } });
      const html = await r.text();
      // Older than what stands here by now, such as the answer to a reading: asked for anew.
      if (r.ok && (busy || asked !== swaps)) again = true;
      else if (r.ok) {
        // A sentence that stands beside an entry, or what is being typed, is not swept away by what somebody else does:
        // only the parts that the page names are brought up to date then.
        const parts = $("#live")?.dataset.meanwhile;
        if (parts && inHand()) {
          const doc = new DOMParser().parseFromString(html, "text/html");
          for (const part of parts.split(",")) { const a = $(part), b = $(part, doc); if (a && b) a.replaceWith(document.adoptNode(b)); }
          markWaiting();
        } else swap(html);
      }
      if (r.ok) { const c = await fetch("/clocks"); if (c.ok) { $("#clocks").innerHTML = await c.text(); tick(); } }
    } catch { /* the stream will say so again */ }
    fetching = false;
    if (again && !busy) { again = false; refresh(); }
  }
  // A link that only changes what of this page is looked at: the part is fetched, what is being typed stays.
  async function look(query) {
    history.replaceState(null, "", query);
    const at = location.href;
    try {
      const r = await fetch(location.href, { headers: { "HX-Request": "true" } }), html = await r.text();
      if (location.href !== at) return; // something else is looked at by now
      if (!r.ok) location.reload(); else if (busy) again = true; else swap(html);
    } catch { location.reload(); }
  }
  document.addEventListener("click", e => {
    const a = e.target.closest?.("#live a[data-live]");
    if (a && !e.ctrlKey && !e.metaKey) { e.preventDefault(); look(a.getAttribute("href")); return; }
    // The map: touching the lit part while its facing is asked turns it round; any other asks what comes off for it.
    const part = e.target.closest?.(".map svg.section [data-part]");
    if (!part || part.closest(".moved.dragged") || e.target.closest("a.seat")) return;
    const holder = part.closest("[data-zoom]"), id = part.dataset.part, q = new URLSearchParams(location.search);
    if (holder.dataset.flip && part.classList.contains("hand")) look(holder.dataset.flip);
    else { q.set("part", id); look("?" + q); }
  });
  document.addEventListener("change", e => {
    const side = e.target.matches?.(".act-in-hand .sides input[type=radio]") && e.target;
    if (side) { const q = new URLSearchParams(location.search); q.set("found", side.value.slice(-1)); look("?" + q); }
  });
  // What is in hand stays in hand when somebody else goes on: the address names it.
  const here = $("#live")?.dataset.here;
  if (here && !location.search) history.replaceState(null, "", here);
  // A long trail shows where the act in hand stands, without moving the page.
  const inSight = () => { const a = $(".trail-list [aria-current]"), list = a?.closest(".trail-list"); if (list && list.scrollHeight > list.clientHeight) list.scrollTop = a.offsetTop - list.clientHeight / 3; };
  document.addEventListener("iron-seat:swapped", inSight);
  inSight();
  if (body.dataset.events && window.EventSource) {
    let first = true;
    const es = new EventSource(body.dataset.events);
    es.addEventListener("changed", refresh);
    // Something may have changed between the page and its stream: the stream says how far the record has come.
    es.addEventListener("hello", e => { const seen = $("#live")?.dataset.seen; if (!first || e.data && seen && seen !== e.data) refresh(); if (!first) send(); first = false; });
    addEventListener("pagehide", () => es.close());
  }

  // The queue of readings: kept in this browser until the server has acknowledged each, one key for each, so that two tabs never
  // write over each other's. A reading belongs to who typed it: it waits for that person, whoever signs in meanwhile.
  const KEY = "iron-seat-waiting:", me = body.dataset.person;
  const put = item => localStorage.setItem(KEY + item.id, JSON.stringify(item));
  const drop = item => localStorage.removeItem(KEY + item.id);
  function everything() {
    const all = Object.keys(localStorage).filter(k => k.startsWith(KEY)).sort();
    return all.flatMap(k => { try { return [JSON.parse(localStorage.getItem(k))]; } catch { return []; } });
  }
  const queue = () => everything().filter(i => i.person === me), others = () => everything().filter(i => i.person !== me);
  // Kept by an older page under one key for all.
  try { for (const i of JSON.parse(localStorage.getItem("iron-seat-waiting")) || []) put({ ...i, person: me, name: body.dataset.name }); } catch { /* nothing that can be read */ }
  localStorage.removeItem("iron-seat-waiting");
  // One tab sends at a time; without locks ids alone see to it that none is taken twice.
  const alone = work => navigator.locks ? navigator.locks.request("iron-seat-sending", work) : work();
  let sending = false, pause = 400;
  let refused = []; // readings of this page that were not taken while the person was further on already
  function markWaiting() {
    const q = queue(), box = $("#waiting"); if (!box) return;
    const here = $("#live")?.dataset.sheet;
    const waits = q.some(i => i.tried);
    refused = refused.filter(i => !$(`tr[data-cell="${CSS.escape(i.cell)}"]`)?.dataset.reading);
    const theirs = others();
    box.hidden = !waits && refused.length === 0 && theirs.length === 0;
    box.replaceChildren();
    for (const i of refused) {
      const p = document.createElement("div"), a = document.createElement("a");
      a.href = i.base + "?cell=" + i.cell; a.textContent = "Read it again";
      p.append(`${i.cell} “${i.text}” was not taken: ${i.why} `, a); box.append(p);
    }
    for (const name of new Set(theirs.map(i => i.name))) {
      const n = theirs.filter(i => i.name === name).length, p = document.createElement("div");
      p.textContent = `${n === 1 ? "1 reading" : n + " readings"} of ${name} ${n === 1 ? "waits" : "wait"} on this machine until ${name} signs in here.`; box.append(p);
    }
    if (waits) {
      const b = document.createElement("b"); b.textContent = q.length === 1 ? "1 reading waits to be sent:" : q.length + " readings wait to be sent:"; box.append(b);
      for (const i of q.slice(0, 12)) { const s = document.createElement("span"); s.className = "num"; s.textContent = i.cell + " " + i.text; box.append(" ", s); }
      const p = document.createElement("div"); p.textContent = q.some(i => i.signedOut) ? "You are signed out, or may not write just now: sign in again, they are sent then." : "They are sent by themselves, none twice."; box.append(p);
    }
    for (const i of q.filter(i => i.base === here)) {
      const row = $(`tr[data-cell="${CSS.escape(i.cell)}"]`);
      if (row) { row.classList.add("waits"); $("[data-value]", row).textContent = i.text + " waits"; }
    }
  }
  async function send() {
    if (sending || !me) return;
    sending = true;
    await sendAll();
    sending = false;
    markWaiting();
  }
  // One try, while no other tab tries: a tab whose sign-in is over must not keep the others from sending.
  async function tryOne(item) {
    if (localStorage.getItem(KEY + item.id) === null) return { elsewhere: true };
    let r, html;
    try {
      const form = new URLSearchParams({ id: item.id, cell: item.cell, text: item.text, over: item.over, instrument: item.instrument, units: item.units });
      if (item.sure) form.set("sure", "true");
      if (item.reason) form.set("reason", item.reason);
      r = await fetch(item.base + "/readings", { method: "POST", body: form, headers: { "HX-Request": "true", "X-CSRF-Token": body.dataset.csrf }, signal: AbortSignal.timeout(8000) });
      html = await r.text();
    } catch { r = null; }
    const final = r && (r.ok || r.status === 409 || r.status === 422 || r.status === 404);
    if (final) drop(item);
    else put({ ...item, tried: true, signedOut: r?.status === 401 || r?.status === 403 });
    return { r, html, final };
  }
  async function sendAll() {
    for (let q = queue(); q.length; q = queue()) {
      const item = q[0], { r, html, final, elsewhere } = await alone(() => tryOne(item));
      if (elsewhere) { refresh(); continue; }
      if (!final) {
        markWaiting();
        await new Promise(f => setTimeout(f, pause)); pause = Math.min(pause * 1.6, 4000);
        continue;
      }
      pause = 400;
      if ($("#live")?.dataset.sheet === item.base) {
        const more = busy || queue().some(i => i.base === item.base);
        // A correction is done: the address names its cell no longer, so that a refresh goes on as well.
        if (r.ok && location.search) history.replaceState(null, "", item.base);
        // Refused: the sentence stands beside the entry with what was typed, unless the person is further on already.
        if (r.ok && busy) again = true;
        else if (r.status !== 404 && (r.ok || !more)) { keepTyping = r.ok; swap(html); keepTyping = true; $("#entry #text")?.focus(); }
        if (!r.ok && more) refused.push({ ...item, why: $('[role="alert"]', new DOMParser().parseFromString(html, "text/html"))?.textContent.trim() || "see its sheet." });
        else if (!r.ok) $("#entry #text")?.select();
      } else if (!r.ok) alert(`The reading ${item.text} for ${item.cell} was not taken. Open its sheet and read it again.`);
      markWaiting();
    }
  }
  addEventListener("storage", e => { if (e.key?.startsWith(KEY)) markWaiting(); });
  // The form holds a field named "id", so form.id is that field.
  const isEntry = form => form.getAttribute("id") === "entry";
  function take(form, text, sure) {
    const v = n => form.elements.namedItem(n)?.value || "";
    const base = form.getAttribute("action").replace(/\/readings$/, "");
    put({ id: uuid7(), person: me, name: body.dataset.name, base, cell: v("cell"), text, over: v("over"), instrument: v("instrument"), units: v("units"), reason: v("reason"), sure: !!sure });
    markWaiting();
    // Go on to the next empty cell at once; the server's answer replaces this.
    const rows = $$("tr[data-cell]"), at = rows.findIndex(r => r.dataset.cell === v("cell"));
    const next = [...rows.slice(at + 1), ...rows.slice(0, at)].find(r => !r.dataset.reading && !queue().some(i => i.base === base && i.cell === r.dataset.cell));
    if (isEntry(form) && next) {
      aim(form, rows, next, "");
      const t = $("#text"); if (t) t.value = "";
    } else { const t = $("#text"); if (t) t.value = ""; } // an answered question: its text is sent now
    send();
  }
  document.addEventListener("submit", e => {
    const form = e.target, by = e.submitter;
    if (isEntry(form) || form.matches(".ask-form")) {
      e.preventDefault();
      const text = by?.name === "text" ? by.value : form.elements.namedItem("text")?.value ?? "";
      take(form, text, form.elements.namedItem("sure"));
    }
  });
  send();

  // A chosen instrument hands the keys back to the entry.
  document.addEventListener("htmx:afterSwap", () => { swaps++; $("#entry #text")?.focus(); markWaiting(); });

  // The call forms while typing.
  let timer, last;
  document.addEventListener("input", e => {
    if (e.target.id !== "text") return;
    clearTimeout(timer);
    timer = setTimeout(async () => {
      const form = $("#entry"); if (!form) return;
      const q = new URLSearchParams({ cell: form.elements.namedItem("cell").value, text: e.target.value });
      const mine = last = {};
      try {
        const r = await fetch(form.dataset.preview + "?" + q);
        if (!r.ok || mine !== last) return;
        const fresh = $("#judged", new DOMParser().parseFromString(await r.text(), "text/html"));
        if (fresh && $("#judged")) $("#judged").replaceWith(document.adoptNode(fresh));
      } catch { /* the stored call stays in view */ }
    }, 140);
  });

  // Keys. Plain digits are never shortcuts: they go into the entry, also from a gauge that types and sends Enter.
  const typing = t => t.matches?.("input, textarea, select, [contenteditable]");
  document.addEventListener("keydown", e => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const t = e.target, dialog = $("#keys");
    if (dialog.open) return;
    if (t.id === "text" && e.key === "Enter" && e.shiftKey) {
      e.preventDefault();
      const rows = $$("tr[data-cell]"), at = rows.findIndex(r => r.classList.contains("active"));
      const back = rows[at > 0 ? at - 1 : 0]; if (back) $("a", back).click();
      return;
    }
    if (typing(t)) { if (e.key === "Escape") t.blur(); return; }
    const entry = $("#text");
    if (entry && /^[0-9.,+\-−]$/.test(e.key)) { e.preventDefault(); entry.focus(); entry.value += e.key; entry.dispatchEvent(new Event("input", { bubbles: true })); return; }
    const go = el => { if (el) { e.preventDefault(); el.click(); } };
    const steps = $$(".trail-list details[open] li a"), here = steps.findIndex(a => a.getAttribute("aria-current"));
    switch (e.key) {
      case "?": e.preventDefault(); dialog.showModal(); break;
      case "/": { const f = $('[data-key="/"]'); if (f) { e.preventDefault(); f.focus(); } else location.href = "/"; break; }
      case "u": go($('[data-key="u"]')); break;
      case "c": $("#clocks a")?.focus(); break;
      case "n": if ($(".bench-grid")) { e.preventDefault(); location.href = location.pathname; } break;
      case "j": go(steps[here + 1]); break;
      case "k": go(steps[here - 1]); break;
      case "b": go($("[data-back]")); break;
      case "s": { const seats = $$("[data-seat-link]"); go(seats[(seats.findIndex(a => a.getAttribute("aria-current")) + 1) % seats.length]); break; }
      case "Enter": if (t === body) go($("[data-primary]")); break;
    }
  });
  document.addEventListener("click", e => {
    if (e.target.closest("[data-print]")) print();
    const open = $(".person[open]"); if (open && !open.contains(e.target)) open.open = false;
  });
})();

/* A drawing that can be brought nearer: wheel, two fingers, drag, and + - 0 and the arrows when it has the focus. */
(() => {
  const views = new Map();
  const boxOf = (svg) => svg.viewBox.baseVal;
  function whole(svg) {
    if (!svg.dataset.whole) svg.dataset.whole = svg.getAttribute("viewBox");
    return svg.dataset.whole.split(" ").map(Number);
  }
  function show(holder, box) {
    const svg = holder.querySelector("svg"), [x, y, w, h] = whole(svg);
    const width = Math.min(w, Math.max(w / 12, box[2])), height = width * h / w;
    const next = [Math.min(x + w - width, Math.max(x, box[0])), Math.min(y + h - height, Math.max(y, box[1])), width, height];
    svg.setAttribute("viewBox", next.map((v) => v.toFixed(2)).join(" "));
    holder.classList.toggle("moved", width < w - 1);
    if (holder.dataset.zoom !== "off") views.set(location.pathname, next);
  }
  function zoom(holder, by, cx = 0.5, cy = 0.5) {
    const b = boxOf(holder.querySelector("svg")), w = b.width * by, h = b.height * by;
    show(holder, [b.x + (b.width - w) * cx, b.y + (b.height - h) * cy, w, h]);
  }
  function pan(holder, dx, dy) {
    const b = boxOf(holder.querySelector("svg"));
    show(holder, [b.x + dx * b.width, b.y + dy * b.height, b.width, b.height]);
  }
  function ready(root) {
    root.querySelectorAll("[data-zoom]").forEach((holder) => {
      if (holder.querySelector(".zooms")) return;
      const svg = holder.querySelector("svg");
      if (!svg) return;
      whole(svg);
      const bar = document.createElement("div");
      bar.className = "zooms";
      [["+", "Nearer", 0.7], ["\u2212", "Farther", 1 / 0.7], ["\u2922", "All of it", 99]].forEach(([t, label, by]) => {
        const b = document.createElement("button");
        b.type = "button"; b.textContent = t; b.title = label; b.setAttribute("aria-label", label);
        b.addEventListener("click", () => zoom(holder, by));
        bar.append(b);
      });
      holder.append(bar);
      const kept = views.get(location.pathname);
      if (kept) show(holder, kept);
      holder.addEventListener("wheel", (e) => {
        if (!e.ctrlKey && !holder.matches(":focus-within") && !holder.classList.contains("moved")) return;
        e.preventDefault();
        const r = svg.getBoundingClientRect();
        zoom(holder, e.deltaY > 0 ? 1.15 : 1 / 1.15, (e.clientX - r.left) / r.width, (e.clientY - r.top) / r.height);
      }, { passive: false });
      const fingers = new Map();
      let apart = 0;
      holder.addEventListener("pointerdown", (e) => { fingers.set(e.pointerId, [e.clientX, e.clientY]); apart = 0; });
      holder.addEventListener("pointermove", (e) => {
        const was = fingers.get(e.pointerId);
        if (!was) return;
        const r = svg.getBoundingClientRect();
        fingers.set(e.pointerId, [e.clientX, e.clientY]);
        if (fingers.size === 2) {
          const [a, b] = [...fingers.values()], d = Math.hypot(a[0] - b[0], a[1] - b[1]);
          if (apart) zoom(holder, apart / d, ((a[0] + b[0]) / 2 - r.left) / r.width, ((a[1] + b[1]) / 2 - r.top) / r.height);
          apart = d;
        } else if (holder.classList.contains("moved")) {
          pan(holder, (was[0] - e.clientX) / r.width, (was[1] - e.clientY) / r.height);
        }
      });
      ["pointerup", "pointercancel", "pointerleave"].forEach((t) => holder.addEventListener(t, (e) => { fingers.delete(e.pointerId); apart = 0; }));
      holder.addEventListener("keydown", (e) => {
        if (e.target !== holder) return;
        const act = { "+": () => zoom(holder, 0.7), "=": () => zoom(holder, 0.7), "-": () => zoom(holder, 1 / 0.7), "0": () => zoom(holder, 99), ArrowLeft: () => pan(holder, -0.15, 0), ArrowRight: () => pan(holder, 0.15, 0), ArrowUp: () => pan(holder, 0, -0.15), ArrowDown: () => pan(holder, 0, 0.15) }[e.key];
        if (act) { e.preventDefault(); e.stopPropagation(); act(); }
      });
    });
  }
  document.addEventListener("DOMContentLoaded", () => ready(document));
  document.addEventListener("htmx:afterSettle", (e) => ready(e.target));
  document.addEventListener("iron-seat:swapped", (e) => ready(e.target));

  /* The drawing board: touch a part or land, drop a kind from the shelf on a land, undo and redo by keys. */
  const board = () => document.querySelector(".board");
  function look(query) {
    const b = board();
    history.replaceState(null, "", b.dataset.draft + "?" + query);
    htmx.ajax("GET", b.dataset.draft + "?" + query, { target: "#board", swap: "innerHTML" });
  }
  function send(values) {
    const b = board();
    htmx.ajax("POST", b.dataset.draft, { target: "#board", swap: "innerHTML", values: { ...values, seen: b.dataset.seen, _csrf: document.body.dataset.csrf } });
  }
  document.addEventListener("click", (e) => {
    if (!board()) return;
    const link = e.target.closest("[data-pick-part],[data-pick-land]");
    const part = e.target.closest(".board svg [data-part]"), land = e.target.closest(".board svg [data-land]");
    if (link) { e.preventDefault(); look(link.dataset.pickPart ? "part=" + encodeURIComponent(link.dataset.pickPart) : "land=" + encodeURIComponent(link.dataset.pickLand)); }
    else if (part) look("part=" + encodeURIComponent(part.dataset.part));
    else if (land) look("land=" + encodeURIComponent(land.dataset.land));
  });
  /* An edit answers with the whole board: what had the focus has it again, or what was refused has it. Of things that look
     the same the one at the same place among them is meant. */
  const alike = (e) => [e.tagName, e.name || "", e.dataset.kind || "", e.dataset.pickPart || e.dataset.pickLand || "", e.matches("button,summary") ? e.textContent : "", e.form?.elements.namedItem("op")?.value || ""].join("|");
  const same = (root, sign) => [...root.querySelectorAll("a,button,input,select,summary,textarea,[tabindex]")].filter((e) => alike(e) === sign);
  let hadFocus = null;
  document.addEventListener("iron-seat:asked", (e) => {
    const f = document.activeElement, root = e.target, sign = root.contains(f) && alike(f);
    hadFocus = sign ? [sign, same(root, sign).indexOf(f)] : null;
  });
  document.addEventListener("htmx:afterSwap", (e) => {
    if (e.detail.target.id !== "board") return;
    const root = e.detail.target, wrong = root.querySelector("[aria-invalid]");
    if (wrong) { wrong.focus(); return; }
    const list = hadFocus ? same(root, hadFocus[0]) : [];
    if (hadFocus) (list[hadFocus[1]] || list.at(-1) || root.querySelector("[data-zoom]"))?.focus({ preventScroll: true });
    // What was asked for is shown, even when it was asked for from far down the lists.
    if (e.detail.requestConfig.verb === "get") root.querySelector(".in-hand")?.scrollIntoView({ block: "nearest" });
  });
  let dragged = null;
  /* Where a part would land: the land under it, or the housing, then with the land it stands over. */
  function targetUnder(x, y) {
    const under = document.elementsFromPoint(x, y);
    const land = under.find((e) => e.dataset && e.dataset.land);
    if (land) return { mark: land, land: land.dataset.land };
    const house = under.map((e) => e.closest && e.closest(".board [data-housing]")).find(Boolean);
    if (!house) return null;
    const lands = [...document.querySelectorAll(".board .land-target")], boxes = lands.map((l) => l.getBoundingClientRect());
    const near = lands.map((l, i) => [Math.max(boxes[i].left - x, x - boxes[i].right, 0), l]).sort((p, q) => p[0] - q[0])[0];
    return near && { mark: house, land: near[1].dataset.land, housing: house.dataset.housing };
  }
  function mark(target) {
    document.querySelectorAll(".board svg .drop").forEach((x) => x.classList.toggle("drop", !!target && x === target.mark));
    if (target) target.mark.classList.add("drop");
  }
  function land(target) {
    mark(null);
    if (target) send({ op: "add-part", kind: dragged, land: target.land, housing: target.housing || "" });
    dragged = null;
  }
  document.addEventListener("dragstart", (e) => { const k = e.target.closest && e.target.closest("[data-kind]"); if (k) { dragged = k.dataset.kind; e.dataTransfer.setData("text/plain", dragged); e.dataTransfer.effectAllowed = "copy"; } });
  document.addEventListener("dragend", () => { dragged = null; mark(null); });
  document.addEventListener("dragover", (e) => {
    if (!dragged || !board()) return;
    const t = targetUnder(e.clientX, e.clientY);
    mark(t);
    if (t) { e.preventDefault(); e.dataTransfer.dropEffect = "copy"; }
  });
  document.addEventListener("drop", (e) => {
    const t = dragged && board() && targetUnder(e.clientX, e.clientY);
    if (t) { e.preventDefault(); land(t); }
  });
  /* By finger: pull a kind off the shelf, a slip with its name follows, let it go over the drawing. A short touch still presses. */
  let slip = null, from = null;
  document.addEventListener("pointerdown", (e) => {
    const k = e.pointerType !== "mouse" && e.target.closest && e.target.closest(".shelf [data-kind]");
    if (k) from = { k, x: e.clientX, y: e.clientY, id: e.pointerId };
  });
  document.addEventListener("pointermove", (e) => {
    if (!from || e.pointerId !== from.id) return;
    if (!slip && Math.hypot(e.clientX - from.x, e.clientY - from.y) > 14) {
      slip = document.createElement("div");
      slip.className = "slip"; slip.textContent = from.k.textContent; document.body.append(slip);
      dragged = from.k.dataset.kind;
    }
    if (slip) { slip.style.transform = `translate(${e.clientX + 10}px, ${e.clientY - 46}px)`; mark(targetUnder(e.clientX, e.clientY)); }
  });
  const letGo = (e) => {
    if (!from || e.pointerId !== from.id) return;
    if (slip) {
      slip.remove(); slip = null;
      const k = from.k, stop = (c) => { c.preventDefault(); c.stopPropagation(); };
      k.addEventListener("click", stop, { capture: true, once: true });
      setTimeout(() => k.removeEventListener("click", stop, { capture: true }), 60);
      land(e.type === "pointerup" ? targetUnder(e.clientX, e.clientY) : null);
    }
    from = null;
  };
  document.addEventListener("pointerup", letGo);
  document.addEventListener("pointercancel", letGo);
  document.addEventListener("keydown", (e) => {
    if (!board() || !(e.ctrlKey || e.metaKey) || e.target.closest("input,textarea,select")) return;
    const key = e.key.toLowerCase();
    const op = key === "z" && !e.shiftKey ? "undo" : key === "y" || (key === "z" && e.shiftKey) ? "redo" : null;
    if (op) { e.preventDefault(); send({ op }); }
  });
  document.addEventListener("change", (e) => {
    const file = e.target.matches && e.target.matches("[data-reads-into]") && e.target.files[0];
    if (file) file.text().then((t) => { document.getElementById(e.target.dataset.readsInto).value = t; });
  });
  document.addEventListener("submit", (e) => { const q = e.target.dataset && e.target.dataset.confirm; if (q && !window.confirm(q)) e.preventDefault(); });
})();
