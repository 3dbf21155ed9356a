import { execFile } from "node:child_process";
import { mkdir, mkdtemp, rm, stat, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { promisify } from "node:util";
import { expect } from "@playwright/test";
import sharp from "sharp";
import { test } from "./studio";

const run = promisify(execFile);

const flat = (channels: 3 | 4, background: string) =>
  sharp({ create: { width: 64, height: 32, channels, background } })
    .png()
    .toBuffer();

test("the script of the documentation takes a folder in, sizes it and fetches it converted", async ({
  baseURL,
}) => {
  const place = await mkdtemp(join(tmpdir(), "kalonomy-script-"));
  try {
    const name = `weir${Date.now()}`;
    await mkdir(join(place, "in", "deep"), { recursive: true });
    await writeFile(join(place, "in", "deep", `${name}_basecolor.png`), await flat(3, "#8a5a44"));
    await writeFile(join(place, "in", "deep", `${name}_roughness.png`), await flat(3, "#909090"));
    await writeFile(join(place, "in", "notes.xyz"), "nothing to see");
    const title = name[0].toUpperCase() + name.slice(1);
    await writeFile(
      join(place, "sizes.json"),
      JSON.stringify({ [title]: { method: "size", width: 1200, height: 600 } }),
    );
    const out = join(place, "out.zip");
    const { stdout } = await run(
      process.execPath,
      ["docs/deliver-folder.mjs", join(place, "in"), join(place, "sizes.json"), out, "gltf-2"],
      { env: { ...process.env, KALONOMY_ADDRESS: baseURL, KALONOMY_TOKEN: process.env.KALONOMY_DEMO_TOKEN } },
    );
    expect(stdout).toContain(`size: ${title}: 1200 × 600 mm`);
    expect(stdout).toContain("left out: notes.xyz");
    expect(stdout).toContain("1 delivered into");
    expect((await stat(out)).size).toBeGreaterThan(500);
  } finally {
    await rm(place, { recursive: true, force: true });
  }
});
