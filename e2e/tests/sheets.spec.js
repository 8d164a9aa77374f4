// Sheets of acts: one walk a family, from the bench to the answer, by numbers and Enters.
import AxeBuilder from "@axe-core/playwright";
import { test, expect, rebuild, signIn, type } from "./shop.js";

const pairs = (...list) => list.flat().map(String);

/** Opens an act on the bench by its link on the trail. */
async function openAct(page, address, number, act) {
  const href = await rebuild(page, address, number);
  const there = `${address}${href}?step=${encodeURIComponent(act)}`;
  await page.goto(there);
  return there;
}

/** From the act in hand to a sheet: its own, or one out of the list of all. */
async function openSheetOf(page, title) {
  const own = page.locator(".act-sheets").getByRole("link", { name: title });
  if (await own.count()) await own.first().click();
  else {
    await page.getByText("Another sheet here").click();
    await page.locator(".more-sheets").getByRole("link", { name: title, exact: true }).click();
  }
  await expect(page.locator("#live[data-sheet]")).toBeVisible();
}

/** Types what stands beside the readings, by the labels of its fields. */
async function beside(page, fields) {
  const head = page.locator("details.given-fields");
  if ((await head.getAttribute("open")) === null) await head.locator("summary").first().click();
  const more = head.locator("details.also");
  if ((await more.count()) && (await more.getAttribute("open")) === null) await more.locator("summary").click();
  for (const [label, text] of Object.entries(fields)) {
    const field = head.getByLabel(label, { exact: false }).first();
    if (await field.evaluate(e => e.tagName === "SELECT")) await field.selectOption(text);
    else await field.fill(text);
  }
  const kept = page.waitForResponse(r => r.url().endsWith("/given"));
  await head.getByRole("button", { name: "Keep these" }).click();
  expect((await kept).status()).toBe(303);
  await page.waitForLoadState();
}

