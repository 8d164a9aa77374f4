// What is seen: no serious finding of axe on any page in both themes; nothing wider than the screen.
import { test, expect, signIn } from "./shop.js";
import AxeBuilder from "@axe-core/playwright";

for (const theme of ["light", "dark"]) {
  test(`axe finds nothing serious, ${theme}`, async ({ browser, shop }) => {
    test.setTimeout(480_000);
    const page = await (await browser.newContext({ colorScheme: theme })).newPage();
    const look = async what => {
      // Structure is the same in both themes: in the dark one only the colours are looked at again.
      const axe = new AxeBuilder({ page }).options({ resultTypes: ["violations"] });
      const found = (await (theme === "dark" ? axe.withRules(["color-contrast"]) : axe).analyze()).violations.filter(v =>
        ["serious", "critical"].includes(v.impact),
      );
      expect(found.map(v => `${what}: ${v.id} ${v.nodes.map(n => n.target + " " + (n.any[0]?.message ?? "")).join(" | ")}`)).toEqual([]);
      expect(
        await page.evaluate(() => document.documentElement.scrollWidth - innerWidth),
        `${what} is wider than the screen`,
      ).toBeLessThanOrEqual(0);
    };
    await page.goto(shop.address + "/sign-in");
    await look("sign-in");
    await signIn(page, shop.address, "ines");
    await look("floor");
    const href = async n => {
      await page.goto(shop.address + "/?find=" + n);
      return page.locator(".strip .id a").first().getAttribute("href");
    };
    const [pump, spindle, sheave] = [await href("R-0412"), await href("R-0409"), await href("R-0398")];
    const [booster, turbo] = [await href("R-0415"), await href("R-0418")];
    for (const path of [
      pump,
      pump + "?seat=ie&step=choose",
      pump + "?seat=ie&step=cool",
      pump + "/seats/de/sheets/journal",
      pump + "/seats/ie/sheets/home",
      spindle + "?seat=f1&step=journal",
      spindle + "/seats/f1/sheets/journal",
      sheave + "/ledger",
      sheave + "/certificate",
      "/rules",
      "/record/people",
      "/stores",
      "/archives",
      "/me/keys",
      "/forecasts",
      pump + "/readings-in",
      "/reckoner",
      "/reckoner/float.shim?lo_mm=0.25&pairs.0.pulled_mm=soon",
      "/reckoner/fit.press?units=metric&d_mm=60&hub_outside_mm=74&length_mm=31&delta_min_um=20&delta_max_um=31",
      "/reckoner/order.back_out",
      "/nowhere",
    ]) {
      await page.goto(shop.address + path);
      await look(path);
    }
    for (const path of [
      "/anatomies",
      "/anatomies/six-stage-booster-pump",
      "/anatomies/brake-beam/strip",
      pump + "?part=de",
      spindle + "?step=ask.fnut.standout",
      sheave + "?part=sheave",
      booster + "?step=float.thrust%232",
      booster + "/ledger",
      booster + "/certificate",
      pump + "?step=look.brg-de",
      turbo + "?step=ask.clipI.faces&found=A",
      turbo + "?step=ask.cw.clock&found=75",
      turbo + "/version",
    ]) {
      await page.goto(shop.address + path);
      await look(path);
    }
    await page.goto(shop.address + "/anatomies/biogas-turbocharger");
    await page.getByRole("button", { name: "Draw the next version" }).click();
    const board = new URL(page.url()).pathname;
    for (const path of [board, board + "?part=nut", board + "?land=T4"]) {
      await page.goto(shop.address + path);
      await look(path);
    }
    // Every form of the board folded open.
    await page.goto(shop.address + board + "?part=nut");
    await page.evaluate(() =>
      document.querySelectorAll("details").forEach(d => {
        d.open = true;
      }),
    );
    await look("the board with all its forms");
    // A newer version beside the one that a rebuild stays on.
    await page.locator(".board .set-groups form", { hasText: "Take it out" }).last().getByRole("button", { name: "Take it out" }).click();
    await expect(page.getByRole("button", { name: /^Undo/ })).toBeEnabled();
    await page.getByRole("button", { name: "Keep as a version" }).click();
    await page.goto(shop.address + turbo + "/version");
    await expect(page.locator(".differences li")).not.toHaveCount(0);
    await look("a newer version");
    await page.goto(shop.address + "/anatomies/biogas-turbocharger");
    await page.getByRole("button", { name: "Draw the next version" }).click();
    const again = new URL(page.url()).pathname;
    if (theme === "dark") return;
    const rooms = [
      "/anatomies",
      "/anatomies/brake-beam",
      again + "?part=nut",
      turbo + "?step=ask.cw.clock&found=75",
      booster + "/ledger",
      turbo + "/version",
      pump + "?part=de",
      "/",
      pump,
      pump + "/seats/de/sheets/journal",
      sheave + "/ledger",
      "/rules",
      "/stores",
      "/archives",
      "/me/keys",
      pump + "/readings-in",
      pump + "?step=look.brg-de",
    ];
    for (const [width, height] of [
      [1024, 768],
      [390, 844],
    ]) {
      await page.setViewportSize({ width, height });
      for (const path of rooms) {
        await page.goto(shop.address + path);
        expect(await page.evaluate(() => document.documentElement.scrollWidth - innerWidth), `${path}, ${width} wide`).toBeLessThanOrEqual(
          0,
        );
      }
    }
  });
}
