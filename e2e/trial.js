// What must hold under strain, with figures: kills of server and database, two processes and eight writers, many
// listeners, readers beside writers, slow clients; or three nodes that are killed and hang. Started by bin/trial.
import { execFileSync, spawn, spawnSync } from "node:child_process";
import { randomBytes, randomInt } from "node:crypto";
import { readFileSync } from "node:fs";
import { connect } from "node:net";
import { uuid7 } from "../crates/web/assets/js/waiting.js";

const env = process.env,
  binary = env.IRONSEAT_BINARY;
const sleep = ms => new Promise(done => setTimeout(done, ms));
const say = (what, figures) => console.log(`${what.padEnd(58)} ${figures}`);
const failures = [];
const must = (true_, what) => {
  if (!true_) {
    failures.push(what);
    console.log("  NOT SO: " + what);
  }
};
const share = (list, of) => list.toSorted((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * of))];

/** A person at one server, or at several one after the other. */
class Person {
  cookie = "";
  csrf = "";
  constructor(addresses) {
    this.addresses = addresses;
  }
  async ask(path, options = {}) {
    const headers = { ...options.headers, cookie: this.cookie };
    const r = await fetch(this.addresses[0] + path, { redirect: "manual", signal: AbortSignal.timeout(10_000), ...options, headers });
    const set = r.headers.get("set-cookie");
    if (set) this.cookie = set.split(";")[0];
    return r;
  }
  async send(path, fields) {
    const body = new URLSearchParams({ ...fields, _csrf: this.csrf });
    return this.ask(path, { method: "POST", body, headers: { origin: this.addresses[0], "hx-request": "true" } });
  }
  async signIn(handle) {
    for (let n = 0; n < 60; n++) {
      try {
        const r = await this.send("/sign-in", { handle, password: "marrow-quay" });
        if (r.status === 303) {
          this.csrf = /data-csrf="([^"]+)"/.exec(await (await this.ask("/")).text())[1];
          return this;
        }
      } catch {
        /* not up yet */
      }
      await sleep(250);
    }
    throw new Error(`${handle} could not sign in`);
  }
  moveOn() {
    this.addresses.push(this.addresses.shift());
  }
}

/** Sends one reading until it is acknowledged or refused, as the page does. */
async function reading(person, sheet, cell, text, over = "") {
  const id = uuid7();
  for (let tries = 1; ; tries++) {
    try {
      const r = await person.send(sheet + "/readings", { id, cell, text, over, sure: "true", units: "metric" });
      await r.arrayBuffer();
      if (r.ok) return { id, tries, status: r.status };
      if ([404, 409, 422].includes(r.status)) return { id: null, tries, status: r.status };
    } catch {
      person.moveOn();
    }
    if (tries > 400) throw new Error("a reading was never taken");
    await sleep(randomInt(20, 120));
  }
}

// On the first of the servers that answers.
const sql = (text, servers = JSON.parse(env.TRIAL_SQL)) => {
  let last;
  for (const server of servers) {
    try {
      return execFileSync("mariadb", [...server, "-N", "-e", text], { stdio: ["ignore", "pipe", "ignore"], timeout: 5000 })
        .toString()
        .trim();
    } catch (e) {
      last = e;
    }
  }
  throw last;
};
const ids = () =>
  Object.fromEntries(
    sql("SELECT number, LOWER(HEX(id)) FROM rebuilds")
      .split("\n")
      .map(l => l.split("\t")),
  );
const dashed = h => h.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
// What it says of each chain; exit code 1 when one is not whole.
const verify = (url = env.DATABASE_URL) => {
  const r = spawnSync(binary, ["verify", "--database", url]);
  const faults = r.stdout
    .toString()
    .split("\n")
    .filter(line => /broken|behind/.test(line));
  return { whole: r.status === 0 && faults.length === 0, said: faults.join("; ") + r.stderr.toString() };
};
const mustBeWhole = (where, url) => {
  const v = verify(url);
  must(v.whole, `chains and rows whole${where}: ${v.said}`);
};
const kept = list =>
  Number(sql(`SELECT COUNT(*) FROM readings WHERE id IN (${list.map(i => `x'${i.replaceAll("-", "")}'`).join(",") || "x''"})`));

function serve(port) {
  const child = spawn(binary, ["serve", "--port", String(port), "--database", env.DATABASE_URL], { stdio: "ignore" });
  return child;
}
async function up(address) {
  for (let n = 0; n < 200; n++) {
    try {
      if ((await fetch(address + "/readyz")).ok) return;
    } catch {
      /* not yet */
    }
    await sleep(50);
  }
  throw new Error("the server did not come up");
}
const [first, second] = [Number(env.TRIAL_PORT), Number(env.TRIAL_PORT) + 1];
const at = port => `http://127.0.0.1:${port}`;
// Cells of the journal's grid: what is typed is a correction once they are full.
const CELLS = ["A1", "B1", "C1", "D1", "A2", "B2", "C2", "D2"];

