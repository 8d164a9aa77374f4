// Questions answered away from any rebuild: found by a word, typed by keys, sent to a colleague.
import { test, expect, signIn, press } from "./shop.js";

test("a question is found, answered while it is typed, and sent to a colleague", async ({ page, shop, browser }) => {
  await signIn(page, shop.address, "yuki");
  await page.getByRole("link", { name: "Reckoner" }).click();
  await expect(page.getByRole("heading", { name: "What do you want to know?" })).toBeVisible();
  await press(page, "/");
  await page.keyboard.type("shim");
  await expect(page.getByRole("link", { name: /Will it press/ })).toHaveCount(0);
  await page.getByRole("link", { name: /How much off the shim/ }).click();

  // Three pairs, a window, the shim: numbers and Enters.
  await page.getByLabel("Reading at one limit 1").focus();
  for (const text of ["0", "0.42", "0", "0.42", "0", "0.43"]) {
    await page.keyboard.type(text);
    await page.keyboard.press("Enter");
  }
  await expect(page.locator(".reckon-answer")).toContainText("Still wanted: lower end of the window, upper end");
  // A fourth row is there when three are full.
  await expect(page.getByLabel("Reading at one limit 4")).toBeVisible();
  await page.getByLabel("Lower end of the window").fill("0.25");
  await page.getByLabel("Upper end").fill("0.35");
  const answer = page.locator(".reckon-answer");
  await expect(answer.locator(".verdict")).toContainText("Make the adjusting shim 0.123 mm thicker.");
  await expect(answer.locator(".figures div").first()).toContainText("0.423 mm");

  // While something is typed the answer follows, and focus and text stay.
  const shim = page.getByLabel("Present shim");
  await shim.pressSequentially("4.6", { delay: 120 });
  await expect(answer).toContainText("4.723");
  await expect(shim).toBeFocused();
  await expect(shim).toHaveValue("4.6");

  // What is wrong is said beside its field, and nothing typed is lost.
  await page.getByLabel("Upper end").fill("wide");
  await expect(page.locator('[id="said-hi_mm"]')).toContainText("no number");
  await expect(page.getByLabel("Upper end")).toHaveValue("wide");
  await expect(shim).toHaveValue("4.6");
  await page.getByLabel("Upper end").fill("0.35 mm");
  await expect(answer.locator(".verdict")).toContainText("0.123 mm thicker");

  // The address is the question: a colleague who works in inches sees the same, in both units.
  const other = await browser.newPage();
  await signIn(other, shop.address, "tomasz", null);
  await other.goto(page.url());
  await expect(other.locator(".reckon-answer .figures div").first()).toContainText("0.423 mm");
  await other.keyboard.press("u");
  await expect(other.locator(".reckon-answer .figures div").first()).toContainText("0.0167 in");
  await expect(other.locator(".reckon-form")).toContainText("typed in metric units");
  await other.close();
});

test("a seat fills a question, and its answer is pinned to the rebuild and reckoned anew", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz");
  await page.getByRole("link", { name: "R-0412" }).first().click();
  await page.locator("[data-seat-link]").last().click();
  const own = page.locator("details.this-seat");
  await expect(own).toBeVisible();
  if (!(await own.getAttribute("open").then(v => v !== null))) await own.locator("summary").click();
  await own.getByRole("link", { name: "Will it press?" }).click();
  await expect(page.getByText("what the seat knows stands in the fields")).toBeVisible();
  await expect(page.getByLabel("Joint diameter")).toHaveValue("40");
  // Typed over: the answer follows, and still belongs to the seat.
  await page.getByLabel("Largest interference").fill("25");
  await expect(page).toHaveURL(/delta_max_um=25.*|pin\.rebuild/);
  const answer = page.locator(".reckon-answer");
  await expect(answer.locator(".spans")).toContainText("Force");
  await answer.getByLabel("What it is about").fill("as if it were ground");
  await answer.getByRole("button", { name: "Pin it" }).click();
  const kept = page.locator("#reckoned ~ table").first();
  await expect(kept.locator("tbody tr")).toHaveCount(1);
  await expect(kept).toContainText("as if it were ground");
  await kept.getByRole("link", { name: "Will it press?" }).click();
  await expect(page.getByText("This sheet is reckoned anew")).toBeVisible();
  await expect(page.getByLabel("Largest interference")).toHaveValue("25");
  await page.getByLabel("Largest interference").fill("22");
  await expect(page).toHaveURL(/delta_max_um=22/);
  // What takes its time says so, and stops saying so.
  await page.route("**/reckoner/fit.press?**", async route => {
    await new Promise(done => setTimeout(done, 900));
    await route.continue();
  });
  await page.getByLabel("Largest interference").fill("23");
  await expect(page.locator("body")).toHaveClass(/busy/);
  await expect(page.locator("body")).not.toHaveClass(/busy/);
  await page.unroute("**/reckoner/fit.press?**");
  await page.getByRole("button", { name: "Pin in place of the one before" }).click();
  await expect(kept.locator("tbody tr")).toHaveCount(2);
  await expect(kept.locator("tr.struck")).toHaveCount(1);
});

test("a sweep that was typed into the Reckoner becomes the sheet of its act", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz", null);
  await page.goto(shop.address + "/reckoner/runout.sweep");
  await expect(page.locator(".reckon-answer svg.lead .next").first()).toBeVisible();
  await page.locator("[name='readings_um']").fill("10 8 3 -3 -8 -10 -8 -3 3 8 11 12");
  await page.locator("[name='readings_um']").blur();
  const answer = page.locator(".reckon-answer");
  await expect(answer).toContainText("22");
  await answer.getByLabel("Pin it to").selectOption({ label: "R-0415 Six-stage booster pump" });
  await answer.getByRole("button", { name: "Make it the sheet “Runout sweep”" }).click();
  await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(12);
  await expect(page.locator("#judged")).toContainText("22 µm is above 12 µm");

  // A cover belongs to any act that closes: it is said which, and its bolts are pressed there.
  await page.goto(shop.address + "/stores");
  await page.getByRole("link", { name: "In which order?" }).first().click();
  await answer.getByLabel("Pin it to").selectOption({ label: "R-0415 Six-stage booster pump" });
  await answer.getByRole("button", { name: "Make it the sheet “Bolts of a cover”" }).click();
  await expect(page.getByRole("alert")).toContainText("Choose the act");
  await answer.getByLabel("Read at").selectOption({ index: 1 });
  await answer.getByRole("button", { name: "Make it the sheet “Bolts of a cover”" }).click();
  await expect(page.locator("h1, h2").filter({ hasText: "Bolt 1 to 30 %" }).first()).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(1);
  expect(shop.verify()).toContain("whole");
});

test("a load is slid, and the curve follows", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz", null);
  await page.goto(shop.address + "/reckoner/preload.pair");
  await page.getByRole("link", { name: "Fill in an example" }).click();
  const answer = page.locator(".reckon-answer");
  await expect(answer.locator("svg")).toContainText("4.7 µm under 400 N");
  await page.getByLabel("Outer load, loads left, slid").fill("800");
  await expect(page.getByLabel("Outer load, loads left", { exact: false }).first()).toHaveValue("800");
  await expect(answer.locator("svg")).toContainText("under 800 N");
  await expect(page).toHaveURL(/outer_n=800/);
  await expect(page.getByLabel("Outer load, loads left, slid")).toBeVisible();
});
