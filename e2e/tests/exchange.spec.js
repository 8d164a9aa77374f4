// What leaves the house and comes into it: readings, archives, papers and stock as files, keys for other programs.
import AxeBuilder from "@axe-core/playwright";
import Ajv from "ajv/dist/2020.js";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { unzipSync } from "fflate";
import { test, expect, Shop, openRebuild, signIn } from "./shop.js";

const clean = async page =>
  expect(
    (await new AxeBuilder({ page }).setLegacyMode(true).analyze()).violations.map(v => `${v.id}: ${v.nodes.map(n => n.html).join(" ")}`),
  ).toEqual([]);

/** A file that a click brings. */
async function brought(page, click) {
  const [download] = await Promise.all([page.waitForEvent("download"), click()]);
  const path = join(mkdtempSync(join(tmpdir(), "quay-")), download.suggestedFilename());
  await download.saveAs(path);
  return path;
}

const open = async (page, shop, number, who) => {
  await signIn(page, shop.address, who, null);
  await openRebuild(page, shop.address, number);
};
const unzipped = path => unzipSync(readFileSync(path));
const text = bytes => Buffer.from(bytes).toString("utf8");

test("readings go out as CSV, and come in from a gauge's file with what was understood shown first", async ({ shop, page }) => {
  await open(page, shop, "R-0412", "tomasz");
  await page.getByRole("link", { name: "Ledger" }).click();
  const out = readFileSync(await brought(page, () => page.getByRole("link", { name: "Readings as CSV" }).click()), "utf8");
  const rows = out.trim().split("\r\n");
  expect(rows[0]).toContain("format,rebuild,place");

  // The file that went out, with one figure another: only that one is new.
  const figure = /,yes,(\d+\.\d+),mm,/;
  const at = rows.findIndex(r => r.includes("/journal,") && figure.test(r));
  const was = figure.exec(rows[at])[1];
  rows[at] = rows[at].replace(figure, `,yes,${(Number(was) + 0.002).toFixed(3)},mm,`);
  const file = join(mkdtempSync(join(tmpdir(), "quay-")), "again.csv");
  writeFileSync(file, rows.join("\r\n"));
  await page.getByRole("link", { name: "Readings from a file" }).click();
  await clean(page);
  await page.getByLabel("The table (.csv)").setInputFiles(file);
  await page.getByRole("button", { name: "See what it says" }).click();
  await expect(page.getByRole("heading", { name: "What the file says" })).toBeVisible();
  await clean(page);
  const keep = page.getByRole("button", { name: /^Keep/ });
  await expect(keep).toHaveText("Keep 1 correction");
  await expect(page.locator("tr.corrects")).toContainText("before");
  // A column that is taken away: the rows say what they want, at once and without a new page.
  await page.getByText("Which column is what").click();
  await page.locator("[name='column.key']").selectOption({ label: "no column" });
  await expect(page.getByText("Choose above which sheet the rows belong to.")).toBeVisible();
  await page.goBack();
  await expect(keep).toHaveText("Keep 1 correction");
  await keep.click();
  await expect(page.getByRole("status").filter({ hasText: "1 reading was kept" })).toBeVisible();
  await expect(
    page
      .locator("tr.struck")
      .filter({ hasText: Number(was).toFixed(3) })
      .first(),
  ).toBeVisible();
});

test("a rebuild goes out as an archive, any program reads it, and another shop takes it in as it is", async ({ shop, page, browser }) => {
  await open(page, shop, "R-0398", "ines");
  await page.getByRole("link", { name: "Ledger" }).click();
  const zip = await brought(page, () => page.getByRole("link", { name: "Archive of the rebuild" }).click());
  const files = unzipped(zip);
  for (const name of ["rebuild.json", "certificate.pdf", "readings.csv", "section.svg", "build-sheet.toml"])
    expect(files[name]?.length, name).toBeGreaterThan(200);
  expect(text(files["certificate.pdf"].subarray(0, 5))).toBe("%PDF-");
  const ajv = new Ajv({ formats: { uuid: true, date: true, "date-time": true } });
  const fits = ajv.compile(JSON.parse(text(files["rebuild.schema.json"])));
  const document = JSON.parse(text(files["rebuild.json"]));
  expect(fits(document), JSON.stringify(fits.errors)).toBe(true);
  expect(document.tables.record).toHaveLength(document.entries);
  // The chain is followed by other hands: each entry names the one before.
  document.tables.record.reduce((before, e) => (expect(e.prev_hash).toBe(before), e.hash), "0".repeat(64));
  expect(document.tables.record.at(-1).hash).toBe(document.head);

  const other = await Shop.open({ demo: "anew" });
  try {
    const theirs = await (await browser.newContext()).newPage();
    await signIn(theirs, other.address, "ines");
    await theirs.getByTitle("Ines Okafor: settings and sign-out").click();
    await theirs.getByRole("link", { name: "Rebuilds from elsewhere" }).click();
    await clean(theirs);
    await theirs.getByLabel("The archive of a rebuild").setInputFiles(zip);
    await theirs.getByRole("button", { name: "Look at it" }).click();
    await clean(theirs);
    await theirs.getByRole("button", { name: "Take it in" }).click();
    await expect(theirs.getByText("This rebuild came from")).toBeVisible();
    const back = await brought(theirs, () => theirs.getByRole("link", { name: "Archive of the rebuild" }).click());
    expect(text(unzipped(back)["rebuild.json"])).toBe(text(files["rebuild.json"]));
    expect(other.verify()).toContain("whole");
  } finally {
    await other.close();
  }
});

