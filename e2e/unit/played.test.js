// How a machine stands while its procedure is played: node --test.
import assert from "node:assert/strict";
import { test } from "node:test";
import { joints, standing } from "../../crates/web/assets/js/played.js";

const act = (moves, more = {}) => ({ moves, off: true, way: 0, half: false, stack: [], tight: false, ...more });

test("what came off is off with its way until it goes on again", () => {
  const acts = [
    act(["cover"], { way: 1 }),
    act(["nut", "washer"], { way: 1 }),
    act(["washer"], { off: false }),
    act(["nut"], { off: false }),
  ];
  assert.deepEqual([...standing(acts, 0).out], []);
  assert.deepEqual([...standing(acts, 2).out.keys()], ["cover", "nut", "washer"]);
  assert.equal(standing(acts, 2).out.get("cover"), 1);
  assert.deepEqual([...standing(acts, 3).out.keys()], ["cover", "nut"]);
  assert.deepEqual([...standing(acts, 4).out.keys()], ["cover"]);
});

test("the upper half of a housing leaves alone, and both are gone when the rest does", () => {
  const acts = [act(["case"], { half: true, way: 0 }), act(["case"], { way: -1 }), act(["case"], { off: false })];
  assert.deepEqual([...standing(acts, 1).out.keys()], ["case half"]);
  assert.deepEqual([...standing(acts, 2).out.keys()].sort(), ["case", "case half"]);
  // The lower half lies there, the upper one is still off.
  assert.deepEqual([...standing(acts, 3).out.keys()], ["case half"]);
});

test("a stack is tight from its tightening to its loosening", () => {
  const stack = ["ring", "spacer", "nut"];
  const acts = [act([], { stack, tight: true }), act([], { stack: ["cup", "cover"], tight: true }), act([], { stack, tight: false })];
  assert.deepEqual([...standing(acts, 1).tight], stack);
  assert.deepEqual([...standing(acts, 2).tight].sort(), ["cover", "cup", "nut", "ring", "spacer"]);
  assert.deepEqual([...standing(acts, 3).tight], ["cup", "cover"]);
});

test("bolts are tight until they are loosened, away with their flange, and tight again after their torque", () => {
  const did = (more, body = "") => ({ body, bolts: null, hot: null, ...more });
  const acts = [
    did({ bolts: ["cover", "slack"] }),
    did({ bolts: ["cover", "away"] }),
    did({ hot: true }, "brg"),
    did({ bolts: ["brg", "slack"] }, "brg"),
    did({ hot: false }, "brg"),
    did({ bolts: ["cover", "slack"] }),
    did({ bolts: ["cover", "tight"] }),
  ];
  const bolts = k => joints(acts, k).bolts.get("cover");
  assert.deepEqual([0, 1, 2, 5, 6, 7].map(bolts), [undefined, "slack", "away", "away", "slack", "tight"]);
  assert.deepEqual(
    [2, 3, 4, 5].map(k => [...joints(acts, k).hot]),
    [[], ["brg"], ["brg"], []],
  );
});
