import { expect, test } from "@playwright/test";
import { expectAccessible, settled, signIn } from "./studio";

test("what was delivered is proved by pictures, and found by the paths that people's machines have", async ({
  browser,
}) => {
  const page = await signIn(browser, "ines");
  const list = await (await page.request.get("/api/v1/materials?q=Tidewater+glaze%2C+teal")).json();
  const name = `Site share ${Date.now().toString(36)}`;
  await page.goto(`/deliveries/new?material=${list.items[0].id}&profile=packed-walkthrough-m`);
  await settled(page);
  await page.getByLabel("or into a new destination").fill(name);
  await page.getByRole("button", { name: /^Start/ }).click();
  await page.waitForURL(/\/deliveries\/[0-9a-f]{8}-/);
  const delivery = page.url();
  await expect(
    page.getByRole("img", { name: /the material, the delivery and their difference/ }),
  ).toBeVisible({
    timeout: 90_000,
  });
  await expect(page.getByText(/ΔE \d\.\d on the whole/)).toBeVisible();
  await expectAccessible(page);
  await page.getByText("Under every light, on both shapes").click();
  await expect(page.getByRole("figure")).toHaveCount(4);

  await page.goto("/destinations");
  await settled(page);
  const destination = page.locator("section").filter({ hasText: name });
  await destination.locator("summary").click();
  await destination.getByRole("textbox").fill("Windows = S:\\Site\nMacs: no path");
  await destination.getByRole("button", { name: "Save" }).click();
  await expect(page.getByRole("alert")).toContainText("Windows = S:\\Textures");
  await destination.getByRole("textbox").fill("Windows = S:\\Site");
  await destination.getByRole("button", { name: "Save" }).click();
  await expect(destination.getByRole("row", { name: /Windows/ })).toContainText("S:\\Site");

  await page.goto(delivery);
  const path = await page.locator(".whole-path .file").textContent();
  expect(path).toMatch(/^S:\\Site\\packed-walkthrough-m\\tidewater-glaze-teal/);
  await page.goto("/destinations");
  await settled(page);
  const file = `${path!.replace(/^.*\\/, "")}_orm.png`;
  await page.getByLabel("Paths").fill([`${path}\\${file}`, `D:\\old\\${file}`, "D:\\mine.png"].join("\n"));
  await page.getByRole("button", { name: "Check" }).click();
  const found = page.getByRole("region", { name: "What was found" });
  await expect(found).toContainText("3 paths: 1 there, 0 with a newer revision, 1 moved, 1 not known here.");
  await expectAccessible(page);
});
