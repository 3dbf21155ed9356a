import { afterAll, beforeAll, describe, expect, test } from "@jest/globals";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const [FIRST, SECOND, THIRD] = ["violet ladder marsh 7", "copper teapot inland 3", "gravel sonnet harbour 9"];
const newcomer = { name: "Ada", email: "ada@studio.example", password: FIRST, level: "make" };

async function signIn(email: string, password: string): Promise<string> {
  const { checkSignIn } = await import("#server/auth/signIn");
  const { beginSession } = await import("#server/auth/sessions");
  const person = await checkSignIn({ email, password, address: "10.0.0.9" });
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
      [{ ...newcomer, email: "d@studio.example", password: "aaaaaaaaaa" }, 422, "/password"],
      [{ ...newcomer, email: "d@studio.example", password: "          " }, 422, "/password"],
      [{ ...newcomer, email: "d@studio.example", password: "password2026" }, 422, "/password"],
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
    expect((await studio.api("PATCH", `/people/${id}`, { password: SECOND })).status).toBe(200);
    expect(await whoIs(cookie)).toBeUndefined();
    await expect(signIn(newcomer.email, newcomer.password)).rejects.toMatchObject({ status: 401 });
    expect(await whoIs(await signIn(newcomer.email, SECOND))).toBe("Ada");
  });

  test("change their own password with the present one, and stay signed in only here", async () => {
    const { changePassword } = await import("#server/people/commands");
    const { ownSession } = await import("#server/auth/sessions");
    const [here, elsewhere] = [await signIn(newcomer.email, SECOND), await signIn(newcomer.email, SECOND)];
    const { personOfSession } = await import("#server/auth/sessions");
    const ada = (await personOfSession(here))!;
    const session = await ownSession(here);
    await expect(
      changePassword(ada, { now: "guessed", next: THIRD, keepTokens: true }, session),
    ).rejects.toMatchObject({ pointer: "/now" });
    await expect(
      changePassword(ada, { now: SECOND, next: "short", keepTokens: true }, session),
    ).rejects.toMatchObject({ pointer: "/next" });
    expect(await whoIs(elsewhere)).toBe("Ada");
    // Guesses at a screen that was left open are as few as those at the door.
    const statuses = [];
    for (let n = 0; n < 9; n++)
      statuses.push(
        await changePassword(ada, { now: `guess ${n}`, next: THIRD, keepTokens: true }, session).catch(
          (error: { status: number }) => error.status,
        ),
      );
    expect(statuses.at(-1)).toBe(429);
    const { database } = await import("#server/db/database");
    await database().query("DELETE FROM sign_in_limits");
    await changePassword(ada, { now: SECOND, next: THIRD, keepTokens: true }, session);
    expect([await whoIs(here), await whoIs(elsewhere)]).toEqual(["Ada", undefined]);
  });

  test("see where they are signed in, and end one of those sessions, but nobody else's", async () => {
    const { database } = await import("#server/db/database");
    const { endSessions } = await import("#server/auth/writes");
    const { listSessions } = await import("#server/auth/queries");
    const { ownSession } = await import("#server/auth/sessions");
    const cookie = await signIn(newcomer.email, THIRD);
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
    await expect(signIn(newcomer.email, THIRD)).rejects.toMatchObject({ status: 401 });
  });
});

describe("two keepers", () => {
  test("who retire or lower each other at the same moment: one of them stays", async () => {
    const { retire, changeLevel } = await import("#server/people/commands");
    const { database } = await import("#server/db/database");
    for (let round = 0; round < 6; round++) {
      const [a, b] = [(await studio.addPerson("keep")).person, (await studio.addPerson("keep")).person];
      await database().query(
        "UPDATE people SET level = 'make' WHERE level = 'keep' AND retired_at IS NULL AND id NOT IN ($1, $2)",
        [a.id, b.id],
      );
      const act = round % 2 === 0 ? retire : (id: string, by: typeof a) => changeLevel(id, "look", by);
      const outcomes = await Promise.allSettled([act(a.id, b), act(b.id, a)]);
      expect(outcomes.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
      const [refused] = outcomes.filter((one) => one.status === "rejected");
      expect(refused).toMatchObject({ reason: { status: 409 } });
    }
    await database().query("UPDATE people SET level = 'keep' WHERE id = $1", [studio.person.id]);
  });
});

describe("tokens", () => {
  test("are revoked with a new password, one's own unless they are kept, or a keeper's", async () => {
    const { changePassword, giveNewPassword, addPerson, makeToken } = await import("#server/people/commands");
    const { database } = await import("#server/db/database");
    const { listTokens } = await import("#server/auth/queries");
    const bo = await addPerson({ name: "Bo", email: "bo@studio.example", password: FIRST, level: "make" });
    const living = async () => (await listTokens(database(), bo.id)).length;
    await makeToken(bo, "one");
    await changePassword(bo, { now: FIRST, next: SECOND, keepTokens: true }, undefined);
    expect(await living()).toBe(1);
    await changePassword(bo, { now: SECOND, next: THIRD, keepTokens: false }, undefined);
    expect(await living()).toBe(0);
    const { secret } = await makeToken(bo, "two");
    await giveNewPassword(bo.id, FIRST);
    expect(await living()).toBe(0);
    expect((await studio.api("GET", "/profiles", undefined, { token: secret })).status).toBe(401);
  });

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
  await checkSignIn({ email: "tried@studio.example", password: "wrong", address: "10.0.3.1" }).catch(
    () => undefined,
  );
  const { rows } = await database().query("SELECT key, points FROM sign_in_limits WHERE key LIKE '%tried%'");
  expect(rows.map(({ key }) => key).sort()).toEqual([
    "account:tried@studio.example",
    "pair:tried@studio.example 10.0.3.1",
  ]);
  const { listGuessed } = await import("#server/auth/wrongPasswords");
  expect(await listGuessed(database())).toEqual([]);
  for (let n = 0; n < 9; n++)
    await checkSignIn({ email: "tried@studio.example", password: "wrong", address: `10.0.4.${n}` }).catch(
      () => undefined,
    );
  expect(await listGuessed(database())).toMatchObject([
    { account: "tried@studio.example", times: 10, addresses: 10 },
  ]);
});