/** Writers that go on until told to stop; what was acknowledged to each. */
function writers(people, sheet) {
  const state = { going: true, acknowledged: [], refused: 0, tries: 0 };
  const work = people.map(async (person, k) => {
    let over = "";
    while (state.going) {
      const r = await reading(person, sheet, CELLS[k % CELLS.length], `40.0${randomInt(10, 99)}`, over);
      state.tries += r.tries;
      if (r.id) {
        state.acknowledged.push(r.id);
        over = r.id;
      } else {
        // Somebody else was in this cell: what stands there now is corrected, as a person would who sees it.
        state.refused++;
        const page = await (await person.ask(sheet).catch(() => null))?.text();
        const cell = CELLS[k % CELLS.length];
        over = new RegExp(`data-cell="${cell}" data-reading="([^"]*)"`).exec(page ?? "")?.[1] ?? over;
      }
    }
  });
  state.done = () => {
    state.going = false;
    return Promise.all(work);
  };
  return state;
}

async function killed(times) {
  let server = serve(first);
  await up(at(first));
  const sheet = `/rebuilds/${dashed(ids()["R-0412"])}/seats/de/sheets/journal`;
  const people = await Promise.all(["ines", "tomasz", "yuki", "pell"].map(h => new Person([at(first)]).signIn(h)));
  const w = writers(people, sheet);
  let databases = 0;
  for (let n = 0; n < times; n++) {
    await sleep(randomInt(30, 400));
    if (n % 4 === 3) {
      databases++;
      execFileSync("bash", ["-c", env.TRIAL_KILL_DATABASE]);
    } else {
      server.kill("SIGKILL");
      await new Promise(done => server.once("exit", done));
      server = serve(first);
    }
  }
  await up(at(first));
  await sleep(300);
  await w.done();
  server.kill("SIGTERM");
  const there = kept(w.acknowledged),
    twice = sql("SELECT COUNT(*) FROM (SELECT 1 FROM readings GROUP BY sheet_id, cell, seq HAVING COUNT(*) > 1) AS t");
  must(there === w.acknowledged.length, `${w.acknowledged.length} were acknowledged, ${there} are there`);
  must(twice === "0", "none twice in a place");
  mustBeWhole("");
  say(`${times} kills (${databases} of the database)`, `${w.acknowledged.length} readings acknowledged, ${there} there, ${w.tries} tries`);
}

async function together() {
  const servers = [serve(first), serve(second)];
  await Promise.all([up(at(first)), up(at(second))]);
  const journal = `/rebuilds/${dashed(ids()["R-0412"])}/seats/de/sheets/journal`;
  const handles = ["ines", "tomasz", "yuki", "pell"];
  const people = await Promise.all([...handles, ...handles].map((h, k) => new Person([at(k % 2 ? first : second)]).signIn(h)));
  let w = writers(people, journal);
  await sleep(8000);
  await w.done();
  const there = kept(w.acknowledged);
  must(there === w.acknowledged.length, `${w.acknowledged.length} were acknowledged, ${there} are there`);
  mustBeWhole("");
  say(
    "two processes, eight writers on one rebuild, 8 s",
    `${w.acknowledged.length} readings, ${w.refused} refused as somebody's, ${(w.tries / (w.acknowledged.length + w.refused)).toFixed(2)} tries each`,
  );

  // Listeners: each hears of a change; how long the last one waits.
  const heard = [],
    streams = [];
  const bare = people[0];
  for (let n = 0; n < 500; n++) {
    const stop = new AbortController();
    streams.push(stop);
    const r = await fetch(at(first) + journal.replace(/\/seats.*/, "/events"), { headers: { cookie: bare.cookie }, signal: stop.signal });
    const reader = r.body.getReader();
    (async () => {
      try {
        for (let text = ""; ;) {
          const { value, done } = await reader.read();
          if (done) return;
          text += new TextDecoder().decode(value);
          if (text.includes("event: changed")) {
            heard.push(Date.now());
            return;
          }
        }
      } catch {
        /* ended by us */
      }
    })();
  }
  await sleep(500);
  const begun = Date.now(),
    asked = Date.now();
  const r = await reading(people[1], journal, "A3", "40.012");
  must(r.id !== null, "a reading beside 500 listeners");
  const took = Date.now() - asked;
  for (let n = 0; n < 100 && heard.length < 500; n++) await sleep(50);
  must(heard.length === 500, `${heard.length} of 500 listeners heard`);
  say("500 listeners", `all heard within ${Math.max(...heard) - begun} ms; the reading took ${took} ms`);
  streams.forEach(s => s.abort());

  // Readers beside writers.
  const page = journal.replace(/\/seats.*/, ""),
    times = [],
    failed = [];
  w = writers(people.slice(0, 4), journal);
  const until = Date.now() + 8000;
  await Promise.all(
    Array.from({ length: 32 }, async () => {
      while (Date.now() < until) {
        const from = performance.now(),
          answer = await people[4].ask(page).catch(() => null);
        if (answer?.ok) await answer.arrayBuffer();
        else failed.push(answer?.status ?? 0);
        times.push(performance.now() - from);
      }
    }),
  );
  await w.done();
  must(failed.length === 0, `${failed.length} pages were not answered: ${[...new Set(failed)]}`);
  must(kept(w.acknowledged) === w.acknowledged.length, "what was acknowledged beside readers is there");
  say(
    "32 readers of the bench beside 4 writers, 8 s",
    `${times.length} pages, half in ${share(times, 0.5).toFixed(0)} ms, 95 of 100 in ${share(times, 0.95).toFixed(0)} ms; ${w.acknowledged.length} readings`,
  );

  // Slow clients: heads that never end, bodies that stop; others are served meanwhile.
  const slow = Array.from({ length: 300 }, (_, n) => {
    const s = connect(first, "127.0.0.1");
    s.on("error", () => {});
    s.resume(); // what the server says is taken, so that its end is seen
    s.write(
      n % 2
        ? "GET / HTTP/1.1\r\nHost: localhost\r\nX: "
        : "POST /sign-in HTTP/1.1\r\nHost: localhost\r\nContent-Length: 1000\r\n\r\nhandle=",
    );
    return s;
  });
  await sleep(500);
  const quick = [];
  for (let n = 0; n < 20; n++) {
    const from = performance.now();
    must((await people[5].ask("/")).status === 200, "a page beside slow clients");
    quick.push(performance.now() - from);
  }
  const open = () => slow.filter(s => !s.destroyed && !s.readableEnded).length;
  const before = open(),
    closing = Date.now();
  for (let n = 0; n < 60 && open() > 0; n++) await sleep(500);
  must(open() === 0, `${open()} slow clients still hang on after 30 s`);
  say(
    "300 slow clients",
    `${before} hung on, gone after ${((Date.now() - closing) / 1000).toFixed(0)} s; the floor beside them in ${share(quick, 0.95).toFixed(0)} ms`,
  );
  servers.forEach(s => s.kill("SIGTERM"));
}

