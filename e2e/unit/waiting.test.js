// The queue of readings by itself: node --test.
import assert from "node:assert/strict";
import { test } from "node:test";
import { Waiting, uuid7 } from "../../crates/web/assets/js/waiting.js";

class Kept {
  #m = new Map();
  get length() {
    return this.#m.size;
  }
  key(i) {
    return [...this.#m.keys()][i] ?? null;
  }
  getItem(k) {
    return this.#m.get(k) ?? null;
  }
  setItem(k, v) {
    this.#m.set(k, String(v));
  }
  removeItem(k) {
    this.#m.delete(k);
  }
}
const says = (status, text = "") => ({ status, ok: status < 400, text: async () => text });
const queue = (storage, me, post, more = {}) => new Waiting({ storage, me, name: me, post, rest: async () => {}, ...more });
const reading = cell => ({ base: "/sheet", cell, text: "40.008" });

test("ids are version 7, of their moment, and sort by time", () => {
  const all = Uint8Array.from({ length: 16 }, () => 255);
  assert.match(uuid7(), /^[0-9a-f]{8}-[0-9a-f]{4}-7[0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/);
  assert.equal(uuid7(0x0123456789ab, all), "01234567-89ab-7fff-bfff-ffffffffffff");
  assert.ok(uuid7(1000, all) < uuid7(1001, all));
  assert.equal(new Set(Array.from({ length: 1000 }, () => uuid7())).size, 1000);
});

test("each is sent once, in the order typed, and forgotten only when it was acknowledged", async () => {
  const storage = new Kept(),
    sent = [];
  const q = queue(storage, "ines", async i => (sent.push(i.cell), says(200)));
  for (const c of ["A1", "B1", "C1"]) q.take({ ...reading(c), id: uuid7(1000 + sent.length + "ABC".indexOf(c[0])) });
  const ended = [];
  await q.send({ final: i => ended.push(i.cell) });
  assert.deepEqual(sent, ["A1", "B1", "C1"]);
  assert.deepEqual(ended, sent);
  assert.equal(storage.length, 0);
});

test("no answer, a server in trouble and a sign-in that is over keep it, with the same id", async () => {
  const storage = new Kept(),
    ids = [],
    waits = [];
  const answers = [
    () => {
      throw new Error("no network");
    },
    () => says(503),
    () => says(507),
    () => says(401),
    () => says(403),
    () => says(200),
  ];
  const rests = [];
  const q = queue(storage, "ines", async i => (ids.push(i.id), answers.shift()()), {
    rest: async ms => {
      rests.push(ms);
    },
  });
  q.take(reading("A1"));
  await q.send({ kept: () => waits.push(q.own()[0]) });
  assert.equal(ids.length, 6);
  assert.equal(new Set(ids).size, 1);
  assert.equal(storage.length, 0);
  assert.deepEqual(
    waits.map(i => i.signedOut),
    [false, false, false, true, true],
  );
  assert.ok(waits.every(i => i.tried));
  assert.ok(rests.every((ms, k) => k === 0 || ms >= rests[k - 1]) && rests.at(-1) <= 4000, String(rests));
});

test("a body that breaks off is no acknowledgement", async () => {
  const broken = {
    status: 200,
    ok: true,
    text: async () => {
      throw new Error("cut off");
    },
  };
  const answers = [broken, says(200)],
    storage = new Kept();
  const q = queue(storage, "ines", async () => answers.shift());
  q.take(reading("A1"));
  let kept = 0;
  await q.send({ kept: () => kept++ });
  assert.equal(kept, 1);
});

test("refused ones come to their end, with what was said", async () => {
  for (const status of [404, 409, 422]) {
    const storage = new Kept(),
      q = queue(storage, "ines", async () => says(status, "no number"));
    q.take(reading("A1"));
    const ended = [];
    await q.send({ final: (i, a, html) => ended.push([a.status, html]) });
    assert.deepEqual(ended, [[status, "no number"]]);
    assert.equal(storage.length, 0);
  }
});

test("a reading waits for who typed it, whoever signs in meanwhile", async () => {
  const storage = new Kept(),
    sent = [];
  queue(storage, "tomasz", async () => says(503)).take(reading("A1"));
  const post = async i => (sent.push(i.person), says(200));
  const other = queue(storage, "yuki", post);
  other.take(reading("B1"));
  await other.send({});
  assert.deepEqual(sent, ["yuki"]);
  assert.deepEqual(
    other.others().map(i => i.person),
    ["tomasz"],
  );
  await queue(storage, "", post).send({});
  assert.deepEqual(sent, ["yuki"], "nobody signed in sends nothing");
  await queue(storage, "tomasz", post).send({});
  assert.deepEqual(sent, ["yuki", "tomasz"]);
});

test("what another tab has sent is not sent again", async () => {
  const storage = new Kept(),
    sent = [];
  let first = true;
  // Before its turn comes the other tab sends it.
  const alone = async work => {
    if (first) {
      first = false;
      storage.removeItem(storage.key(0));
    }
    return work();
  };
  const q = queue(storage, "ines", async i => (sent.push(i), says(200)), { alone });
  q.take(reading("A1"));
  let elsewhere = 0;
  await q.send({ elsewhere: () => elsewhere++ });
  assert.deepEqual([sent.length, elsewhere], [0, 1]);
});

test("sending twice at once sends once; what cannot be read is left alone; an older page's list is taken over", async () => {
  const storage = new Kept(),
    sent = [];
  storage.setItem("iron-seat-waiting", JSON.stringify([{ id: uuid7(), ...reading("D4") }]));
  storage.setItem("iron-seat-waiting:x", "{broken");
  storage.setItem("theme", "dark");
  const q = queue(storage, "ines", async i => (sent.push(i.cell), says(200)));
  await Promise.all([q.send({}), q.send({})]);
  assert.deepEqual(sent, ["D4"]);
  assert.equal(storage.getItem("theme"), "dark");
  assert.equal(storage.getItem("iron-seat-waiting"), null);
});
