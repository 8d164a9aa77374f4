// A shop of its own for each test: database, server processes, sign-in.
import { test as base, expect } from "@playwright/test";
import { spawn, execFileSync } from "node:child_process";
import { randomBytes } from "node:crypto";
import { createServer } from "node:net";

const admin = process.env.IRONSEAT_TEST_DATABASE;
if (!admin) throw new Error("IRONSEAT_TEST_DATABASE names a MariaDB for tests: run bin/test, which starts one");
export const binary = process.env.IRONSEAT_BINARY ?? new URL("../../target/debug/iron-seat", import.meta.url).pathname;
const url = new URL(admin.replace("mysql:", "http:"));

/** SQL on the test server, as its own account. */
export const sql = text =>
  execFileSync("mariadb", ["--no-defaults", "-h", url.hostname, "-P", url.port, "-u", url.username, "-N", "-e", text], {
    env: { ...process.env, MYSQL_PWD: url.password },
  }).toString();

export const freePort = () =>
  new Promise(done => {
    const s = createServer().listen(0, "127.0.0.1", () => {
      const { port } = s.address();
      s.close(() => done(port));
    });
  });

export async function serve(database, port) {
  const child = spawn(binary, ["serve", "--port", String(port), "--database", database], {
    stdio: ["ignore", "ignore", "inherit"],
    env: { ...process.env, IRON_SEAT_FIRST_RUN_CODE: "QUAY-CODE", RUST_LOG: process.env.RUST_LOG ?? "warn" },
  });
  const address = `http://127.0.0.1:${port}`;
  for (let i = 0; i < 200; i++) {
    try {
      if ((await fetch(address + "/healthz")).ok) break;
    } catch {
      /* not yet */
    }
    await new Promise(f => setTimeout(f, 50));
  }
  return {
    child,
    address,
    port,
    kill: signal =>
      new Promise(done => {
        if (child.exitCode !== null || child.signalCode) return done();
        child.once("exit", done);
        child.kill(signal);
      }),
  };
}

const client = ["--no-defaults", "-h", url.hostname, "-P", url.port, "-u", url.username];
const asTester = { env: { ...process.env, MYSQL_PWD: url.password }, maxBuffer: 1 << 28 };

function named() {
  const name = "ironseat_t_" + randomBytes(8).toString("hex");
  sql(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_unicode_ci`);
  return name;
}

/** A database brought up to date, with the demo or without; each is made once, and each test has a copy. */
const models = {};
function fresh(demo) {
  if (!models[demo]) {
    const name = named();
    execFileSync(binary, ["migrate", "--database", `${admin}/${name}`]);
    if (demo) execFileSync(binary, ["demo", "--database", `${admin}/${name}`]);
    models[demo] = execFileSync("mariadb-dump", [...client, "--hex-blob", "--skip-lock-tables", "--single-transaction", name], asTester);
    sql(`DROP DATABASE ${name}`);
  }
  const name = named();
  execFileSync("mariadb", [...client, name], { ...asTester, input: models[demo] });
  return name;
}

export class Shop {
  /** `demo: "anew"` is a shop of its own, with other ids than the copies of one have. */
  static async open({ demo = true } = {}) {
    const shop = new Shop();
    shop.name = fresh(demo === true);
    shop.database = `${admin}/${shop.name}`;
    if (demo === "anew") execFileSync(binary, ["demo", "--database", shop.database]);
    shop.servers = [await serve(shop.database, await freePort())];
    return shop;
  }
  get address() {
    return this.servers[0].address;
  }
  async another() {
    const s = await serve(this.database, await freePort());
    this.servers.push(s);
    return s;
  }
  sql(text) {
    return sql(`USE ${this.name}; ${text}`);
  }
  verify() {
    return execFileSync(binary, ["verify", "--database", this.database]).toString();
  }
  async close() {
    for (const s of this.servers) await s.kill("SIGKILL");
    sql(`DROP DATABASE IF EXISTS ${this.name}`);
  }
}

/** Signs in on its page. */
export async function signInByHand(page, address, who) {
  await page.goto(address + "/sign-in");
  await page.getByLabel("Sign-in name").fill(who);
  await page.getByLabel("Password").fill("marrow-quay");
  await page.getByRole("button", { name: "Sign in" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("rebuild");
}

/** Signs in without its page, and opens the Floor, or nothing yet with `null`. */
export async function signIn(page, address, who, then = "/") {
  const form = { handle: who, password: "marrow-quay" };
  const answer = await page.request.post(address + "/sign-in", { form, headers: { origin: address }, maxRedirects: 0 });
  expect(answer.headers().location, "signed in").toBe("/");
  if (then) await page.goto(address + then);
}

/** Where a rebuild is, by its number. */
export async function rebuild(page, address, number) {
  const floor = await (await page.request.get(address + "/?find=" + number)).text();
  // Running clocks lead to rebuilds, too: the one that is meant stands on its strip.
  return /class="id"><a class="num" href="(\/rebuilds\/[0-9a-f-]{36})"/.exec(floor)[1];
}

/** Opens the bench of a rebuild by its number. */
export const openRebuild = async (page, address, number) => page.goto(address + (await rebuild(page, address, number)));

/** Opens a sheet of a rebuild by its number. */
export async function openSheet(page, address, number, seat, kind) {
  const href = await rebuild(page, address, number);
  await page.goto(`${address}${href}/seats/${seat}/sheets/${kind}`);
  return href;
}

/** Types readings one after the other, as fast as a gauge sends them, and waits until all are acknowledged. A sheet that grows as it is
 * read has its next place once the one before is acknowledged. */
export async function type(page, readings) {
  await page.waitForLoadState();
  const read = page.locator("tr[data-cell]:not([data-reading=''])"),
    places = page.locator("tr[data-cell]");
  const before = await read.count();
  for (const [k, r] of readings.entries()) {
    await expect.poll(() => places.count(), "a place for it").toBeGreaterThan(before + k);
    await page.keyboard.type(r);
    await page.keyboard.press("Enter");
  }
  await expect(read).toHaveCount(before + readings.length);
}

/** Presses a key once the page that it is meant for listens. */
export async function press(page, key) {
  await page.waitForLoadState();
  await page.keyboard.press(key);
}

/** Where an element is, once it is drawn: while the page is being refreshed it is nowhere for a moment. */
export async function boxOf(locator) {
  let box = null;
  // eslint-disable-next-line no-restricted-syntax -- this is boxOf
  await expect.poll(async () => (box = await locator.boundingBox()), "it is drawn").not.toBeNull();
  return box;
}

export const test = base.extend({
  // IRONSEAT_SLOW=4 makes the browser's processor four times as slow, which is how races are looked for.
  page: async ({ page }, use) => {
    const rate = Number(process.env.IRONSEAT_SLOW ?? 1);
    if (rate > 1) await (await page.context().newCDPSession(page)).send("Emulation.setCPUThrottlingRate", { rate });
    await use(page);
  },
  shop: async ({}, use) => {
    const shop = await Shop.open();
    await use(shop);
    await shop.close();
  },
});
export { expect };
