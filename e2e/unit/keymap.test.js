// What keys mean: node --test.
import assert from "node:assert/strict";
import { test } from "node:test";
import { answered, meant, redone } from "../../crates/web/assets/js/keymap.js";

const key = (k, more = {}) => ({ key: k, shiftKey: false, ctrlKey: false, metaKey: false, altKey: false, ...more });
const page = { entry: false, typing: false, digits: false };

test("digits, signs and both decimal marks go into the entry, and are no shortcuts without one", () => {
  for (const k of [..."0123456789.,+-", "\u2212"]) {
    assert.equal(meant(key(k), { ...page, digits: true }), "digit", k);
    assert.equal(meant(key(k), page), null, k);
    assert.equal(meant(key(k), { ...page, typing: true, digits: true }), null, `${k} is typed already`);
  }
});

test("letters mean something on the page alone, never in a field, and never with Ctrl, Alt or Meta", () => {
  const names = {
    "?": "help",
    "/": "find",
    u: "undo",
    c: "clocks",
    n: "next",
    j: "below",
    k: "above",
    b: "back",
    s: "seat",
    Enter: "go on",
  };
  for (const [k, name] of Object.entries(names)) {
    assert.equal(meant(key(k), page), name);
    assert.equal(meant(key(k), { ...page, typing: true }), null);
    for (const held of ["ctrlKey", "metaKey", "altKey"]) assert.equal(meant(key(k, { [held]: true }), page), null);
  }
  assert.equal(meant(key("x"), page), null);
});

test("in a field Escape leaves it; in the entry Shift and Enter go to the cell before", () => {
  assert.equal(meant(key("Escape"), { ...page, typing: true }), "leave");
  assert.equal(meant(key("Escape"), page), null);
  assert.equal(meant(key("Enter", { shiftKey: true }), { entry: true, typing: true, digits: true }), "cell before");
  assert.equal(meant(key("Enter"), { entry: true, typing: true, digits: true }), null, "the form is sent");
});

test("the board is undone and redone by either habit", () => {
  assert.equal(redone(key("z", { ctrlKey: true })), "undo");
  assert.equal(redone(key("Z", { metaKey: true, shiftKey: true })), "redo");
  assert.equal(redone(key("y", { ctrlKey: true })), "redo");
  assert.equal(redone(key("z")), null);
  assert.equal(redone(key("x", { ctrlKey: true })), null);
});

test("a digit alone is the answer of that number", () => {
  assert.equal(answered(key("3")), 3);
  assert.equal(answered(key("0")), null);
  assert.equal(answered(key("x")), null);
  for (const held of ["ctrlKey", "metaKey", "altKey"]) assert.equal(answered(key("3", { [held]: true })), null);
});
