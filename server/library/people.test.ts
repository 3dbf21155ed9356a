import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const newcomer = { name: "Ada", email: "ada@studio.example", password: "a first password", level: "make" };

async function signIn(email: string, password: string): Promise<string> {
  const { checkSignIn } = await import("#server/auth/signIn");
  const { beginSession } = await import("#server/auth/sessions");
  const person = await checkSignIn(email, password, "10.0.0.9");
  return (await beginSession(person.id, "A browser")).split(";")[0];
}
async function whoIs(cookie: string): Promise<string | undefined> {
  const { personOfSession } = await import("#server/auth/sessions");
  return (await personOfSession(cookie))?.name;
}

describe("people", () => {
  let id: string;
  test("are added once, with a password that is one and a level that there is", async () => {
    const made = await studio.api("POST", "/people", newcomer);
    expect(made).toMatchObject({ status: 201, json: { name: "Ada", level: "make" } });
    expect(made.json).not.toHaveProperty("password");
    id = made.json.id;
    for (const [wrong, status, pointer] of [
      [newcomer, 409, "/email"],
      [{ ...newcomer, email: "ADA@studio.example" }, 409, "/email"],
      [{ ...newcomer, email: "other@studio.example", password: "short" }, 422, "/password"],
      [{ ...newcomer, email: "no address" }, 422, "/email"],
      [{ ...newcomer, email: "b@studio.example", level: "own" }, 422, "/level"],
      [{ ...newcomer, email: "c@studio.example", name: "  " }, 422, "/name"],
    ] as const)
      expect(await studio.api("POST", "/people", wrong)).toMatchObject({ status, json: { pointer } });
  });

  test("get another level; and nobody lowers or retires themselves, so that a keeper stays", async () => {
    expect(await studio.api("PATCH", `/people/${id}`, { level: "look" })).toMatchObject({
      status: 200,
      json: { level: "look" },
    });
    const me = studio.person.id;
    expect((await studio.api("PATCH", `/people/${me}`, { level: "look" })).status).toBe(409);
    expect((await studio.api("DELETE", `/people/${me}`)).status).toBe(409);
  });

  test("who have lost their password get a new one, and are signed out everywhere", async () => {
    const cookie = await signIn(newcomer.email, newcomer.password);
    expect(await whoIs(cookie)).toBe("Ada");
    expect((await studio.api("PATCH", `/people/${id}`, { password: "too short" })).status).toBe(422);
    expect(await whoIs(cookie)).toBe("Ada");
    expect((await studio.api("PATCH", `/people/${id}`, { password: "another password" })).status).toBe(200);
    expect(await whoIs(cookie)).toBeUndefined();
    await expect(signIn(newcomer.email, newcomer.password)).rejects.toMatchObject({ status: 401 });
    expect(await whoIs(await signIn(newcomer.email, "another password"))).toBe("Ada");
  });

  test("change their own password with the present one, and stay signed in only here", async () => {
    const { changePassword } = await import("#server/library/people");
    const { ownSession } = await import("#server/auth/sessions");
    const [here, elsewhere] = [
      await signIn(newcomer.email, "another password"),
      await signIn(newcomer.email, "another password"),
    ];
    const { personOfSession } = await import("#server/auth/sessions");
    const ada = (await personOfSession(here))!;
    const session = await ownSession(here);
    await expect(
      changePassword(ada, { now: "guessed", next: "a third password" }, session),
    ).rejects.toMatchObject({ pointer: "/now" });
    await expect(
      changePassword(ada, { now: "another password", next: "short" }, session),
    ).rejects.toMatchObject({ pointer: "/next" });
    expect(await whoIs(elsewhere)).toBe("Ada");
    // Guesses at a screen that was left open are as few as those at the door.
    const statuses = [];
    for (let n = 0; n < 9; n++)
      statuses.push(
        await changePassword(ada, { now: `guess ${n}`, next: "a third password" }, session).catch(
          (error: { status: number }) => error.status,
        ),
      );
    expect(statuses.at(-1)).toBe(429);
    const { database } = await import("#server/db/database");
    await database().query("DELETE FROM sign_in_limits");
    await changePassword(ada, { now: "another password", next: "a third password" }, session);
    expect([await whoIs(here), await whoIs(elsewhere)]).toEqual(["Ada", undefined]);
  });

  test("see where they are signed in, and end one of those sessions, but nobody else's", async () => {
    const { database } = await import("#server/db/database");
    const { endSessions, listSessions } = await import("#server/db/people");
    const { ownSession } = await import("#server/auth/sessions");
    const cookie = await signIn(newcomer.email, "a third password");
    const sessions = await listSessions(database(), id, await ownSession(cookie));
    expect(sessions.map(({ own }) => own)).toEqual([true, false]);
    expect(sessions[0].agent).toBe("A browser");
    await endSessions(database(), studio.person.id, { id: sessions[0].id });
    expect(await whoIs(cookie)).toBe("Ada");
    await endSessions(database(), id, { id: sessions[0].id });
    expect(await whoIs(cookie)).toBeUndefined();
  });

  test("who are retired are gone from the list, and come in no more", async () => {
    expect((await studio.api("DELETE", `/people/${id}`)).status).toBe(200);
    expect((await studio.api("DELETE", `/people/${id}`)).status).toBe(404);
    expect((await studio.api("PATCH", `/people/${id}`, { level: "keep" })).status).toBe(404);
    const { items } = (await studio.api("GET", "/people")).json;
    expect(items.map((one: { id: string }) => one.id)).not.toContain(id);
    await expect(signIn(newcomer.email, "a third password")).rejects.toMatchObject({ status: 401 });
  });
});

describe("tokens", () => {
  test("are shown once, work, and are revoked by their owner alone", async () => {
    const made = await studio.api("POST", "/tokens", { name: "  nightly  " });
    expect(made).toMatchObject({ status: 201, json: { name: "nightly", usedAt: null } });
    const { id, secret } = made.json;
    expect((await studio.api("GET", "/profiles", undefined, { token: secret })).status).toBe(200);
    const listed = await studio.api("GET", "/tokens");
    const row = listed.json.items.find((one: { id: string }) => one.id === id);
    expect(row.usedAt).not.toBeNull();
    expect(JSON.stringify(listed.json)).not.toContain(secret);
    const other = await studio.addPerson("keep");
    expect((await studio.api("DELETE", `/tokens/${id}`, undefined, { token: other.token })).status).toBe(404);
    expect((await studio.api("DELETE", `/tokens/${id}`)).status).toBe(200);
    expect((await studio.api("GET", "/profiles", undefined, { token: secret })).status).toBe(401);
    expect((await studio.api("POST", "/tokens", { name: " " })).status).toBe(422);
  });
});

test("attempts to sign in count for all web processes together", async () => {
  const { checkSignIn } = await import("#server/auth/signIn");
  const { database } = await import("#server/db/database");
  await checkSignIn("tried@studio.example", "wrong", "10.0.3.1").catch(() => undefined);
  const { rows } = await database().query("SELECT key, points FROM sign_in_limits WHERE key LIKE '%tried%'");
  expect(rows).toEqual([{ key: "account:tried@studio.example", points: 1 }]);
});
