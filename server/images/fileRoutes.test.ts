import type { AddressInfo } from "node:net";
import type { Server } from "node:http";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import express from "express";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let server: Server;
let address: string;
let token: string;
let image: Buffer;
let sha256: string;

beforeAll(async () => {
  studio = await openTestStudio();
  token = (await studio.addPerson("look")).token;
  image = await picture("#336699", 300);
  const intake = await takeIn(studio, { "blue.png": image });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  const [{ id }] = (await studio.api("GET", "/materials?q=blue")).json.items;
  sha256 = (await studio.api("GET", `/materials/${id}`)).json.maps[0].sha256;
  const { fileRoutes } = await import("#server/images/fileRoutes");
  server = express().use(fileRoutes()).listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await studio.close();
});

const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(address + path, { headers: { Authorization: `Bearer ${token}`, ...headers } });

describe("an original file", () => {
  test("comes as it was handed in, to be kept for ever, and never as a page of ours", async () => {
    const response = await get(`/files/${sha256}`);
    expect(Buffer.from(await response.arrayBuffer()).equals(image)).toBe(true);
    expect(response.headers.get("content-type")).toBe("image/png");
    expect(response.headers.get("content-disposition")).toBe("attachment");
    expect(response.headers.get("cache-control")).toBe("private, max-age=31536000, immutable");
  });

  test.each([
    ["bytes=0-3", 206, 0, 4],
    ["bytes=10-", 206, 10, undefined],
    ["bytes=-5", 206, -5, undefined],
  ])("comes in parts: %s", async (range, status, from, to) => {
    const response = await get(`/files/${sha256}`, { Range: range });
    expect(response.status).toBe(status);
    expect(Buffer.from(await response.arrayBuffer()).equals(image.subarray(from, to))).toBe(true);
  });

  test("beyond its end there is no part", async () => {
    expect((await get(`/files/${sha256}`, { Range: "bytes=99999999-" })).status).toBe(416);
  });
});

describe("a preview", () => {
  test.each([64, 256, 1024])("of %i px is no larger than that, nor than the image", async (size) => {
    const response = await get(`/previews/${sha256}/color/${size}`);
    expect(response.status).toBe(200);
    const sharp = (await import("sharp")).default;
    const { width, format } = await sharp(Buffer.from(await response.arrayBuffer())).metadata();
    expect(width).toBe(Math.min(size, 300));
    expect(response.headers.get("content-type")).toBe(`image/${format}`);
  });
});

describe("nothing else", () => {
  test.each([
    ["an unknown hash", `/files/${"0".repeat(64)}`],
    ["a hash that is none", "/files/abc"],
    ["a path", `/files/${encodeURIComponent("../../etc/passwd")}`],
    ["a size that is not made", `/previews/${"0".repeat(64)}/color/65`],
    ["a tile of nothing", `/previews/${"0".repeat(64)}/color/tile-0-0-0`],
    ["a tile beyond all images", `/previews/${"0".repeat(64)}/color/tile-0-100-0`],
    ["a channel that is not made", `/previews/${"0".repeat(64)}/green/64`],
    ["a preview of an unknown image", `/previews/${"0".repeat(64)}/color/64`],
    ["a preview by a path", `/previews/${encodeURIComponent("../../../etc/passwd")}/color/64`],
  ])("is there: %s", async (_, path) => {
    const response = await get(path);
    expect(response.status).toBe(404);
    expect(response.headers.get("cache-control") ?? "").not.toContain("immutable");
  });

  test("is given to somebody signed out", async () => {
    for (const path of [`/files/${sha256}`, `/previews/${sha256}/color/64`]) {
      const response = await fetch(address + path);
      // The error handler of the application turns it into 401; here it is only kept back.
      expect(response.status).toBeGreaterThanOrEqual(400);
      expect((await response.text()).includes("PNG")).toBe(false);
    }
  });
});