async function cluster(times) {
  const all = JSON.parse(env.TRIAL_SERVERS),
    nodes = JSON.parse(env.TRIAL_SQL),
    sheet = `/rebuilds/${dashed(ids()["R-0412"])}/seats/de/sheets/journal`;
  const handles = ["ines", "tomasz", "yuki", "pell", "ines", "tomasz"];
  const turned = k => [...all.slice(k % 3), ...all.slice(0, k % 3)];
  const people = await Promise.all(handles.map((h, k) => new Person(turned(k)).signIn(h)));
  const w = writers(people, sheet);
  // Two of three must be there at any time: the next one is hurt when the last one is back.
  const whole = () =>
    nodes.every(n => {
      try {
        const states = sql("SHOW STATUS WHERE Variable_name IN ('wsrep_cluster_size', 'wsrep_local_state_comment')", [n]);
        return /wsrep_cluster_size\t3/.test(states) && /Synced/.test(states);
      } catch {
        return false;
      }
    });
  const pauses = [];
  for (let n = 0; n < times; n++) {
    await sleep(2000);
    const node = 1 + (n % 3),
      hangs = n % 2 === 1,
      pid = Number(readFileSync(`${env.TRIAL_CLUSTER}/${node}/db.pid`, "utf8")),
      before = w.acknowledged.length,
      from = Date.now();
    process.kill(pid, hangs ? "SIGSTOP" : "SIGKILL");
    while (w.acknowledged.length < before + people.length && Date.now() - from < 60_000) await sleep(50);
    pauses.push(Date.now() - from);
    await sleep(3000);
    if (hangs) process.kill(pid, "SIGCONT");
    const back = Date.now();
    while (!whole() && Date.now() - back < 90_000) await sleep(500);
    must(whole(), `node ${node} is back`);
    console.log(`  node ${node} ${hangs ? "hung" : "killed"}; ${w.acknowledged.length} readings; back after ${Date.now() - back} ms`);
  }
  await sleep(2000);
  await w.done();
  const there = kept(w.acknowledged);
  must(there === w.acknowledged.length, `${w.acknowledged.length} were acknowledged, ${there} are there`);
  for (const url of JSON.parse(env.TRIAL_NODES)) {
    mustBeWhole(` on ${url.replace(/.*@/, "")}`, url);
  }
  const conflicts = sql("SHOW GLOBAL STATUS LIKE 'wsrep_local_cert_failures'").split("\t")[1];
  say(
    `three nodes, six writers, ${times} nodes killed or hung`,
    `${w.acknowledged.length} readings, ${there} there, ${w.refused} refused as somebody's, ${w.tries} tries; writing went on after ${Math.max(...pauses)} ms at most; ${conflicts} conflicts on one node, done again`,
  );
}

const what = process.argv[2];
console.log(`Trial ${randomBytes(2).toString("hex")}`);
if (what === "cluster") await cluster(Number(process.argv[3] ?? 3));
else {
  await killed(Number(process.argv[3] ?? 200));
  await together();
}
if (failures.length) {
  console.log(`${failures.length} things did not hold.`);
  process.exit(1);
}
console.log("All of it held.");
