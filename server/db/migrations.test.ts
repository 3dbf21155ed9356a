import { createHash } from "node:crypto";
import { readdir, readFile } from "node:fs/promises";
import { expect, test } from "@jest/globals";

const at = (path: string) => new URL(`../../db/${path}`, import.meta.url);

test("a migration that studios have run is changed no more: another one goes on from it", async () => {
  const kept = (await readFile(at("migrations.sha256"), "utf8")).trim().split("\n");
  const names = (await readdir(at("migrations"))).sort();
  const now = await Promise.all(
    names.map(async (name) => {
      const sha256 = createHash("sha256").update(await readFile(at(`migrations/${name}`)));
      return `${sha256.digest("hex")}  ${name}`;
    }),
  );
  expect(now).toEqual(kept);
});
