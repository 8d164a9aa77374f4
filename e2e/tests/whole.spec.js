// The whole way of a machine: drawn from nothing, rebuilt, found, taken apart, worked out of order, a seal forgotten
// and backed out, a mark voided, a newer version taken over; in two browsers.
import { test, expect, openRebuild, signIn } from "./shop.js";
import { deflateSync } from "node:zlib";

/** A small PNG, made here. */
function png(w, h) {
  const crc = b => {
    let c = ~0;
    for (const x of b) {
      c ^= x;
      for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
    }
    return ~c >>> 0;
  };
  const chunk = (name, body) => {
    const b = Buffer.concat([Buffer.from(name), body]),
      out = Buffer.alloc(b.length + 8);
    out.writeUInt32BE(body.length);
    b.copy(out, 4);
    out.writeUInt32BE(crc(b), b.length + 4);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(w);
  head.writeUInt32BE(h, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const rows = Buffer.alloc((w * 3 + 1) * h, 120);
  for (let y = 0; y < h; y++) rows[y * (w * 3 + 1)] = 0;
  return Buffer.concat([
    Buffer.from([137, 80, 78, 71, 13, 10, 26, 10]),
    chunk("IHDR", head),
    chunk("IDAT", deflateSync(rows)),
    chunk("IEND", Buffer.alloc(0)),
  ]);
}

test("a machine is drawn, rebuilt, backed out and brought to a newer version", async ({ page, browser, shop }) => {
  test.setTimeout(180_000);
  await signIn(page, shop.address, "ines");

  // Drawn from nothing: two lands, a seal, a bearing, a circlip, a limit with its source.
  await page.goto(shop.address + "/anatomies");
  await page.getByLabel("Its name").fill("Quay fan");
  await page.getByRole("button", { name: "Take a blank shaft" }).click();
  await page.getByText("Lay a land at end B").click();
  const lay = page.locator("details", { hasText: "Lay a land at end B" });
  await lay.getByLabel("Name").fill("body");
  await lay.getByLabel("Length, mm").fill("100");
  await lay.getByLabel("Diameter, mm").fill("60");
  await lay.getByRole("button", { name: "Lay it" }).click();
  await expect(page.locator(".board svg .land-target")).toHaveCount(2);
  // Answers come late from here on: what is pressed and typed meanwhile waits for them and is not lost.
  await page.route(/\/drafts\//, async r => {
    await new Promise(done => setTimeout(done, 150));
    await r.continue();
  });
  const put = async (kind, land) => {
    const before = await page.locator(".lists [data-pick-part]").count();
    await page.locator("#shelf-land").selectOption(land);
    await page.locator(`.shelf [data-kind="${kind}"]`).click();
    await expect(page.locator(".lists [data-pick-part]")).toHaveCount(before + 1);
  };
  await put("seal", "land");
  await page.getByLabel("Comes from").selectOption("A");
  await page.getByRole("button", { name: "Set it so" }).first().click();
  // Its lip: what it keeps in lies towards B, so facing A contradicts, told at once.
  await page.getByText("More of it").click();
  await page.getByLabel("Keeps in what lies towards").selectOption("B");
  await page.locator(".set-form[open]").getByRole("button", { name: "Set it so" }).click();
  await page.locator(".in-hand [name=faces]").selectOption("A");
  await page.getByRole("button", { name: "Set it so" }).first().click();
  await expect(page.locator(".faults")).toContainText("Lip seal has its lip the wrong way");
  await page.getByRole("button", { name: "Turn it round" }).click();
  await expect(page.locator(".faults")).toHaveCount(0);
  await put("bearing", "land-1");
  await put("circlip", "land-1");
  await page.getByLabel("Comes from").selectOption("A");
  await page.locator(".in-hand [name=at]").first().fill("1");
  await page.getByRole("button", { name: "Set it so" }).first().click();
  await page.locator(".lists [data-pick-part=bearing]").click();
  await page.locator(".in-hand [name=at]").first().fill("10");
  await page.getByRole("button", { name: "Set it so" }).first().click();
  await expect(page.locator(".follows")).toContainText("cannot get past");

  // A limit: refused beside its field until it is whole, with what was typed kept.
  await page.locator(".set-groups summary", { hasText: "Add a float" }).click();
  let limit = page.locator(".set-form[open]");
  await limit.getByLabel("What floats").fill("End play");
  await limit.getByLabel("At least").fill("0.1");
  await limit.getByLabel("At most").fill("wide");
  await limit.getByRole("button", { name: "Add it" }).click();
  limit = page.locator(".set-form[open]");
  await expect(limit.getByRole("alert")).toBeVisible();
  await expect(limit.getByLabel("At most")).toHaveValue("wide");
  await limit.getByLabel("At most").fill("0.3");
  await limit.getByLabel("Source and date").fill("shop sheet 7, 2026-11");
  await limit.getByRole("button", { name: "Add it" }).click();
  await expect(page.locator(".set-groups summary", { hasText: "End play, 0.1 to 0.3 mm" })).toBeVisible();
  await page.getByRole("button", { name: "Keep as a version" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Quay fan");

  // A rebuild begins; the trail is there.
  await page.goto(shop.address + "/");
  await page.getByText("Start a rebuild").click();
  const start = page.locator(".start");
  await start.locator("[name=title]").fill("Fan of the quay house");
  await start.locator("[name=customer]").fill("Fennel Lock Water Board");
  await start.locator("[name=number]").fill("R-0900");
  await start.locator("[name=anatomy]").selectOption({ label: "Quay fan" });
  await start.locator("[name=due_on]").fill("2030-01-15");
  await start.getByRole("button", { name: /start/i }).click();
  await expect(page.locator(".act-in-hand")).toBeVisible();
  const base = page.url().replace(/\?.*/, ""),
    hand = page.locator(".act-in-hand");
  const to = async (step, p = page) => {
    await p.goto(base + "?step=" + encodeURIComponent(step));
  };
  const done = async (p = page) => {
    // The page that it leads to, with its scripts: what is touched before they listen is touched in vain.
    const button = p.locator(".act-in-hand").getByRole("button", { name: /^Done|^Record it$/ });
    await Promise.all([p.waitForEvent("load"), button.click()]);
  };
  await to("receive.safe");
  await done();
  await to("receive.kind");
  await done();

  // As found: the drawn part is turned by touch, an upload is refused and another kept, ohms and lengths are read.
  await to("ask.lip-seal.faces");
  await page.locator(".map svg [data-part='lip-seal'] .hit").click({ force: true });
  await expect(hand.getByLabel("end B")).toBeChecked();
  await page.locator(".map svg [data-part='lip-seal'] .hit").click({ force: true });
  await expect(hand.getByLabel("end A")).toBeChecked();
  await hand.locator("[type=file]").focus(); // as a hand that opens the dialog: nothing is swept away under it
  await hand.locator("[type=file]").setInputFiles({ name: "seal.gif", mimeType: "image/png", buffer: Buffer.from("GIF89a\x01\x00") });
  await hand.getByRole("button", { name: "Attach it" }).click();
  await expect(hand.getByRole("alert")).toContainText("neither");
  await hand.locator("[type=file]").setInputFiles({ name: "seal.png", mimeType: "image/png", buffer: png(640, 400) });
  await hand.getByRole("button", { name: "Attach it" }).click();
  const shot = hand.locator(".evidence img");
  await expect(shot).toHaveCount(1);
  await expect.poll(() => shot.evaluate(i => i.naturalWidth), "the picture is loaded").toBe(320);
  await to("ask.lip-seal.faces");
  await hand.getByLabel("end A").check();
  await hand.getByRole("button", { name: "Record it" }).click();
  // The step that would destroy what is not said yet is held, in a sentence.
  await to("off.circlip");
  await expect(hand.locator(".held-note")).toContainText("End play");
  await to("ask.float.end-play");
  await hand.getByLabel("What was found").fill("loose");
  await hand.getByRole("button", { name: "Record it" }).click();
  await expect(page.getByRole("alert")).toBeVisible();
  await hand.getByLabel("What was found").fill("0.45");
  await hand.getByRole("button", { name: "Record it" }).click();
  for (const q of ["ask.circlip.faces", "ask.bearing.faces", "ask.lip-seal.depth"]) {
    await to(q);
    await hand.getByRole("button", { name: "Cannot tell" }).click();
  }
  for (const s of [
    "off.circlip",
    "off.bearing",
    "off.lip-seal",
    "look.bearing",
    "kit.lip-seal",
    "land.land-1",
    "land.land",
    "kit.bearing",
  ]) {
    await to(s);
    await done();
  }

  // What was found contradicts the build sheet: which is right is said before the seal goes on.
  await to("on.lip-seal");
  await expect(hand.locator(".held-note")).toContainText("contradicts the build sheet");
  await to("ask.which.lip-seal");
  await expect(hand.getByRole("button", { name: "Cannot tell" })).toHaveCount(0);
  await hand.getByLabel("Which is right, and by what").fill("the build sheet: it was put in the wrong way round, by drawing 12");
  await hand.getByRole("button", { name: "Record it" }).click();
  // Out of order: the bearing before its seal is held with the reason; a second browser puts the seal on.
  await to("heat.bearing");
  await expect(hand.locator(".held-note")).toContainText("lip seal over its land");
  const other = await (await browser.newContext()).newPage();
  await signIn(other, shop.address, "yuki");
  await to("on.lip-seal", other);
  await done(other);
  await expect(hand.getByRole("button", { name: "Done" })).toBeVisible();
  await done();
  await to("on.bearing");
  await done();
  // It cools: the clock runs on every page, what rests on it is held, something else can be done meanwhile.
  await expect(page.locator("#clocks .chip", { hasText: "R-0900" })).toContainText("Bearing, cooling");
  await to("on.circlip");
  await expect(hand).toContainText("Bearing, cooling");
  await expect(page.locator(".meanwhile")).toContainText("Meanwhile");
  await to("kit.circlip");
  await done();
  await to("on.bearing");
  await hand.getByLabel("How do you know that it is over before its time?").fill("24 °C by the probe");
  await hand.getByRole("button", { name: "It is over already" }).click();
  // Proved home before the circlip is put against it.
  await to("home.bearing");
  await done();
  await to("on.circlip");
  await done();

  // Forgotten: the seal has to be got at. What comes off is shown in order and taken off; it is scrap then.
  await page.locator(".map svg .num-of[data-part='lip-seal']").click();
  await expect(page.locator(".cost .order li")).toHaveText(["Circlip", "Bearing", "Lip seal"]);
  await expect(page.locator(".cost")).toContainText("Scrapped, to be ordered: Lip seal");
  await expect(page.locator(".cost")).toContainText("To be heated again: Bearing");
  await page.getByRole("button", { name: "Take these off again" }).click();
  await expect(page.locator(".map svg .part.scrap")).not.toHaveCount(0);
  // The new one is here before it goes on, by its number.
  await to("on.lip-seal");
  await expect(hand.locator(".held-note")).toContainText("New lip seal");
  await to("ask.new.lip-seal");
  await hand.getByLabel("Number or batch of the new one").fill("60 x 80 x 10, batch 31");
  await hand.getByRole("button", { name: "Record it" }).click();
  await expect(page.locator(".trail-list li.free", { hasText: "Slide Lip seal over its land" })).toHaveCount(1);
  await to("on.lip-seal");
  await done();
  await to("heat.bearing");
  await done();
  await to("on.bearing");
  await done();
  await to("on.bearing");
  await hand.getByLabel("How do you know that it is over before its time?").fill("24 °C by the probe");
  await hand.getByRole("button", { name: "It is over already" }).click();
  // Proved home before the circlip is put against it.
  await to("home.bearing");
  await done();
  await to("on.circlip");
  await done();

  // A number outside its limit stays only with a reason.
  await to("float.end-play");
  await hand.getByLabel(/readings/).fill("0.42; 0.42; 0.42");
  await hand.getByLabel(/With whom/).fill("Yuki Halloran");
  await done();
  await expect(page.getByRole("alert")).toContainText("0.42 mm is above 0.30 mm (shop sheet 7, 2026-11)");
  await hand.getByLabel(/readings/).fill("0.2; 0.2; 0.2");
  await done();
  await to("float.end-play");
  await expect(hand).toContainText("0.20 mm of 0.10 mm … 0.30 mm");

  // As found beside as left.
  await page.goto(base + "/ledger");
  const line = page.locator(".found-left tr", { hasText: "End play" });
  await expect(line).toContainText("0.45 mm");
  await expect(line).toContainText("0.20 mm");
  await expect(line).toContainText("−0.25 mm");

  // A newer version: shown with what it changes, taken over by the lead, records kept.
  await page.goto(shop.address + "/anatomies/quay-fan");
  await page.getByRole("button", { name: "Draw the next version" }).click();
  await page.locator("#shelf-land").selectOption("land");
  await page.locator('.shelf [data-kind="sleeve"]').click();
  await expect(page.locator(".lists [data-pick-part=sleeve]")).toHaveCount(1);
  await page.getByRole("button", { name: "Keep as a version" }).click();
  await page.goto(base);
  await page.getByRole("link", { name: "See what it changes" }).click();
  await expect(page.locator(".differences")).toContainText("Part Sleeve is new.");
  await page.getByRole("button", { name: "Take version 2 over" }).click();
  await expect(page.locator(".act-in-hand")).toBeVisible();
  await to("on.sleeve");
  await expect(hand.getByRole("heading", { level: 1 })).toContainText("Slide sleeve on");
  await to("float.end-play");
  await expect(hand).toContainText("0.20 mm");
  expect(shop.verify()).toContain("whole");
});

test("marks of a machined part are void and new ones are asked for", async ({ page, shop }) => {
  await signIn(page, shop.address, "ines", null);
  await openRebuild(page, shop.address, "R-0415");
  const hand = page.locator(".act-in-hand");
  await page.locator("select[name=part]").first().selectOption({ label: "Thrust collar" });
  await page.getByRole("button", { name: "Show what comes off" }).click();
  await page.getByRole("button", { name: "Take these off again" }).click();
  await page.getByText("A face was machined").click();
  const repair = page.locator(".reach", { hasText: "Repairs that void a mark" });
  await repair.locator("select[name=part]").selectOption({ label: "Thrust collar" });
  await repair.getByRole("button", { name: /Void the marks/ }).click();
  await expect(page.getByRole("alert")).toContainText("expected what was done to it");
  await repair.getByLabel("What was done to it").fill("A face ground 0.05 mm");
  await repair.getByRole("button", { name: /Void the marks/ }).click();
  await expect(page.locator(".repaired")).toContainText("A face ground 0.05 mm");
  const base = page.url().replace(/\?.*/, "");
  await page.goto(base + "?step=torque.nut");
  await expect(hand.getByRole("heading", { level: 1 })).toContainText("not to the old mark, it is void");
  await page.goto(base + "?step=ask.again.nut.mark");
  await expect(hand).toContainText("Held");
  await page.getByRole("button", { name: "Noted by mistake" }).click();
  await expect(page.locator(".repaired")).toHaveCount(0);

  // An angle is said on the clock drawing by touch.
  await openRebuild(page, shop.address, "R-0418");
  await page.goto(page.url().replace(/\?.*/, "") + "?step=ask.cw.clock");
  await page.locator('.clock-face a[aria-label="75 degrees"]').click();
  await expect(hand.getByLabel(/What was found/)).toHaveValue("75");
  await hand.getByRole("button", { name: "Record it" }).click();
  await expect(page.locator(".trail-list li.done", { hasText: "Compressor wheel: at which angle" })).toHaveCount(1);
});
