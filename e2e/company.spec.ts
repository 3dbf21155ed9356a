import { expect } from "@playwright/test";
import { expectAccessible, settled, signIn, typeValue, test } from "./studio";

test("two people find two sizes: the second sees both, and one is chosen", async ({ browser }) => {
  const [ines, joost] = [await signIn(browser, "ines"), await signIn(browser, "joost")];
  const list = await ines.request.get("/api/v1/materials?q=Harbour+brick%2C+flint");
  const [{ id, repeat }] = (await list.json()).items;
  for (const page of [ines, joost]) {
    await page.goto(`/materials/${id}/gauge`);
    await settled(page);
    await page.getByLabel("Way to the size").selectOption("size");
  }
  const save = async (page: typeof ines, width: number) => {
    await page.getByLabel("Width", { exact: true }).fill(`${width} mm`);
    await page
      .getByLabel(/^Height/)
      .first()
      .fill(`${width} mm`);
    await page.getByRole("button", { name: "Save this size" }).click();
  };
  await save(ines, repeat.width + 10);
  await expect(ines.getByText(/Saved as revision/)).toBeVisible();
  await save(joost, repeat.width + 20);
  const both = joost.getByRole("region", { name: "Saved meanwhile" });
  await expect(both.getByRole("row").filter({ hasText: "Width" })).toContainText(`${repeat.width + 10} mm`);
  await expectAccessible(joost);
  await both.getByRole("button", { name: "Take theirs" }).click();
  await expect(both).toBeHidden();
  await expect(joost.getByLabel("Width", { exact: true })).toHaveValue(`${repeat.width + 10} mm`);
  await save(joost, repeat.width);
  await expect(joost.getByText(/Saved as revision/)).toBeVisible();
});

test("two people save the same material: the second sees both versions, field by field, and loses nothing", async ({
  browser,
}) => {
  const [ines, joost] = [await signIn(browser, "ines"), await signIn(browser, "joost")];
  const list = await ines.request.get("/api/v1/materials?q=Harbour+brick%2C+flint");
  const [{ id }] = (await list.json()).items;
  for (const page of [ines, joost]) {
    // A smaller picture of the surface is drawn sooner.
    await page.setViewportSize({ width: 960, height: 640 });
    await page.goto(`/materials/${id}/finish`);
    await settled(page);
  }
  // Both have it open; what one saves does not take away what the other is typing.
  await typeValue(joost, "index of refraction", "1.47");
  await typeValue(ines, "normal strength", "0.8");
  await ines.getByRole("button", { name: "Save", exact: true }).click();
  await expect(ines.getByText(/Saved as revision/)).toBeVisible();
  await joost.waitForTimeout(1500);
  await expect(joost.getByRole("textbox", { name: "index of refraction", exact: true })).toHaveValue("1.47");
  await joost.getByRole("button", { name: "Save", exact: true }).click();
  const both = joost.getByRole("region", { name: "Saved meanwhile" });
  await expect(both.getByRole("row")).toHaveCount(3);
  await expectAccessible(joost);
  await both.getByRole("button", { name: "Save what is chosen" }).click();
  await expect(joost.getByText(/Saved as revision/)).toBeVisible();
  const merged = await (await ines.request.get(`/api/v1/materials/${id}`)).json();
  expect(merged.finish).toMatchObject({ ior: 1.47, normalStrength: 0.8 });
  expect(merged.name).toBe("Harbour brick, flint");
});
