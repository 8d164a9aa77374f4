// A whole rebuild from its anatomy: as found, out of order, held, two people, forgotten and backed out, two browsers.
import { test, expect, openRebuild, rebuild, signIn } from "./shop.js";

test("the trail of a rebuild is worked, held, answered, backed out and shared", async ({ page, browser, shop }) => {
  await signIn(page, shop.address, "ines");
  await page.getByText("Start a rebuild").click();
  const start = page.locator(".start");
  await start.locator("[name=title]").fill("Blower of the ice works");
  await start.locator("[name=customer]").fill("Saltmarsh Ice & Cold Store");
  await start.locator("[name=number]").fill("R-0777");
  await start.locator("[name=anatomy]").selectOption({ label: "Blower rotor in two pillow blocks" });
  await start.locator("[name=due_on]").fill("2030-01-15");
  await start.getByRole("button", { name: /start/i }).click();
  await expect(page.locator(".rooms.near")).toBeVisible();
  const hand = page.locator(".act-in-hand"),
    open = async (stage, text) => {
      const list = page.locator(".trail-list details", { has: page.locator("summary", { hasText: stage }) });
      if (!(await list.evaluate(d => d.open))) await list.locator("summary").click();
      await list.getByRole("link", { name: text }).first().click();
    };
  await expect(hand.getByRole("heading", { level: 1 })).toContainText("Isolate, tag, try");

  // Held: what is missing stands in a sentence.
  await open("take apart", /Draw fan hub off/);
  await expect(hand).toContainText("Held. Do this first:");
  await expect(hand.locator("[data-way]")).toContainText("Isolate, tag, try");
  await expect(hand.getByRole("button", { name: "Done" })).toHaveCount(0);

  await page.goto(page.url().replace(/\?.*/, ""));
  await hand.getByRole("button", { name: "Done" }).click();
  await expect(hand.getByRole("heading", { level: 1 })).toContainText("Compare plate and machine");

  // Somebody else at the same step: sees it at once, and both see one tick.
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop.address, "yuki", null);
  await other.goto(page.url());
  await hand.getByRole("button", { name: "Done" }).click();
  await expect(hand.getByRole("heading", { level: 1 })).not.toContainText("Compare plate");
  await expect(other.locator(".act-in-hand")).toContainText("Done: Ines Okafor");
  await expect(other.locator(".act-in-hand").getByRole("heading", { level: 1 })).toContainText("Compare plate"); // it stays in hand
  // Sent all the same, by a page that had not heard of it: told who was first, one tick stands.
  const late = await other.evaluate(async here => {
    const body = new URLSearchParams({ act: "tick", step: "receive.kind", _csrf: document.body.dataset.csrf });
    const r = await fetch(here, { method: "POST", body });
    return [r.status, await r.text()];
  }, new URL(other.url()).pathname);
  expect(late[0]).toBe(409);
  expect(late[1]).toContain("Ines Okafor has ticked this already");

  // As found: something must be said; cannot tell is an answer, too.
  await open("as found", /Fan hub: which way does the eye face/);
  await hand.getByRole("button", { name: "Record it" }).click();
  await expect(page.getByRole("alert")).toContainText("expected what was found");
  await hand.getByLabel("end A").check();
  await hand.getByRole("button", { name: "Record it" }).click();
  await open("as found", /Drive pulley|A inner flinger: which way/);
  await hand.getByRole("button", { name: "Cannot tell" }).click();
  await open("as found", /Fan hub: which way does the eye face/);
  await expect(hand.getByLabel("end A")).toBeChecked();
  await expect(hand).toContainText("now: recorded");

  // What is being typed stays when somebody else goes on; the list beside it is brought up to date.
  await open("as found", /A pillow block: match marks/);
  const note = hand.getByLabel("Note");
  await note.fill("thick side seen through the");
  const address = page.url().replace(/\?.*/, "");
  await other.goto(address + "?step=" + encodeURIComponent("ask.flAo.faces"));
  await other.locator(".act-in-hand").getByRole("button", { name: "Not present" }).click();
  const list = page.locator(".trail-list li.done", { hasText: "A outer flinger: which way" });
  await expect(list).toHaveCount(1);
  await expect(note).toHaveValue("thick side seen through the");
  // Nothing typed: the whole trail follows, and the step in hand stays.
  await note.fill("");
  await other.goto(address + "?step=" + encodeURIComponent("ask.flBo.faces"));
  await other.locator(".act-in-hand").getByRole("button", { name: "Not present" }).click();
  await expect(page.locator(".trail-list li.done", { hasText: "B outer flinger: which way" })).toHaveCount(1);
  await expect(hand.getByRole("heading", { level: 1 })).toContainText("A pillow block: match marks");

  // A finished rebuild answers the question, but nothing is written to it.
  await openRebuild(page, shop.address, "R-0398");
  await page.locator("select[name=part]").first().selectOption({ label: "Rope sheave" });
  await page.getByRole("button", { name: "Show what comes off" }).click();
  await expect(page.locator(".cost .order li")).not.toHaveCount(0);
  await expect(page.locator(".cost")).toContainText("To be heated again");
  await expect(page.getByRole("button", { name: "Take these off again" })).toHaveCount(0);

  // Forgotten: what lies on it is taken off again, its steps open once more.
  await openRebuild(page, shop.address, "R-0415");
  await page.locator("select[name=part]").first().selectOption({ label: "Adjusting shim" });
  await page.getByRole("button", { name: "Show what comes off" }).click();
  await expect(page.locator(".cost .order li")).toHaveText(["Thrust bracket", "Adjusting shim"]);
  await page.getByRole("button", { name: "Take these off again" }).click();
  await page.goto(page.url().replace(/\?.*/, "") + "?step=on.adj");
  await expect(hand.getByRole("button", { name: "Done" })).toBeVisible();
  expect(shop.verify()).toContain("whole");
});

