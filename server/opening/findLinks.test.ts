import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { findLinks } from "#server/opening/findLinks";

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "kalonomy-links-"));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

async function found(name: string, content: Buffer | string, most?: number) {
  const [path, to] = [join(folder, "in"), join(folder, "out")];
  await writeFile(path, content);
  const facts = await findLinks({ path, name, to, most });
  return { ...facts, paths: (await readFile(to, "utf8")).split("\n").slice(0, -1) };
}

describe("a list that is handed in", () => {
  test("is read in whatever letters it is written", async () => {
    const text = "S:\\Hölzer\\Eiche.png\r\nS:\\Hölzer\\Eiche.png\r\n\r\nS:\\Ñandú\\β.png";
    const paths = ["S:\\Hölzer\\Eiche.png", "S:\\Ñandú\\β.png"];
    expect(await found("list.txt", text)).toEqual({ found: 2, leftOut: 0, paths });
    expect((await found("list.txt", Buffer.from(`\uFEFF${text}`))).paths).toEqual(paths);
    expect((await found("list.txt", Buffer.from(`\uFEFF${text}`, "utf16le"))).paths).toEqual(paths);
    const windows = Buffer.from("S:\\H\xf6lzer\\Eiche.png\nS:\\a.png", "latin1");
    expect((await found("list.txt", windows)).paths).toEqual(["S:\\Hölzer\\Eiche.png", "S:\\a.png"]);
  });

  test("is split where pieces of the file end in the middle of a letter or a line", async () => {
    const lines = Array.from({ length: 9000 }, (_, i) => `/share/ä${"ö".repeat(i % 40)}/${i}.png`);
    const { paths, leftOut } = await found("long.csv", lines.join("\n"));
    expect(leftOut).toBe(0);
    expect(paths).toEqual(lines);
  });

  test("of more lines than are read is read to there, and what is more is said to be left out; so is what no path can be", async () => {
    const many = Array.from({ length: 20_003 }, (_, i) => `/s/${i}.png`).join("\n");
    const { found: count, leftOut } = await found("many.txt", many, 20_000);
    expect([count, leftOut]).toEqual([20_000, 3]);
    const odd = `/s/a.png\n${"x".repeat(1001)}.png\n${"y".repeat(400_000)}\n/s/b.png`;
    expect(await found("odd.txt", odd)).toEqual({ found: 2, leftOut: 2, paths: ["/s/a.png", "/s/b.png"] });
  });

  test("or a scene is told by its extension, and refused in words where it is none", async () => {
    expect((await found("oak.MTL", "newmtl oak\nmap_Kd oak.png\nKd 1 1 1")).paths).toEqual(["oak.png"]);
    expect(
      (await found("oak.usda", '#usda 1.0\ndef Shader "s" { asset inputs:file = @a.png@ }')).paths,
    ).toEqual(["a.png"]);
    await expect(found("oak.glb", "glTF")).rejects.toThrow(/holds its files itself/);
    expect((await found("list.constructor", "/s/a.png")).paths).toEqual(["/s/a.png"]);
    await expect(found("oak.gltf", "{")).rejects.toThrow(/no glTF/);
    await expect(found("picture.txt", Buffer.from([0x89, 0x50, 0, 1]))).rejects.toThrow(/no text/);
    await expect(found("empty.txt", "")).rejects.toThrow(/names no files/);
    await expect(found("blank.txt", "\n \n")).rejects.toThrow(/names no files/);
  });
});
