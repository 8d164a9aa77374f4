// Who is there: a lead puts somebody in, who sets a password with the code and is put away again.
import { test, expect, signInByHand } from "./shop.js";

test("a lead puts somebody in; the code is used once; put away, the session ends", async ({ page, browser, shop }) => {
  await signInByHand(page, shop.address, "ines");
  await page.getByRole("link", { name: "People" }).first().click();
  const form = page.locator(".put-in");
  await form.getByLabel("Name, as on certificates").fill("Marek Quill");
  await form.getByLabel("Sign-in name").fill("Marek Q");
  await form.getByRole("button", { name: "Put in and give out a code" }).click();
  await expect(form.getByRole("alert")).toContainText("small letters and digits");
  await expect(form.getByLabel("Name, as on certificates")).toHaveValue("Marek Quill");
  await form.getByLabel("Sign-in name").fill("marek");
  await form.getByRole("button", { name: "Put in and give out a code" }).click();
  const code = (await page.locator(".given-code .big").textContent()).trim();
  expect(code).toMatch(/^[A-Z2-9]{4}-[A-Z2-9]{4}-[A-Z2-9]{4}$/);

  const other = await (await browser.newContext()).newPage();
  await other.goto(shop.address + "/sign-in");
  await other.getByRole("link", { name: "I have a code from a lead" }).click();
  await other.getByLabel("Sign-in name").fill("marek");
  await other.getByLabel("Code").fill(code.toLowerCase());
  await other.getByLabel("Password").fill("a long enough one");
  await other.getByLabel("PIN for signing").fill("1234");
  await other.getByRole("button", { name: "Set them and sign in" }).click();
  await expect(other.getByRole("alert")).toContainText("nor a run such as 1234");
  await expect(other.getByLabel("Sign-in name")).toHaveValue("marek");
  await other.getByLabel("Code").fill(code);
  await other.getByLabel("Password").fill("a long enough one");
  await other.getByLabel("PIN for signing").fill("2711");
  await other.getByRole("button", { name: "Set them and sign in" }).click();
  await expect(other.getByRole("heading", { level: 1 })).toContainText("rebuild");

  await page.goto(shop.address + "/people");
  const row = page.locator(".crew tr", { hasText: "Marek Quill" });
  await row.locator("summary").click();
  await row.getByRole("button", { name: "Put away" }).click();
  await expect(page.locator(".crew tr", { hasText: "Marek Quill" })).toContainText("put away");
  await other.reload();
  await expect(other.getByRole("button", { name: "Sign in" })).toBeVisible();
  await expect(page.locator(".shop-record")).toContainText("Marek Quill put away.");
  expect(shop.verify()).toContain("people: whole");
});
