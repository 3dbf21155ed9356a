import { readdir } from "node:fs/promises";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, jest, test } from "@jest/globals";
import express, { type NextFunction, type Request, type Response } from "express";
import { intakeInMetadata, intakeOfUpload, uploadId } from "#server/intake/receiving/uploadIds";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let address: string;
let close: () => void;
beforeAll(async () => {
  studio = await openTestStudio();
  const { resumableUploads, UPLOADS_PATH } = await import("#server/intake/receiving/resumable");
  const server = express()
    .use(UPLOADS_PATH, resumableUploads())
    .use((error: { status?: number }, _request: Request, response: Response, _next: NextFunction) => {
      response.status(error.status ?? 500).end();
    })
    .listen(0, "127.0.0.1");
  await new Promise((resolve) => server.once("listening", resolve));
  address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  close = () => {
    server.closeAllConnections();
    server.close();
  };
});
afterAll(async () => {
  close();
  await studio.close();
});

const base64 = (text: string) => Buffer.from(text).toString("base64");
const metadata = (fields: [string, string][]) =>
  fields.map(([key, value]) => `${key} ${base64(value)}`).join(",");

async function send(token: string, fields: [string, string][], body: Buffer, first = body.length) {
  const created = await fetch(`${address}/api/v1/uploads`, {
    method: "POST",
    headers: {
      Authorization: `Bearer ${token}`,
      "Tus-Resumable": "1.0.0",
      "Upload-Length": String(body.length),
      "Upload-Metadata": metadata(fields),
    },
  });
  const location = created.headers.get("Location");
  const patch = (offset: number, end: number, by = token) =>
    fetch(new URL(location!, address), {
      method: "PATCH",
      headers: {
        Authorization: `Bearer ${by}`,
        "Tus-Resumable": "1.0.0",
        "Upload-Offset": String(offset),
        "Content-Type": "application/offset+octet-stream",
      },
      body: new Uint8Array(body.subarray(offset, end)),
    });
  if (location) await patch(0, first);
  return { created, location, patch };
}

describe("an upload that goes on", () => {
  test("arrives in two parts and is listed once, and only its sender may go on with it", async () => {
    const sender = await studio.addPerson("make");
    const other = await studio.addPerson("make");
    const as = { token: sender.token };
    const { id } = (await studio.api("POST", "/intakes/begin", { files: 1 }, as)).json;
    const body = await picture("#405060", 64);
    const { patch } = await send(
      sender.token,
      [
        ["intake", id],
        ["position", "0"],
        ["name", "../set/a.png"],
      ],
      body,
      40,
    );
    expect((await studio.api("GET", `/intakes/${id}/uploads`, undefined, as)).json.items).toEqual([]);
    expect((await patch(40, body.length, other.token)).status).toBe(403);
    expect((await patch(40, body.length)).status).toBe(204);
    const { items } = (await studio.api("GET", `/intakes/${id}/uploads`, undefined, as)).json;
    expect(items).toEqual([expect.objectContaining({ position: 0, name: "set/a.png", bytes: body.length })]);
    expect(await readdir(join(studio.folder, "incoming", "uploads"))).toEqual([]);
  });

  test("cannot name two intakes, or none, or one that is another's or read already", async () => {
    const sender = await studio.addPerson("make");
    const other = await studio.addPerson("make");
    const begin = async (token: string) =>
      (await studio.api("POST", "/intakes/begin", { files: 1 }, { token })).json.id as string;
    const [own, theirs] = [await begin(sender.token), await begin(other.token)];
    const body = await picture("#102030");
    const status = async (...fields: [string, string][]) =>
      (await send(sender.token, fields, body)).created.status;
    expect(await status(["intake", own], ["intake", theirs], ["position", "0"], ["name", "x.png"])).toBe(400);
    expect(await status(["position", "0"])).toBe(400);
    expect(await status(["intake", "../../x"])).toBe(400);
    expect(await status(["intake", theirs], ["position", "0"], ["name", "x.png"])).toBe(403);
    await send(
      sender.token,
      [
        ["intake", own],
        ["position", "0"],
        ["name", "x.png"],
      ],
      body,
    );
    await studio.api("POST", `/intakes/${own}/complete`, undefined, { token: sender.token });
    expect(await status(["intake", own], ["position", "1"], ["name", "y.png"])).toBe(409);
    const looker = await studio.addPerson("look");
    expect((await send(looker.token, [["intake", own]], body)).created.status).toBe(403);
    expect((await send("nobody", [["intake", own]], body)).created.status).toBe(401);
  });
});

