// The page kept up to date: another browser, or another process, changed something.
import { $, $$, parsed, say } from "./dom.js";

/** What is on its way: `under` requests of htmx, whether to ask `again` when they are through, how often the live part was made anew. */
export const asked = { under: 0, again: false, swaps: 0 };

/**
 * Brings the live part up to what the server says: what is being typed stays, and where the focus is. `keepTyping` is false when
 * the server speaks about what was typed.
 */
export function swap(html, keepTyping = true) {
  const live = $("#live"),
    fresh = $("#live", parsed(html));
  if (!live || !fresh) return;
  const typed = $$("[data-keep], textarea, input[type=password]", live).filter(e => e.value);
  const kept = new Map(typed.map(e => [e.name, e.value]));
  // What stands beside a sheet's readings is one form as long as the page is: what is typed there stays until it is
  // kept.
  const beside = new Map(
    $$("[data-beside] :is(input, select, textarea)", live)
      .filter(touched)
      .map(e => [e.name, e.value]),
  );
  const value = selector => $(selector, live)?.value;
  const entry = { text: value("#entry #text"), cell: value("#entry [name=cell]"), over: value("#entry [name=over]"), keepTyping };
  const focus = document.activeElement;
  const focused = live.contains(focus) ? focus.id || focus.name || focus.dataset.step : null;
  const open = new Set($$("details[open] > summary", live).map(s => s.textContent));
  Idiomorph.morph(live, fresh, { morphStyle: "outerHTML", ignoreActiveValue: keepTyping });
  asked.swaps++;
  const now = $("#live");
  htmx.process(now);
  for (const [name, text] of kept) {
    const e = $(`[name="${name}"]`, now);
    if (e && !e.value) e.value = text;
  }
  for (const [name, text] of beside) {
    const e = $(`[data-beside] [name="${name}"]`, now);
    if (e) e.value = text;
  }
  for (const s of $$("details > summary", now)) if (open.has(s.textContent)) s.parentElement.open = true;
  say("swapped", entry, now);
  if (focused && !now.contains(document.activeElement)) {
    const name = CSS.escape(focused);
    ($(`#${name}`, now) ?? $(`[name="${name}"]`, now) ?? $(`[data-step="${name}"]`, now))?.focus();
  }
}

// A part swapped while an answer of htmx is under way would leave that answer nowhere to go, so nothing else swaps
// until then.
document.addEventListener("htmx:beforeRequest", e => {
  if (asked.under++) asked.again = true; // of two at once the later answer finds its place taken
  e.detail.xhr.addEventListener("loadend", () => {
    asked.under--;
    if (asked.again && !asked.under) {
      asked.again = false;
      refresh();
    }
  });
});
document.addEventListener("htmx:afterSwap", () => asked.swaps++);

/** Whether somebody typed or chose something in a field since the page was made. */
function touched(e) {
  if (e.options) return [...e.options].some(o => o.selected !== (o.defaultSelected || (o.index === 0 && !$("[selected]", e))));
  if (e.type === "radio" || e.type === "checkbox") return e.checked !== e.defaultChecked;
  return e.id !== "text" && e.type !== "hidden" && e.value !== e.defaultValue;
}

/** Whether something is typed, chosen or said that a refresh must not sweep away. */
function inHand() {
  // While a picture is being chosen its field has the focus: what is chosen must find the field still there.
  return $('#live [role="alert"]') || $("#live [type=file]:focus") || $$("#live [data-in-hand] input").some(touched);
}

let fetching = false;
/** Asks the server for the page of now. */
export async function refresh() {
  if (fetching) {
    asked.again = true;
    return;
  }
  fetching = true;
  const before = asked.swaps;
  try {
    const r = await fetch(location.href, { headers: { "HX-Request": "true" } });
    const html = await r.text();
    // Older than what stands here by now, such as the answer to a reading: asked for anew.
    if (r.ok && (asked.under || before !== asked.swaps)) asked.again = true;
    else if (r.ok) show(html);
    if (r.ok) {
      const c = await fetch("/clocks");
      if (c.ok) {
        $("#clocks").innerHTML = await c.text();
        say("clocks");
      }
    }
  } catch {
    /* the stream will say so again */
  }
  fetching = false;
  if (asked.again && !asked.under) {
    asked.again = false;
    refresh();
  }
}

// A sentence that stands beside an entry, or what is being typed, is not swept away by what somebody else does: only
// the parts that the page names are brought up to date then.
function show(html) {
  const parts = $("#live")?.dataset.meanwhile;
  if (!parts || !inHand()) return swap(html);
  const doc = parsed(html);
  for (const part of parts.split(",")) {
    const a = $(part),
      b = $(part, doc);
    if (a && b) a.replaceWith(document.adoptNode(b));
  }
  say("swapped", null);
}

/** Opens the stream of changes that the page names. */
export function listen() {
  const address = document.body.dataset.events;
  if (!address || !window.EventSource) return;
  let first = true;
  const stream = new EventSource(address);
  stream.addEventListener("changed", refresh);
  // Something may have changed between the page and its stream: the stream says how far the record has come.
  stream.addEventListener("hello", e => {
    const seen = $("#live")?.dataset.seen;
    if (!first || (e.data && seen && seen !== e.data)) refresh();
    if (!first) say("back");
    first = false;
  });
  addEventListener("pagehide", () => stream.close());
}