const families = {
  Measure: [
    {
      title: "Straightness",
      given: { "Places of the stations": "0 200 400" },
      read: pairs(0, 0, 0, 0, 0, 0, 0, 0, 15, 11, 0, -11, -15, -11, 0, 11, 0, 0, 0, 0, 0, 0, 0, 0),
      says: "Bent by 15 µm at 200",
    },
    {
      title: "Lobes in a vee",
      given: { "Number of lobes": "3" },
      read: pairs(6, 0, -6, 0, 6, 0, -6, 0, 6, 0, -6, 0),
      says: "Out of round by 6 µm",
    },
    {
      title: "Two rings against each other",
      read: pairs("24.003", "24.003", "24.004", "24.004", "24", "23.999", "24", "24.001"),
      says: "Grind 3.5 µm off the first ring",
    },
    {
      title: "Gouges and old tracks",
      given: { "Diameter of the land": "40", "Its width": "20" },
      read: pairs(3, "0.8", 90, 12, -35),
      says: "The ring is carried",
    },
    { title: "Key and keyways", read: pairs("3.3", "5", "8.2"), says: "0.100" },
  ],
  "True up": [
    { title: "Face sweep", given: { "Radius of the sweep": "60" }, read: pairs(6, 5, 3, 0, -3, -5, -6, -5, -3, 0, 3, 5), says: "12" },
    { title: "Stations along the rotor", read: pairs(50, 2, 0, 150, 6, 0, 250, 10, 0), says: "tilt" },
    {
      title: "Clocking of high spots",
      given: { Nose: "120", "Between the bearings": "300" },
      read: pairs(4, 3),
      says: "Angle between the marks",
    },
  ],
  "Set axially": [
    {
      title: "Rotor against its diffusers",
      given: { "Shim that is in": "4.2", "Offset that is allowed": "0.2" },
      read: pairs("112.4", "112.1"),
      says: "Make the shim 0.300 mm thinner",
    },
    { title: "Flinger backed off", given: { "Back it off by": "0.75" }, read: pairs("30.45", "30.85"), says: "Back it off 0.350 mm more" },
    { title: "Gap around a wheel", given: { "Smallest gap allowed": "0.25" }, read: pairs("0.31", "0.30", "0.28", "0.29"), says: "0.279" },
    {
      title: "Wear ring",
      given: { "Lower limit": "0.3", "Upper limit": "0.6", "What the limits mean": "total" },
      read: pairs("120.4", "120"),
      says: "0.400",
    },
  ],
  Preload: [
    { title: "Drag", given: { "Pitch circle": "65" }, read: pairs(4, 40), says: "0.16" },
    {
      title: "Nut of taper rollers",
      given: { "Wanted float": "0.05", "Thread pitch": "1.5", "Between lock positions": "15" },
      read: ["0.2"],
      says: "36",
    },
    {
      title: "Lock positions",
      given: { "Slots of the nut": "4", "Tabs of the washer": "17", "Thread pitch": "1.5" },
      read: ["2"],
      says: "Between lock positions",
    },
    {
      title: "Shims under plain-bearing caps",
      given: { "Diameter of the journal": "60" },
      read: pairs(110, 55),
      says: "62 µm out of each side",
    },
    {
      title: "Expander of a plain bearing",
      given: { "Diameter of the journal": "60" },
      read: pairs(0, 20, "0.25", 38, "0.5", 39),
      says: "lock the screws",
    },
  ],
  "Torque and lock": [
    { title: "Bolt ring", given: { "Bolts, 1 to 200": "4", Stages: "50 100" }, presses: 12, says: "Crossing order" },
    {
      title: "A thread in soft metal",
      given: { "Diameter of the thread": "8", Pitch: "1.25", "What it is cut in": "aluminium", "Class of the bolt": "8.8" },
      read: ["12"],
      says: "Force at which the thread strips",
    },
  ],
  "Seals and closing": [
    { title: "Tilt of a seal", given: { Shaft: "40" }, read: pairs("6.05", "6.1", "6.05", "6.02"), says: "0.080" },
    { title: "Probe gap", given: { Sensitivity: "7.87", "Near end": "-2", "Far end": "-18" }, read: ["-9.8"], says: "Move the probe by" },
    { title: "Split seal ring", given: { "Bore that it closes in": "80" }, read: ["2.95", "3", "0.3", "0.4", "0.6"], says: "pinched" },
    { title: "Packing", read: pairs(40, 60, 52), says: "Rings that go in" },
    { title: "Wires before and after", read: pairs("109.8", "131"), says: "Wire 1 changed by 19.3 %" },
  ],
  Fit: [
    {
      title: "Press trace",
      given: { Joint: "40", "Travel to the shoulder": "18", "Lowest force": "4000", Highest: "14000" },
      read: pairs(3, 1500, 6, 3000, 9, 4500, 12, 6000, 15, 7500, 18, 9000, 18.05, 12000),
      says: "Rise of force",
    },
    {
      title: "Bush, once it is in",
      given: {
        "Bore before it was pressed in": "20",
        "Interference it had": "28",
        "Smallest wanted bore": "20",
        "Largest wanted bore": "20.021",
      },
      read: ["19.978", "19.981", "19.979", "19.982"],
      says: "Ream 32 µm",
    },
    {
      title: "Collar driven up by oil",
      given: { "Oil pressure that parts the surfaces": "90", "Wanted way from first contact": "3.6" },
      read: ["0.1", "95", "3.7", "4"],
      says: "Hold the push for 6 min more",
    },
    {
      title: "Pulling off",
      given: { "Most removal force of the fit": "21000", "What the puller may carry": "50000" },
      read: ["25000"],
      says: "something else holds it",
    },
    {
      title: "Bushes to holes",
      given: { "Wanted interference": "30" },
      read: pairs("30.05", "30.06", "30.04", "30.05", "30.02", "30.03", "30.01", "30.02"),
      says: "Largest deviation",
    },
  ],
  "Inspect and run in": [
    {
      title: "Run-in log",
      given: { Room: "20", "Full speed": "8000" },
      read: pairs(0, 20, 600, 30, 1200, 36, 1800, 39),
      says: "Speed now",
    },
  ],
};

for (const [family, list] of Object.entries(families)) {
  test(`sheets of the family ${family}: opened at an act, read by numbers and Enters, answered`, async ({ page, shop }) => {
    await signIn(page, shop.address, "tomasz", null);
    const bench = await openAct(page, shop.address, "R-0409", "look.f1");
    for (const s of list) {
      await page.goto(bench);
      await openSheetOf(page, s.title);
      if (s.given) await beside(page, s.given);
      await expect(page.locator(".picture svg").first()).toBeVisible();
      if (s.presses) {
        for (let k = 0; k < s.presses; k++) {
          await page.getByRole("button", { name: /^Drawn: bolt/ }).click();
          await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(k + 1);
        }
      } else await type(page, s.read);
      await expect(page.locator("#judged"), s.title).toContainText(s.says);
      await expect(page.locator("#judged .said")).toHaveCount(0);
    }
    // It is there again for whoever looks.
    await page.reload();
    await expect(page.locator("#judged")).toContainText(list.at(-1).says);
    const found = await new AxeBuilder({ page }).setLegacyMode(true).analyze();
    expect(found.violations.map(v => v.id)).toEqual([]);
  });
}

