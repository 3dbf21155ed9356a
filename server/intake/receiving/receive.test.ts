import { readdir } from "node:fs/promises";
import { connect } from "node:net";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, picture, takeIn, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => {
  process.env.KALONOMY_MAX_UPLOAD = "50000";
  studio = await openTestStudio();
});
afterAll(async () => {
  delete process.env.KALONOMY_MAX_UPLOAD;
  await studio.close();
});

const countIntakes = async () => {
  const { database } = await import("#server/db/database");
  return Number((await database().query("SELECT count(*) FROM intakes")).rows[0].count);
};
const incoming = () => readdir(join(studio.folder, "incoming")).catch(() => []);

async function eventually(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; !(await holds()); tries++) {
    if (tries > 100) throw new Error("It never came true.");
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

describe("receiving", () => {
  test("a connection that breaks off in the middle of a file leaves no intake and no half file", async () => {
    const before = await countIntakes();
    const { token } = await studio.addPerson("make");
    const url = new URL(studio.address);
    const socket = connect(Number(url.port), url.hostname);
    const head = [
      "POST /api/v1/intakes HTTP/1.1",
      `Host: ${url.host}`,
      `Authorization: Bearer ${token}`,
      "Content-Type: multipart/form-data; boundary=cut",
      "Content-Length: 40000",
      "",
      "",
    ];
    socket.write(head.join("\r\n"));
    socket.write('--cut\r\nContent-Disposition: form-data; name="files"; filename="half.png"\r\n\r\n');
    socket.write(Buffer.alloc(20_000, 7));
    await eventually(async () => (await incoming()).length > 0);
    socket.destroy();
    await eventually(async () => (await incoming()).length === 0);
    expect(await countIntakes()).toBe(before);
  });

  test("a file over the limit is refused by name, and nothing of the request is taken", async () => {
    const before = await countIntakes();
    const form = new FormData();
    form.append("files", new Blob([new Uint8Array(await picture("#111111"))]), "small.png");
    form.append("files", new Blob([new Uint8Array(60_000)]), "large.png");
    const { status, json } = await studio.api("POST", "/intakes", form);
    expect(status).toBe(413);
    expect(json.detail).toContain("“large.png”");
    expect(await countIntakes()).toBe(before);
    await eventually(async () => (await incoming()).length === 0);
  });

  test("what one person sends in a day is limited, and others go on", async () => {
    const { settings } = await import("#server/settings");
    const before = settings().maxDayBytes;
    const { token } = await studio.addPerson("make");
    const send = async (color: string, options = { token }) => {
      const form = new FormData();
      form.append("files", new Blob([new Uint8Array(await picture(color, 64))]), "one.png");
      return studio.api("POST", "/intakes", form, options);
    };
    try {
      settings().maxDayBytes = 1500;
      expect((await send("#112233")).status).toBe(202);
      const intakes = await countIntakes();
      let refused = await send("#445566");
      for (let tries = 0; refused.status === 202 && tries < 5; tries++)
        refused = await send(`#4455${70 + tries}`);
      expect(refused.status).toBe(413);
      expect(refused.json.detail).toContain("within a day");
      expect(await incoming()).toEqual([]);
      const after = await countIntakes();
      expect((await send("#778899", { token: (await studio.addPerson("make")).token })).status).toBe(202);
      expect(await countIntakes()).toBe(after + 1);
      expect(after).toBeGreaterThanOrEqual(intakes);
    } finally {
      settings().maxDayBytes = before;
    }
  });

  test("names keep their script and lose their folders", async () => {
    const intake = await takeIn(studio, { "../../Ziegel 木 größe 🧱.png": await picture("#222222") });
    expect(intake.candidates[0].maps[0].file).toBe("Ziegel 木 größe 🧱.png");
    expect(intake.candidates[0].name).toBe("Ziegel 木 größe");
  });

  test("names of 300 characters, and ones that differ by case alone, are all kept apart or cut", async () => {
    const long = `${"very".repeat(74)}.png`;
    const intake = await takeIn(studio, {
      [long]: await picture("#333333"),
      "OAK.png": await picture("#343434"),
      "oak.PNG": await picture("#353535"),
    });
    const names: string[] = intake.candidates.map(({ name }: { name: string }) => name);
    for (const name of names) expect(name.length).toBeLessThanOrEqual(200);
    const files = [
      ...intake.candidates.flatMap(({ maps }: { maps: { file: string }[] }) => maps.map(({ file }) => file)),
      ...intake.ignored.map(({ file }: { file: string }) => file),
    ];
    const cut = files.find((name) => name.startsWith("very"))!;
    expect(cut).toHaveLength(200);
    expect(cut).toMatch(/^(very)+.*….*very\.png$/);
    expect(files.filter((name) => name !== cut).sort()).toEqual(["OAK.png", "oak.PNG"]);
  });

  test("the same upload twice at once gives two intakes and one file", async () => {
    const image = await picture("#444444");
    const intakes = await Promise.all([
      takeIn(studio, { "same.png": image }),
      takeIn(studio, { "same.png": image }),
    ]);
    expect(intakes[0].id).not.toBe(intakes[1].id);
    const { database } = await import("#server/db/database");
    const kept = await database().query("SELECT DISTINCT sha256 FROM intake_uploads WHERE name = 'same.png'");
    expect(kept.rowCount).toBe(1);
  });

  test("fields that are no files are passed over", async () => {
    const form = new FormData();
    form.append("attachment", new Blob(["not asked for"]), "other.png");
    form.append("files", new Blob([new Uint8Array(await picture("#555555"))]), "asked.png");
    const { json, status } = await studio.api("POST", "/intakes", form);
    expect(status).toBe(202);
    const { database } = await import("#server/db/database");
    const { rows } = await database().query("SELECT name FROM intake_uploads WHERE intake = $1", [json.id]);
    expect(rows.map(({ name }) => name)).toEqual(["asked.png"]);
  });
});
