import { expect } from "@playwright/test";
import { build } from "esbuild";
import type { Agreement } from "./livePage";
import { test } from "./studio";

test("what the graphics card draws agrees with the shading model, for each kind of material", async ({
  page,
}) => {
  const { outputFiles } = await build({
    entryPoints: ["e2e/livePage.ts"],
    bundle: true,
    write: false,
    format: "iife",
    platform: "browser",
    target: "es2022",
  });
  const problems: string[] = [];
  page.on("console", (message) => message.type() === "error" && problems.push(message.text()));
  await page.setContent("<canvas></canvas>");
  await page.addScriptTag({ content: outputFiles[0].text });
  const found = await page.evaluate(() =>
    (window as unknown as { agreements(): Promise<Agreement[]> }).agreements(),
  );
  expect(problems).toEqual([]);
  expect(found).toHaveLength(42);
  const means = found.map(({ mean }) => mean);
  test.info().annotations.push({
    type: "agreement",
    description: `mean ΔE2000 ${(means.reduce((sum, one) => sum + one) / means.length).toFixed(2)}, worst mean ${Math.max(...means).toFixed(2)}`,
  });
  if (process.env.SHOW_AGREEMENT) console.table(found);
  expect(found.filter(({ mean }) => mean > 1)).toEqual([]);
});
