// What is seen: no serious finding of axe on any page in both themes; nothing wider than the screen.
import { test as base, expect, rebuild, signIn } from "./shop.js";
import AxeBuilder from "@axe-core/playwright";

const NUMBERS = { pump: "R-0412", spindle: "R-0409", sheave: "R-0398", booster: "R-0415", turbo: "R-0418" };

/** A lead's page, where each rebuild is, and a look at what stands there. */
const test = base.extend({
  seen: async ({ browser, shop }, use) => {
    const page = await (await browser.newContext({ colorScheme: "light" })).newPage();
    const fits = async what =>
      expect(
        await page.evaluate(() => document.documentElement.scrollWidth - innerWidth),
        `${what} is wider than the screen`,
      ).toBeLessThanOrEqual(0);
    const violations = async axe =>
      (await axe.options({ resultTypes: ["violations"] }).analyze()).violations
        .filter(v => ["serious", "critical"].includes(v.impact))
        .map(v => `${v.id} ${v.nodes.map(n => n.target + " " + (n.any[0]?.message ?? "")).join(" | ")}`);
    const look = async what => {
      // No frames of other origins here: nothing has to be gathered in a page of its own, which takes longer than the
      // look.
      expect(await violations(new AxeBuilder({ page }).setLegacyMode(true)), what).toEqual([]);
      await fits(what);
      // Structure is the same in both themes: in the dark one only the colours are looked at again.
      await page.emulateMedia({ colorScheme: "dark" });
      const dark = new AxeBuilder({ page }).setLegacyMode(true).withRules(["color-contrast"]);
      expect(await violations(dark), `${what}, in the dark`).toEqual([]);
      await page.emulateMedia({ colorScheme: "light" });
    };
    await signIn(page, shop.address, "ines", null);
    const at = {};
    for (const [name, number] of Object.entries(NUMBERS)) {
      at[name] = await rebuild(page, shop.address, number);
    }
    const each = async paths => {
      for (const path of paths) {
        await page.goto(shop.address + path);
        await look(path);
      }
    };
    const draw = async () => {
      await page.goto(shop.address + "/anatomies/biogas-turbocharger");
      await page.getByRole("button", { name: "Draw the next version" }).click();
      return new URL(page.url()).pathname;
    };
    await use({ page, at, each, look, fits, draw });
    await page.context().close();
  },
});

test("axe finds nothing serious on benches, sheets and papers", async ({ shop, seen: { page, at, each, look } }) => {
  await each([
    "/",
    at.pump,
    at.pump + "?seat=ie&step=choose",
    at.pump + "?seat=ie&step=cool",
    at.pump + "/seats/de/sheets/journal",
    at.pump + "/seats/ie/sheets/home",
    at.spindle + "?seat=f1&step=journal",
    at.spindle + "/seats/f1/sheets/journal",
    at.sheave + "/ledger",
    at.sheave + "/certificate",
  ]);
  await page.context().clearCookies();
  await page.goto(shop.address + "/sign-in");
  await look("sign-in");
});

test("axe finds nothing serious along a trail", async ({ seen: { at, each } }) => {
  await each([
    at.pump + "?part=de",
    at.spindle + "?step=ask.fnut.standout",
    at.sheave + "?part=sheave",
    at.booster + "?step=float.thrust%232",
    at.booster + "/ledger",
    at.booster + "/certificate",
    at.pump + "?step=look.brg-de",
    at.turbo + "?step=ask.clipI.faces&found=A",
    at.turbo + "?step=ask.cw.clock&found=75",
    at.turbo + "/version",
  ]);
});

test("axe finds nothing serious in the rooms of the shop", async ({ seen: { at, each } }) => {
  await each([
    "/rules",
    "/record/people",
    "/stores",
    "/archives",
    "/me/keys",
    "/forecasts",
    at.pump + "/readings-in",
    "/reckoner",
    "/reckoner/float.shim?lo_mm=0.25&pairs.0.pulled_mm=soon",
    "/reckoner/fit.press?units=metric&d_mm=60&hub_outside_mm=74&length_mm=31&delta_min_um=20&delta_max_um=31",
    "/reckoner/order.back_out",
    "/nowhere",
  ]);
});

test("axe finds nothing serious on the drawing board", async ({ shop, seen: { page, at, each, look, draw } }) => {
  await each(["/anatomies", "/anatomies/six-stage-booster-pump", "/anatomies/brake-beam/strip"]);
  const board = await draw();
  await each([board, board + "?part=nut", board + "?land=T4"]);
  // Every form of the board folded open.
  await page.goto(shop.address + board + "?part=nut");
  await page.evaluate(() =>
    document.querySelectorAll("details").forEach(d => {
      d.open = true;
    }),
  );
  await expect(page.locator(".set-groups .set-form a", { hasText: "What it has" })).toHaveCount(0);
  await look("the board with all its forms");
  // A newer version beside the one that a rebuild stays on.
  await page.locator(".board .set-groups form", { hasText: "Take it out" }).last().getByRole("button", { name: "Take it out" }).click();
  await expect(page.getByRole("button", { name: /^Undo/ })).toBeEnabled();
  await page.getByRole("button", { name: "Keep as a version" }).click();
  await page.goto(shop.address + at.turbo + "/version");
  await expect(page.locator(".differences li")).not.toHaveCount(0);
  await look("a newer version");
});

test("no room is wider than a tablet or a phone", async ({ shop, seen: { page, at, fits, draw } }) => {
  const board = await draw();
  for (const [width, height] of [
    [1024, 768],
    [390, 844],
  ]) {
    await page.setViewportSize({ width, height });
    for (const path of [
      "/anatomies",
      "/anatomies/brake-beam",
      board + "?part=nut",
      at.turbo + "?step=ask.cw.clock&found=75",
      at.booster + "/ledger",
      at.turbo + "/version",
      at.pump + "?part=de",
      "/",
      at.pump,
      at.pump + "/seats/de/sheets/journal",
      at.sheave + "/ledger",
      "/rules",
      "/stores",
      "/archives",
      "/me/keys",
      at.pump + "/readings-in",
      at.pump + "?step=look.brg-de",
    ]) {
      await page.goto(shop.address + path);
      await fits(`${path}, ${width} wide`);
    }
  }
});