test("a bearing is looked at, its marks are touched, it is replaced, and stands among the parts to order", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz", null);
  const bench = shop.address + (await rebuild(page, shop.address, "R-0412"));
  await page.goto(bench + "?step=look.brg-de");
  const fate = page.getByRole("region", { name: "What becomes of it" });
  await fate.getByText("Marks: touch what you see").click();
  await fate.getByRole("checkbox", { name: /Flutes across the path/ }).check();
  // Current marks end a bearing: it does not go on again without a word.
  await fate.getByRole("radio", { name: "Use again" }).check();
  await fate.getByRole("button", { name: "Say it" }).click();
  await expect(page.getByRole("alert")).toContainText("means that it is done for");
  await fate.getByRole("radio", { name: "Replace" }).check();
  const why = fate.getByLabel("Why, and what is done or ordered");
  await fate.getByRole("button", { name: "Say it" }).click();
  await expect(page.getByRole("alert")).toContainText("why, and what is ordered");
  // What is typed next goes into the field that is wrong.
  await expect(why).toBeFocused();
  await expect(why).toHaveAttribute("aria-invalid", "true");
  await why.fill("fluted; 6208 C3");
  await why.press("Enter");
  await expect(fate).toHaveCount(0);
  await page.getByRole("link", { name: "Ledger" }).click();
  await expect(page.getByText("1 to be ordered.")).toBeVisible();
  await expect(page.locator("tr", { hasText: "fluted; 6208 C3" }).first()).toContainText("Flutes across the path".toLowerCase());
  const csv = await page.request.get(bench + "/parts-to-order.csv");
  expect(await csv.text()).toContain("fluted; 6208 C3");
  // Its place wants the new one, by its number.
  await page.goto(bench + "?step=ask.new.brg-de");
  const number = page.getByLabel("Number or batch of the new one");
  await page.getByRole("button", { name: "Record it" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await number.fill("6208 C3, batch 26-114");
  await page.getByRole("button", { name: "Record it" }).click();
  await page.goto(bench + "?step=ask.new.brg-de");
  await expect(number).toHaveValue("6208 C3, batch 26-114");
});

test("numbers go into the field of the act in hand, and the first link leads there", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz", null);
  const bench = shop.address + (await rebuild(page, shop.address, "R-0412"));
  await page.goto(bench + "?seat=ie&step=cool");
  await page.waitForLoadState();
  await page.keyboard.type("41");
  await expect(page.getByLabel("Thermometer says")).toHaveValue("41");
  await expect(page.getByLabel("Thermometer says")).toBeFocused();
  // With Tab alone: the first link, and from there the field.
  await page.goto(bench + "?seat=ie&step=cool");
  await page.waitForLoadState();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  let tabs = 0;
  do await page.keyboard.press("Tab");
  while (++tabs < 12 && !(await page.getByLabel("Thermometer says").evaluate(e => e === document.activeElement)));
  expect(tabs).toBeLessThan(6);
});