test("a press that took another force than was foreseen is asked about at its act, and what happened stands there", async ({
  page,
  shop,
}) => {
  await signIn(page, shop.address, "tomasz", null);
  await openAct(page, shop.address, "R-0409", "look.f2");
  const bench = page.url();
  await openSheetOf(page, "Press trace");
  await beside(page, { Joint: "40", "Travel to the shoulder": "18", "Lowest force": "4000", Highest: "14000" });
  await type(page, pairs(3, 4500, 6, 9000, 9, 13500, 12, 18000, 15, 22500, 18, 27000, 18.05, 36000));
  await expect(page.locator("#judged")).toContainText("More force than the largest interference can need");
  await page.goto(bench);
  const asked = page.getByRole("region", { name: "What happened?" });
  await expect(asked).toContainText("foreseen 9.0 kN ± 5.0 kN, came 27.0 kN");
  // Too short to be understood: it says so beside the field, and keeps what was typed.
  await asked.getByRole("textbox").fill("burr");
  await asked.getByRole("button", { name: "Say it" }).click();
  await expect(asked.getByRole("alert")).toContainText("xpected what happened");
  await expect(asked.getByRole("textbox")).toHaveValue("burr");
  await asked.getByRole("textbox").fill("burr on the lead-in, stoned off");
  await asked.getByRole("button", { name: "Say it" }).click();
  await expect(asked).toContainText("burr on the lead-in, stoned off");
  await expect(page).toHaveURL(bench);
});

test("a sweep leaves its act the number, in inches too, with a slip mended, the network away and a second person at it", async ({
  page,
  shop,
  browser,
}) => {
  await signIn(page, shop.address, "tomasz", null);
  await openAct(page, shop.address, "R-0415", "sweep.collar");
  await openSheetOf(page, "Runout sweep");
  await page.getByLabel("With").selectOption({ index: 1 });
  await expect(page.locator("#text")).toBeFocused();
  await type(page, ["4", "3", "1", "-1"]);
  // Typed in the larger unit: asked, and mended with one press.
  await page.keyboard.type("0.003");
  await page.keyboard.press("Enter");
  const ask = page.locator(".ask");
  await expect(ask).toContainText("less than a dial shows");
  await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(4);
  await ask.getByRole("button", { name: /It is 3/ }).click();
  await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(5);
  await expect(page.locator("#judged")).toContainText("So far, 5 of 12");
  await expect(page.locator("#expects")).toContainText("foretold");

  // The network is away: what is typed waits in sight, and goes by itself.
  await page.context().setOffline(true);
  for (const t of ["-3", "-4", "-3"]) {
    await page.keyboard.type(t);
    await page.keyboard.press("Enter");
  }
  await expect(page.locator("#waiting")).toContainText("wait to be sent");
  await page.context().setOffline(false);
  await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(8, { timeout: 30_000 });
  await expect(page.locator("#waiting")).toBeHidden();

  // A second person in inches sees them, and reads on.
  const other = await browser.newPage();
  await signIn(other, shop.address, "yuki", null);
  await other.goto(page.url());
  await other.getByRole("button", { name: /^mm/ }).click();
  await expect(other.locator(".entry .unit")).toHaveText("thou");
  await other.locator("#text").focus();
  await other.keyboard.type("-0.04");
  await other.keyboard.press("Enter");
  await expect(page.locator("tr[data-cell]:not([data-reading=''])")).toHaveCount(9);
  await other.close();
  await type(page, ["1", "3", "4"]);
  await expect(page.locator("#judged .verdict")).toContainText("Go");
  await expect(page.locator("#judged .verdict")).toContainText("8 µm; at most 12 µm");
  // The act was done with another number: the sheet says so, the bench and the ledger name it.
  await expect(page.locator(".measure")).toContainText("Its act was done with 6 µm");
  await page.getByRole("link", { name: /Back to the act/ }).click();
  await expect(page.locator(".act-sheets")).toContainText("12 of 12");
  await page.getByRole("link", { name: "Ledger" }).click();
  await expect(page.locator("#sheets + table")).toContainText("Runout sweep");
  await expect(page.locator("table.record")).toContainText("at 120°: 0.003000 mm");
  // The Reckoner says the same of the same numbers.
  await page.goBack();
  await page
    .locator(".act-sheets")
    .getByRole("link", { name: /Runout sweep/ })
    .click();
  await expect(page.locator("#judged .figures dd").first()).toContainText("8 µm");
  await page.getByRole("link", { name: "Reckon it with other numbers" }).click();
  await expect(page.locator(".reckon-answer .figures")).toContainText("8 µm");
});

test("what was read on its sheet stands in the field of the act", async ({ page, shop }) => {
  await signIn(page, shop.address, "tomasz", null);
  await openAct(page, shop.address, "R-0412", "tilt.seal-out");
  await openSheetOf(page, "Tilt of a seal");
  // Held until it can be read: said, with the way there.
  await expect(page.locator(".held-note")).toContainText("Held.");
  await page.keyboard.type("6");
  await page.keyboard.press("Enter");
  await expect(page.locator(".measure .said")).toContainText("once it can be");
  await expect(page.locator("#text")).toHaveValue("6");
});