test("papers are PDF, on either paper", async ({ shop, page }) => {
  await open(page, shop, "R-0398", "tomasz");
  const at = page.url().split("?")[0];
  for (const paper of ["certificate", "travel-sheet", "labels"]) {
    for (const size of ["", "?size=letter"]) {
      const got = await page.request.get(`${at}/papers/${paper}.pdf${size}`);
      expect(got.headers()["content-type"]).toBe("application/pdf");
      const pdf = (await got.body()).toString("latin1");
      expect(pdf.startsWith("%PDF-")).toBe(true);
      expect(pdf).toMatch(size ? /MediaBox ?\[0 0 612/ : /MediaBox ?\[0 0 595/);
    }
  }
});

test("what lies in the drawer and where bolts stand comes as tables, and is asked about at once", async ({ shop, page }) => {
  await signIn(page, shop.address, "ines");
  await page.getByRole("link", { name: "Stores" }).first().click();
  await clean(page);
  await page.getByText("Say anew what is in the drawer").click();
  await page.getByLabel("or its rows, pasted").first().fill("thickness;pieces\n0.3 mm;2\n100 um;5");
  await page.getByRole("button", { name: "See what it says" }).click();
  await clean(page);
  await page.getByRole("button", { name: "This lies in the drawer: 2 thicknesses" }).click();
  await expect(page.getByText("Kept: this is what lies in the drawer now.")).toBeVisible();
  await page.goto(shop.address + "/reckoner/shim.stock");
  await page.getByLabel(/Wanted thickness/).fill("500");
  await page.getByLabel(/Wanted thickness/).press("Enter");
  await expect(page.locator(".reckon-answer")).toContainText("300");

  await page.goto(shop.address + "/stores");
  await page.getByText("Put a cover in").click();
  await page.getByLabel("or its rows, pasted").nth(1).fill("x mm;y mm\n0;0\n90;0\n90;60\n0;60");
  await page.getByRole("button", { name: "See what it says" }).click();
  await page.getByLabel("name of the cover").fill("Sump");
  await page.getByLabel("name of the cover").blur();
  await page.getByRole("button", { name: "Keep the cover: 4 bolts" }).click();
  await page.locator("li", { hasText: "Sump" }).getByRole("link", { name: "In which order?" }).click();
  await expect(page.locator(".reckon-answer svg")).toBeVisible();
  await clean(page);
});

test("a key lets another program in until it is put away", async ({ shop, page, request }) => {
  await signIn(page, shop.address, "tomasz");
  await page.getByTitle("Tomasz Brandt: settings and sign-out").click();
  await page.getByRole("link", { name: "Keys for other programs" }).click();
  await clean(page);
  await page.getByLabel("What is it for?").fill("gauge on bench 2");
  await page.getByRole("button", { name: "Make it" }).click();
  const key = await page.locator(".secret code").textContent();
  const ask = () => request.get(`${shop.address}/api/rebuilds`, { headers: { authorization: `Bearer ${key}` } });
  const said = await ask();
  expect(said.status()).toBe(200);
  expect((await said.json()).rebuilds).toHaveLength(6);
  // Sent once more by a reload, it is still one key.
  await page.reload();
  await expect(page.getByText("made already")).toBeVisible();
  await page.goto(shop.address + "/me/keys");
  await expect(page.locator(".secret")).toHaveCount(0);
  await page.getByRole("button", { name: "Put “gauge on bench 2” away" }).click();
  expect((await ask()).status()).toBe(401);
});

test("an instrument is put in, calibrated anew and put away", async ({ shop, page }) => {
  await signIn(page, shop.address, "ines", null);
  await page.goto(shop.address + "/stores");
  await page.getByText("Put an instrument in").click();
  const form = page.locator("details", { hasText: "Put an instrument in" }).locator("form");
  await form.getByLabel("Name").fill("Outside micrometer 0–25");
  await form.getByLabel("Serial number").fill("MQ-060");
  await form.getByLabel("From, mm").fill("0");
  await form.getByLabel("to, mm").fill("25");
  await form.getByLabel("It shows steps of").fill("fine");
  await form.getByLabel("Uncertainty").fill("2");
  await form.getByLabel("Calibration until").fill("2027-06-30");
  await form.getByLabel("outside").check();
  await form.getByRole("button", { name: "Put it in" }).click();
  // What is wrong is said beside its field, and what is typed next goes there.
  await expect(form.getByLabel("It shows steps of")).toBeFocused();
  await expect(form.getByRole("alert")).toContainText("expected a size");
  await clean(page);
  await form.getByLabel("It shows steps of").fill("0.001");
  await form.getByRole("button", { name: "Put it in" }).click();
  const row = page.locator("tr", { hasText: "MQ-060" });
  await expect(row).toContainText("0.0020 mm");
  await row.getByText("Change").click();
  await row.getByLabel("Calibrated: uncertainty").fill("2.5");
  await row.getByLabel("until").fill("2028-01-31");
  await row.getByRole("button", { name: "Keep the calibration" }).click();
  await expect(page.locator("tr.struck", { hasText: "MQ-060" })).toContainText("calibrated anew");
  const now = page.locator("tr:not(.struck)", { hasText: "MQ-060" });
  await expect(now).toContainText("0.0025 mm");
  await now.getByText("Change").click();
  await now.getByLabel("Out of use, why").fill("dropped");
  await now.getByRole("button", { name: "Put it away" }).click();
  await expect(page.locator("tr:not(.struck)", { hasText: "MQ-060" })).toHaveCount(0);
  await page.getByRole("button", { name: "Take Outside micrometer 0–25 in use again" }).click();
  await expect(page.locator("tr:not(.struck)", { hasText: "MQ-060" })).toHaveCount(1);
  await clean(page);
});