test("an upload is named after its intake, and nothing else is taken for such a name", () => {
  const intake = "0b7cf7a4-9a1b-4d3e-8a55-1f6a3f1f0a01";
  expect(intakeOfUpload(uploadId(intake))).toBe(intake);
  for (const name of [intake, `${uploadId(intake)}/..`, "../../etc/passwd", uploadId("../x"), ""])
    expect(intakeOfUpload(name)).toBeUndefined();
  expect(intakeInMetadata(`name ${base64("a")}, intake ${base64(intake)}`)).toBe(intake);
  expect(intakeInMetadata(undefined)).toBeUndefined();
});

test("the same file begun twice at once comes in once, whole", async () => {
  const { token } = await studio.addPerson("make");
  const { json } = await studio.api("POST", "/intakes/begin", { files: 1 }, { token });
  const body = await picture("#31415f", 64);
  const fields: [string, string][] = [
    ["intake", json.id],
    ["position", "0"],
    ["name", "twice.png"],
  ];
  const both = await Promise.all([send(token, fields, body), send(token, fields, body)]);
  expect(both.map(({ created }) => created.status).every((status) => [201, 409, 423].includes(status))).toBe(
    true,
  );
  const { items } = (await studio.api("GET", `/intakes/${json.id}/uploads`)).json;
  expect(items).toMatchObject([{ position: 0, name: "twice.png", bytes: body.length }]);
  expect((await studio.api("POST", `/intakes/${json.id}/complete`, undefined, { token })).status).toBe(202);
});

describe("what an upload takes", () => {
  const begin = async (token: string) =>
    (await studio.api("POST", "/intakes/begin", { files: 9 }, { token })).json.id as string;
  const create = (token: string, intake: string, headers: Record<string, string>) =>
    fetch(`${address}/api/v1/uploads`, {
      method: "POST",
      headers: {
        Authorization: `Bearer ${token}`,
        "Tus-Resumable": "1.0.0",
        "Upload-Metadata": metadata([
          ["intake", intake],
          ["position", "0"],
          ["name", "a.png"],
        ]),
        ...headers,
      },
    });
  const patch = (token: string, created: globalThis.Response, body: Uint8Array<ArrayBuffer>) =>
    fetch(new URL(created.headers.get("Location")!, address), {
      method: "PATCH",
      headers: {
        Authorization: `Bearer ${token}`,
        "Tus-Resumable": "1.0.0",
        "Upload-Offset": "0",
        "Content-Type": "application/offset+octet-stream",
      },
      body,
    });
  const lying = async () => readdir(join(studio.folder, "incoming", "uploads"));

  test("counts from when it is begun, and its length has to be said", async () => {
    const { token } = await studio.addPerson("make");
    const intake = await begin(token);
    expect((await create(token, intake, { "Upload-Defer-Length": "1" })).status).toBe(400);
    expect((await create(token, intake, {})).status).toBe(400);
    const { settings } = await import("#server/settings");
    const before = settings().maxDayBytes;
    settings().maxDayBytes = 100_000;
    try {
      const first = await create(token, intake, { "Upload-Length": "60000" });
      expect(first.status).toBe(201);
      expect((await create(token, intake, { "Upload-Length": "60000" })).status).toBe(413);
      // One that is dropped counts no more.
      const dropped = await fetch(new URL(first.headers.get("Location")!, address), {
        method: "DELETE",
        headers: { Authorization: `Bearer ${token}`, "Tus-Resumable": "1.0.0" },
      });
      expect(dropped.status).toBe(204);
      expect((await create(token, intake, { "Upload-Length": "60000" })).status).toBe(201);
    } finally {
      settings().maxDayBytes = before;
    }
  });

  test("leaves nothing behind where it does not fit, or cannot be written, and says so in our words", async () => {
    const { token } = await studio.addPerson("make");
    const intake = await begin(token);
    const there = await lying();
    const first = await create(token, intake, { "Upload-Length": "10" });
    const tooMuch = await patch(token, first, new Uint8Array(50_000));
    expect(tooMuch.status).toBe(413);
    expect(await tooMuch.text()).toContain("larger than it may be");
    expect(await lying()).toEqual(there);
    const { fileStore } = await import("#server/store/store");
    const adopt = jest
      .spyOn(fileStore(), "adopt")
      .mockRejectedValue(Object.assign(new Error("write ENOSPC /secret/path"), { code: "ENOSPC" }));
    const second = await create(token, intake, { "Upload-Length": "10" });
    const full = await patch(token, second, new Uint8Array(10));
    adopt.mockRestore();
    expect(full.status).toBe(507);
    expect(await full.text()).not.toMatch(/ENOSPC|secret/);
    expect(await lying()).toEqual(there);
  });
});

