import { readdir } from "node:fs/promises";
import type { AddressInfo } from "node:net";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import express, { type NextFunction, type Request, type Response } from "express";
import { intakeInMetadata, intakeOfUpload, uploadId } from "#server/uploads/uploadIds";
import { openTestStudio, picture, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
let address: string;
let close: () => void;
beforeAll(async () => {
  studio = await openTestStudio();
  const { resumableUploads, UPLOADS_PATH } = await import("#server/uploads/resumable");
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
