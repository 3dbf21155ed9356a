import { createHash } from "node:crypto";
import { mkdtemp, readdir, rm } from "node:fs/promises";
import type { Server } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, test } from "@jest/globals";
import sharp from "sharp";
import { renderPattern } from "#core/pattern/patternSet";
import draw from "./draw";
import { DRAWN_LINES } from "./lines";
import { createService, type Service } from "./service";

let folder: string;
let service: Service;
let server: Server;
let address: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "kalonomy-supplier-"));
  service = createService(folder);
  server = service.app.listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  await new Promise((resolve) => server.close(resolve));
  await service.close();
  await rm(folder, { recursive: true, force: true });
});

const post = (path: string, body: unknown) =>
  fetch(address + path, {
    method: "POST",
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify(body),
  });

test("draws a variant whose normal map points as the sheet says, as deep as its type can hold", async () => {
  const task = { line: "holm-shingle", code: "HS-400-L", joint: null, pixels: 64 };
  const { files } = await draw({ ...task, type: "png" });
  const normal = files.find(({ role }) => role === "geometry_normal")!;
  expect((await sharp(normal.bytes).metadata()).depth).toBe("ushort");
  const found = DRAWN_LINES.find(({ facts }) => facts.id === "holm-shingle")!;
  expect(found.normalDirection).toBe("-Y");
  const made = found.draw(found.colours[0], null, 100 * (DRAWN_LINES.indexOf(found) + 1));
  const { width, height } = await sharp(normal.bytes).metadata();
  const up = renderPattern(made.surface, { repeat: made.repeat, widthPx: width, heightPx: height });
  const down = await sharp(normal.bytes).toColourspace("rgb16").raw({ depth: "ushort" }).toBuffer();
  const codes = new Uint16Array(down.buffer, down.byteOffset, down.length / 2);
  expect(Array.from(codes.slice(0, 300), (v, i) => (i % 3 === 1 ? 65535 - v : v))).toEqual(
    Array.from(up.geometry_normal.data.slice(0, 300)),
  );
  const flat = await draw({ ...task, type: "jpeg" });
  expect((await sharp(flat.files[1].bytes).metadata()).format).toBe("jpeg");
});

test("a package of plain colours is a sheet alone, with its length and digest", async () => {
  const response = await post("/packages", {
    line: "loom-wall",
    products: [{ code: "LW-101", joint: null }],
    pixels: 512,
    roles: [],
    type: "png",
  });
  const bytes = Buffer.from(await response.arrayBuffer());
  expect(response.headers.get("Content-Length")).toBe(String(bytes.length));
  expect(response.headers.get("Repr-Digest")).toBe(
    `sha-256=:${createHash("sha256").update(bytes).digest("base64")}:`,
  );
  expect(bytes.includes("product-sheet.json")).toBe(true);
  // The answer is whole before its file is cleared away.
  let left = await readdir(join(folder, "packages"));
  for (let tries = 0; left.length > 0 && tries < 50; tries++) {
    await new Promise((resolve) => setTimeout(resolve, 20));
    left = await readdir(join(folder, "packages"));
  }
  expect(left).toEqual([]);
});

test.each([
  [{ line: "no-line" }, /There is no line/],
  [{ products: [{ code: "LW-1", joint: null }] }, /no product “LW-1”/],
  [{ products: [{ code: "LW-101", joint: "dark" }] }, /does not come with the joint/],
  [{ products: [] }, /products/],
])("refuses %j with a reason", async (change, reason) => {
  const order = { line: "loom-wall", products: [{ code: "LW-101", joint: null }], pixels: 512, roles: [] };
  const response = await post("/listing", { ...order, type: "png", ...change });
  expect(response.status).toBe(400);
  expect(((await response.json()) as { detail: string }).detail).toMatch(reason);
});
