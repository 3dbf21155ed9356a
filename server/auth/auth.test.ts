import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => {
  studio = await openTestStudio();
  const { insertPerson } = await import("#server/people/writes");
  const { hashPassword } = await import("#server/auth/passwords");
  const { database } = await import("#server/db/database");
  await insertPerson(database(), {
    name: "Ada",
    email: "Ada@Studio.example",
    level: "make",
    passwordHash: await hashPassword("a long password"),
  });
});
afterAll(() => studio.close());

describe("signing in", () => {
  test("takes the address in any case, and says the same of a wrong password and an unknown address", async () => {
    const { checkSignIn } = await import("#server/auth/signIn");
    expect(
      await checkSignIn({ email: " ada@studio.EXAMPLE", password: "a long password", address: "10.0.0.1" }),
    ).toMatchObject({
      name: "Ada",
      level: "make",
    });
    await expect(
      checkSignIn({ email: "ada@studio.example", password: "wrong", address: "10.0.0.1" }),
    ).rejects.toMatchObject({
      status: 401,
    });
    const messages = await Promise.all(
      ["ada@studio.example", "nobody@studio.example"].map((email) =>
        checkSignIn({ email, password: "wrong", address: "10.0.0.1" }).catch((error: Error) => error.message),
      ),
    );
    expect(messages[0]).toBe(messages[1]);
  });

  const attempt = async (email: string, password: string, address: string, device?: string) => {
    const { checkSignIn } = await import("#server/auth/signIn");
    return checkSignIn({ email, password, address, device }).then(
      () => 200,
      (error: { status: number }) => error.status,
    );
  };

  test("is limited for an account from one address, and then even the right password waits there", async () => {
    const statuses = [];
    for (let n = 0; n < 10; n++) statuses.push(await attempt("ada@studio.example", `guess ${n}`, "10.0.1.1"));
    expect(statuses.slice(0, 8)).toEqual(Array(8).fill(401));
    expect(statuses.slice(8)).toEqual([429, 429]);
    expect(await attempt("ada@studio.example", "a long password", "10.0.1.1")).toBe(429);
    // Their own wrong guesses lock nobody else out.
    expect(await attempt("ada@studio.example", "a long password", "10.0.1.2")).toBe(200);
  });

  test("is limited for an account from everywhere, and a browser that is known for it passes all the same", async () => {
    const statuses = new Set<number>();
    for (let n = 0; n < 45; n++) statuses.add(await attempt("ada@studio.example", "guess", `10.1.0.${n}`));
    expect(statuses).toEqual(new Set([401, 429]));
    expect(await attempt("ada@studio.example", "a long password", "10.1.1.1")).toBe(429);
    expect(await attempt("ada@studio.example", "a long password", "10.1.1.1", "known")).toBe(200);
    // It has a limit of its own.
    for (let n = 0; n < 8; n++) await attempt("ada@studio.example", "guess", "10.1.1.1", "stolen");
    expect(await attempt("ada@studio.example", "a long password", "10.1.1.1", "stolen")).toBe(429);
  });

  test("accounts that somebody makes up leave no more rows than an address has attempts", async () => {
    const { database } = await import("#server/db/database");
    const statuses = new Set<number>();
    for (let n = 0; n < 80; n++) statuses.add(await attempt(`made-up-${n}@x.example`, "guess", "10.2.0.1"));
    expect(statuses).toEqual(new Set([401, 429]));
    for (const sql of [
      "SELECT 1 FROM wrong_passwords WHERE account LIKE 'made-up-%'",
      "SELECT 1 FROM sign_in_limits WHERE key LIKE 'pair:made-up-%'",
    ])
      expect((await database().query(sql)).rowCount).toBe(60);
  });

  test("a browser is known by a signed cookie, and only for those who have signed in there", async () => {
    const { knownDevice, rememberDevice } = await import("#server/auth/devices");
    const first = (await rememberDevice(null, "ada@studio.example")).split(";")[0];
    const both = (await rememberDevice(first, "bo@studio.example")).split(";")[0];
    const id = await knownDevice(first, "ada@studio.example");
    expect(id).toBeDefined();
    expect(await knownDevice(both, "ada@studio.example")).toBe(id);
    expect(await knownDevice(both, "bo@studio.example")).toBe(id);
    expect(await knownDevice(first, "bo@studio.example")).toBeUndefined();
    expect(await knownDevice(`${first.slice(0, -4)}AAAA`, "ada@studio.example")).toBeUndefined();
    expect(await knownDevice(null, "ada@studio.example")).toBeUndefined();
  });
});

describe("sessions", () => {
  test("are signed, end when told, and a tampered cookie is nobody", async () => {
    const { beginSession, endSession, personOfSession } = await import("#server/auth/sessions");
    const header = await beginSession(studio.person.id);
    expect(header).toMatch(/HttpOnly/i);
    expect(header).toMatch(/SameSite=Lax/i);
    const cookie = header.split(";")[0];
    expect(await personOfSession(cookie)).toMatchObject({ id: studio.person.id });
    expect(await personOfSession(cookie.slice(0, -3) + "abc")).toBeUndefined();
    expect(await personOfSession(undefined)).toBeUndefined();
    await endSession(cookie);
    expect(await personOfSession(cookie)).toBeUndefined();
  });

  test("keep no secret in the database", async () => {
    const { beginSession } = await import("#server/auth/sessions");
    const { database } = await import("#server/db/database");
    const secret = decodeURIComponent((await beginSession(studio.person.id)).split(/[=;]/)[1]);
    const { rows } = await database().query("SELECT id_hash FROM sessions");
    for (const { id_hash } of rows) expect(secret).not.toContain(id_hash);
  });
});

test("a studio with demo people is not served as a real one", async () => {
  const { refuseDemoPeople } = await import("#server/auth/demoPeople");
  const { database } = await import("#server/db/database");
  delete process.env.KALONOMY_DEMO;
  await expect(refuseDemoPeople()).resolves.toBeUndefined();
  await database().query(
    "INSERT INTO people (name, email, level, password_hash) VALUES ('D', 'd@tern-gable.example', 'look', '-')",
  );
  await expect(refuseDemoPeople()).rejects.toThrow("demo studio");
  process.env.KALONOMY_DEMO = "1";
  await expect(refuseDemoPeople()).resolves.toBeUndefined();
});

test("settings name the variable that is wrong and never its value", async () => {
  const { readSettings } = await import("#server/settings");
  expect(() =>
    readSettings({ DATABASE_URL: "postgres://x", KALONOMY_DATA: "/d", KALONOMY_SECRET: "short-secret" }),
  ).toThrow("KALONOMY_SECRET");
  expect(() => readSettings({ KALONOMY_SECRET: "short-secret" })).toThrow(/^(?!.*short-secret)/);
});
