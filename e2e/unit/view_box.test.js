// What of a drawing is shown: node --test.
import assert from "node:assert/strict";
import { test } from "node:test";
import { KEYS, moved, scaled, within } from "../../crates/web/assets/js/view_box.js";

const ALL = [0, 0, 1200, 400];

test("nothing beside the drawing is shown, nothing smaller than can be read, and its shape stays", () => {
  assert.deepEqual(within(ALL, [-50, -50, 600, 1]), [0, 0, 600, 200]);
  assert.deepEqual(within(ALL, [900, 390, 600, 1]), [600, 200, 600, 200]);
  assert.deepEqual(within(ALL, [0, 0, 9000, 1]), ALL);
  assert.deepEqual(within(ALL, [10, 10, 1, 1]), [10, 10, 100, 400 / 12]);
  // A drawing that does not begin at nought.
  assert.deepEqual(within([-40, 30, 80, 40], [-99, 0, 40, 20]), [-40, 30, 40, 20]);
});

test("what lies under the pointer stays there while it is brought nearer", () => {
  for (const [cx, cy] of [
    [0, 0],
    [0.25, 0.75],
    [1, 1],
  ]) {
    const box = [100, 50, 600, 200],
      [x, y, w, h] = scaled(box, 0.5, cx, cy);
    assert.ok(Math.abs(x + w * cx - (box[0] + box[2] * cx)) < 1e-9 && Math.abs(y + h * cy - (box[1] + box[3] * cy)) < 1e-9);
  }
  assert.deepEqual(scaled(scaled([1, 2, 30, 10], 0.5), 2), [1, 2, 30, 10]);
});

test("keys: nearer and back is where it was, and 0 shows all", () => {
  const key = (box, k) => {
    const [by, dx, dy] = KEYS[k];
    return within(ALL, by === 1 ? moved(box, dx, dy) : scaled(box, by));
  };
  const near = key(ALL, "+");
  assert.ok(near[2] < ALL[2]);
  assert.deepEqual(key(near, "0"), ALL);
  assert.deepEqual(
    key(near, "-").map(v => Math.round(v)),
    ALL,
  );
  const right = key(near, "ArrowRight");
  assert.ok(right[0] > near[0] && right[1] === near[1]);
  assert.ok(Math.abs(key(right, "ArrowLeft")[0] - near[0]) < 1e-9);
});