test("intakes that are begun and left lying are bounded for each person, and given up after a while", async () => {
  const { token, person } = await studio.addPerson("make");
  const begin = async () => studio.api("POST", "/intakes/begin", { files: 1 }, { token });
  const statuses = new Set<number>();
  for (let n = 0; n < 20; n++) statuses.add((await begin()).status);
  expect(statuses).toEqual(new Set([201]));
  expect((await begin()).status).toBe(429);
  const other = await studio.addPerson("make");
  expect((await studio.api("POST", "/intakes/begin", { files: 1 }, { token: other.token })).status).toBe(201);
  const { database } = await import("#server/db/database");
  await database().query("UPDATE intakes SET touched_at = now() - interval '2 hours' WHERE person = $1", [
    person.id,
  ]);
  const { json, status } = await begin();
  expect(status).toBe(201);
  const states = await database().query(
    "SELECT state, count(*)::int AS count FROM intakes WHERE person = $1 GROUP BY state ORDER BY state",
    [person.id],
  );
  expect(states.rows).toEqual([
    { state: "failed", count: 20 },
    { state: "receiving", count: 1 },
  ]);
  const { endAbandoned } = await import("#server/intake/receiving/abandoned");
  await endAbandoned();
  expect((await studio.api("GET", `/intakes/${json.id}`)).json.state).toBe("receiving");
});

test("a lock of an upload holds for all web processes, and ends with one that dies", async () => {
  const { uploadLocks } = await import("#server/intake/receiving/uploadLocks");
  const { database } = await import("#server/db/database");
  const id = uploadId("0b7cf7a4-9a1b-4d3e-8a55-1f6a3f1f0a02");
  const [first, second] = [uploadLocks.newLock(id), uploadLocks.newLock(id)];
  let asked = 0;
  await first.lock(new AbortController().signal, () => void asked++);
  const stop = new AbortController();
  const refused = second.lock(stop.signal, () => undefined).catch((error: Error) => error.name);
  await new Promise((resolve) => setTimeout(resolve, 1500));
  // The holder is told that somebody waits.
  expect(asked).toBeGreaterThan(0);
  stop.abort();
  expect(await refused).toBe("AbortError");
  await first.unlock();
  await second.lock(new AbortController().signal, () => undefined);
  await second.unlock();
  // One whose holder says nothing any more is taken over.
  await database().query(
    "INSERT INTO upload_locks (id, owner, seen_at) VALUES ($1, gen_random_uuid(), now() - interval '1 minute')",
    [id],
  );
  await first.lock(new AbortController().signal, () => undefined);
  await first.unlock();
});
