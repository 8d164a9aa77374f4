// The part of a drawing that is shown: [x, y, width, height] in its own units. No page here: tried by itself in view_box.test.js.

/** How many times nearer a drawing is brought at most. */
const NEAREST = 12;

/** The box that is shown when this one is asked for: no smaller than can be read, never beside the drawing. */
export function within([x, y, w, h], [left, top, wide]) {
  const width = Math.min(w, Math.max(w / NEAREST, wide)),
    height = (width * h) / w;
  return [Math.min(x + w - width, Math.max(x, left)), Math.min(y + h - height, Math.max(y, top)), width, height];
}

/** So many times as wide; what lies at the share (cx, cy) of the box stays where it is. */
export function scaled([x, y, w, h], by, cx = 0.5, cy = 0.5) {
  return [x + (w - w * by) * cx, y + (h - h * by) * cy, w * by, h * by];
}

/** Moved by shares of what is shown. */
export function moved([x, y, w, h], dx, dy) {
  return [x + dx * w, y + dy * h, w, h];
}

/** What a key does to a drawing: how many times as wide, or how far along. */
export const KEYS = {
  "+": [0.7],
  "=": [0.7],
  "-": [1 / 0.7],
  0: [99],
  ArrowLeft: [1, -0.15, 0],
  ArrowRight: [1, 0.15, 0],
  ArrowUp: [1, 0, -0.15],
  ArrowDown: [1, 0, 0.15],
};
