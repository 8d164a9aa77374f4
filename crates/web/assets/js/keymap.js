// What a key means. No page here: tried by itself in keymap.test.js.

const NAMES = { "?": "help", "/": "find", u: "undo", c: "clocks", n: "next", j: "below", k: "above", b: "back", s: "seat", Enter: "go on" };

/**
 * @param e as a keydown event: `key`, `shiftKey`, `ctrlKey`, `metaKey`, `altKey`
 * @param at where it was pressed: `entry` (in the entry itself), `typing` (in any field), `digits` (there is an entry that takes them)
 * @return the name of what is done, or null. Plain digits are never shortcuts: they go into the entry, also from a gauge that types and sends
 * Enter.
 */
export function meant(e, at) {
  if (e.ctrlKey || e.metaKey || e.altKey) return null;
  if (at.entry && e.key === "Enter" && e.shiftKey) return "cell before";
  if (at.typing) return e.key === "Escape" ? "leave" : null;
  if (at.digits && /^[0-9.,+\-−]$/.test(e.key)) return "digit";
  return NAMES[e.key] ?? null;
}

/** Undo and redo of the drawing board, outside of its fields. */
export function redone(e) {
  if (!(e.ctrlKey || e.metaKey)) return null;
  const key = e.key.toLowerCase();
  if (key === "z") return e.shiftKey ? "redo" : "undo";
  return key === "y" ? "redo" : null;
}

/** Which answer of the question in focus on the drawing board, from 1; null when it is none. */
export function answered(e) {
  return !e.ctrlKey && !e.metaKey && !e.altKey && /^[1-9]$/.test(e.key) ? Number(e.key) : null;
}
