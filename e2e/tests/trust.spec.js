// Nothing acknowledged is lost: live pages, killed servers, killed databases.
import { test, expect, signIn, openSheet, type, serve, Shop } from "./shop.js";
import { spawn, execFileSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { freePort } from "./shop.js";

test("a second browser on a second process sees a reading within a second", { tag: "@alone" }, async ({ page, browser, shop }) => {
  const second = await shop.another();
  await signIn(page, shop.address, "tomasz", null);
  await openSheet(page, shop.address, "R-0412", "de", "journal");
  const other = await (await browser.newContext()).newPage();
  await signIn(other, second.address, "yuki");
  const stream = other.waitForResponse(r => r.url().endsWith("/events") && r.request().frame().url().includes("/sheets/"));
  await openSheet(other, second.address, "R-0412", "de", "journal");
  await stream;
  await other.keyboard.type("40.0");
  // A machine that stalls for a moment delays one of them: the middle one of three says how quick the program is.
  const took = [];
  for (const [cell, v] of [
    ["A1", "40.008"],
    ["B1", "40.007"],
    ["C1", "40.009"],
  ]) {
    await type(page, [v]);
    const acknowledged = Date.now();
    await expect(other.locator(`tr[data-cell="${cell}"]`)).toContainText(v);
    took.push(Date.now() - acknowledged);
  }
  expect(took.sort((a, b) => a - b)[1], `${took} ms`).toBeLessThan(1000);
  // Both typed into the same cell: the later one is told, nothing is overwritten, what was typed stays.
  const third = await (await browser.newContext()).newPage();
  await signIn(third, shop.address, "pell", null);
  await openSheet(third, shop.address, "R-0412", "de", "journal");
  await third.route("**/events", r => r.abort());
  await third.route("**/sheets/journal", r => r.abort());
  await type(page, ["40.009"]);
  await third.evaluate(() => {
    document.querySelector("#entry [name=cell]").value = "D1";
    document.querySelector("#entry [name=over]").value = "";
  });
  await third.keyboard.type("40.001");
  await third.keyboard.press("Enter");
  await expect(third.locator('.measure [role="alert"]')).toContainText("Tomasz Brandt read 40.009 here meanwhile");
});

test(
  "kill -9 of the server while two browsers send: nothing lost, none twice, the chain whole",
  { tag: "@alone" },
  async ({ page, browser, shop }) => {
    const port = shop.servers[0].port;
    const other = await (await browser.newContext()).newPage();
    await signIn(page, shop.address, "tomasz", null);
    await openSheet(page, shop.address, "R-0412", "de", "journal");
    await signIn(other, shop.address, "yuki", null);
    await openSheet(other, shop.address, "R-0412", "de", "ring_bore");
    const feed = async (p, values) => {
      for (const v of values) {
        await p.keyboard.type(v, { delay: 15 });
        await p.keyboard.press("Enter");
      }
    };
    const a = Array.from({ length: 12 }, (_, i) => (40.006 + (i % 3) / 1000).toFixed(3)),
      b = Array.from({ length: 12 }, (_, i) => (39.993 + (i % 3) / 1000).toFixed(3));
    const feeding = Promise.all([feed(page, a), feed(other, b)]);
    await expect(page.locator("tr[data-cell]:not([data-reading=''])")).not.toHaveCount(0);
    await shop.servers[0].kill("SIGKILL");
    await feeding;
    await expect(page.locator("#waiting")).toContainText("to be sent");
    const known = Number(shop.sql("SELECT COUNT(*) FROM readings r JOIN sheets s ON s.id = r.sheet_id WHERE s.seat = 'de'"));
    expect(known).toBeLessThan(24);
    shop.servers[0] = await serve(shop.database, port);
    for (const [p, values] of [
      [page, a],
      [other, b],
    ]) {
      await expect(p.locator("#waiting")).toBeHidden({ timeout: 20_000 });
      await expect(p.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(12, { timeout: 10_000 });
      expect((await p.locator("td[data-value]").allTextContents()).map(t => Number(t.trim()).toFixed(3))).toEqual(values);
    }
    expect(Number(shop.sql("SELECT COUNT(*) FROM readings r JOIN sheets s ON s.id = r.sheet_id WHERE s.seat = 'de'"))).toBe(24);
    expect(shop.verify()).toMatch(/R-0412: whole/);
  },
);

test("kill -9 of MariaDB: a clear message, recovery by itself, acknowledged readings there", { tag: "@alone" }, async ({ page }) => {
  test.setTimeout(120_000);
  const dir = mkdtempSync(join(tmpdir(), "iron-seat-kill-")),
    port = await freePort(),
    me = execFileSync("id", ["-un"]).toString().trim();
  const start = () =>
    spawn(
      "mariadbd",
      [
        "--no-defaults",
        `--user=${me}`,
        `--datadir=${dir}/data`,
        `--socket=${dir}/s.sock`,
        `--pid-file=${dir}/db.pid`,
        "--bind-address=127.0.0.1",
        `--port=${port}`,
        "--skip-name-resolve",
        "--skip-log-bin",
        "--innodb-flush-log-at-trx-commit=1",
        `--log-error=${dir}/err.log`,
      ],
      { stdio: "ignore" },
    );
  execFileSync(
    "mariadb-install-db",
    [
      "--no-defaults",
      `--user=${me}`,
      `--datadir=${dir}/data`,
      "--auth-root-authentication-method=socket",
      `--auth-root-socket-user=${me}`,
      "--skip-test-db",
    ],
    { stdio: "ignore" },
  );
  let db = start(),
    server;
  const admin = text => execFileSync("mariadb", ["--no-defaults", `--socket=${dir}/s.sock`, `-u${me}`, "-N", "-e", text]).toString();
  const ready = async () => {
    for (let i = 0; i < 100; i++) {
      try {
        admin("DO 1");
        return;
      } catch {
        await new Promise(f => setTimeout(f, 100));
      }
    }
  };
  try {
    await ready();
    admin("CREATE DATABASE k CHARACTER SET utf8mb4; CREATE USER 'k'@'127.0.0.1' IDENTIFIED BY 'k'; GRANT ALL ON k.* TO 'k'@'127.0.0.1'");
    const database = `mysql://k:k@127.0.0.1:${port}/k`,
      { binary } = await import("./shop.js");
    execFileSync(binary, ["migrate", "--database", database]);
    execFileSync(binary, ["demo", "--database", database]);
    server = await serve(database, await freePort());
    await signIn(page, server.address, "tomasz", null);
    await openSheet(page, server.address, "R-0412", "de", "journal");
    await type(page, ["40.008", "40.009"]);
    const gone = new Promise(f => db.once("exit", f));
    db.kill("SIGKILL");
    await gone;
    await page.keyboard.type("40.007");
    await page.keyboard.press("Enter");
    await expect(page.locator("#waiting")).toContainText("1 reading waits", { timeout: 15_000 });
    const seen = await page.request.get(server.address + "/");
    expect(seen.status()).toBe(503);
    expect(await seen.text()).toContain("The record book does not answer");
    expect((await page.request.get(server.address + "/healthz")).status()).toBe(503);
    db = start();
    await ready();
    await expect(page.locator("#waiting")).toBeHidden({ timeout: 30_000 });
    await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(3, { timeout: 10_000 });
    expect(
      admin("SELECT GROUP_CONCAT(typed ORDER BY r.at) FROM k.readings r JOIN k.sheets s ON s.id = r.sheet_id WHERE s.seat = 'de'").trim(),
    ).toBe("40.008,40.009,40.007");
    expect(execFileSync(binary, ["verify", "--database", database]).toString()).toContain("R-0412: whole");

    // A database that hangs: whoever asks is told within five seconds, many at once too, and nothing is stuck
    // afterwards.
    db.kill("SIGSTOP");
    for (const who of [1, 12]) {
      const asked = Date.now();
      const answers = await Promise.all(Array.from({ length: who }, () => page.request.get(server.address + "/")));
      for (const a of answers) {
        expect(a.status()).toBe(503);
        expect(await a.text()).toContain("The record book does not answer");
      }
      expect(Date.now() - asked, `${who} at once`).toBeLessThan(5500);
    }
    expect((await page.request.get(server.address + "/livez")).status()).toBe(200);
    await page.keyboard.type("40.0085");
    await page.keyboard.press("Enter");
    await expect(page.locator("#waiting")).toContainText("1 reading waits", { timeout: 15_000 });
    db.kill("SIGCONT");
    await expect(page.locator("#waiting")).toBeHidden({ timeout: 30_000 });
    await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(4, { timeout: 10_000 });
    await expect.poll(async () => (await page.request.get(server.address + "/")).status()).toBe(200);

    // Told to end, the program ends, though its work waits for a database that hangs.
    db.kill("SIGSTOP");
    expect((await page.request.get(server.address + "/")).status()).toBe(503);
    const told = Date.now();
    await server.kill("SIGTERM");
    expect(Date.now() - told).toBeLessThan(9000);
  } finally {
    await server?.kill("SIGKILL");
    db.kill("SIGKILL");
    rmSync(dir, { recursive: true, force: true });
  }
});

test("an empty database is set up from its first page", async ({ page }) => {
  const shop = await Shop.open({ demo: false });
  try {
    await page.goto(shop.address);
    await expect(page.getByRole("heading", { name: "Set up the shop" })).toBeVisible();
    await page.getByLabel("Code, printed").fill("quay code");
    await page.getByLabel("Name of the shop").fill("A very long name of a shop on a river harbour that goes on and on");
    await page.getByLabel("Your name").fill("Ines Okafor");
    await page.getByLabel("Sign-in name").fill("ines");
    await page.getByLabel("Password").fill("short");
    await page.getByLabel("PIN for signing").fill("2408");
    await page.getByRole("button", { name: "Open the shop" }).click();
    await expect(page.getByRole("alert")).toContainText("at least 8 characters");
    await expect(page.getByLabel("Your name")).toHaveValue("Ines Okafor");
    await page.getByLabel("Password").fill("long enough");
    await page.getByLabel("PIN for signing").fill("2408");
    await page.getByRole("button", { name: "Open the shop" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Nothing on the floor");
    await page.getByLabel("Number", { exact: true }).fill("R-0001");
    await page.getByLabel("Machine, as said in the shop").fill("Jig-borer spindle");
    await page.getByLabel("Customer").fill("own tool room");
    await page.getByLabel("Machine type").selectOption({ label: "Jig-borer spindle" });
    await page.getByLabel("Due").fill("2027-03-01");
    await page.getByRole("button", { name: "Start it" }).click();
    await expect(page.locator(".act-in-hand h1")).toContainText("Isolate, tag, try");
    await page.getByRole("link", { name: "Ledger" }).click();
    await expect(page.locator(".empty")).toContainText("Nothing is recorded yet");
  } finally {
    await shop.close();
  }
});

test("a waiting reading belongs to who typed it, whoever signs in meanwhile", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz", null);
  const href = await openSheet(page, shop.address, "R-0412", "de", "journal");
  await page.route("**/readings", r => r.abort());
  await page.keyboard.type("40.008");
  await page.keyboard.press("Enter");
  await expect(page.locator("#waiting")).toContainText("1 reading waits");
  // Yuki takes the bench: it is not sent under her name, and not lost.
  await page.context().clearCookies();
  await page.unroute("**/readings");
  await signIn(page, shop.address, "yuki", null);
  await page.goto(`${shop.address}${href}/seats/de/sheets/journal`);
  await expect(page.locator("#waiting")).toContainText(
    "1 reading of Tomasz Brandt waits on this machine until Tomasz Brandt signs in here",
  );
  // Her own goes its way from this machine, and takes none of his with it.
  await page.goto(`${shop.address}${href}/seats/de/sheets/ring_bore`);
  await type(page, ["39.994"]);
  expect(shop.sql("SELECT COUNT(*) FROM readings WHERE typed = '40.008'").trim()).toBe("0");
  // Back at his bench it goes by itself, under his name, once; a second tab does not send it twice.
  await page.context().clearCookies();
  const other = await page.context().newPage();
  await signIn(page, shop.address, "tomasz");
  // A tab that was left open under an older sign-in of his tries in vain, and keeps nobody from sending.
  const stale = await page.context().newPage();
  await stale.route("**/readings", r => r.abort());
  await stale.goto(`${shop.address}${href}/seats/de/sheets/ring_bore`);
  await page.context().clearCookies();
  await signIn(page, shop.address, "tomasz");
  await stale.unroute("**/readings");
  await other.goto(`${shop.address}${href}/seats/de/sheets/journal`);
  await page.goto(`${shop.address}${href}/seats/de/sheets/journal`);
  await expect(page.locator("tr[data-cell='A1'] [data-value]")).toContainText("40.008", { timeout: 15_000 });
  await expect(page.locator("#waiting")).toBeHidden();
  await expect
    .poll(() => shop.sql("SELECT p.handle FROM readings r JOIN people p ON p.id = r.person_id WHERE r.typed = '40.008'").trim())
    .toBe("tomasz");
  expect(shop.verify()).toContain("R-0412: whole");
});
