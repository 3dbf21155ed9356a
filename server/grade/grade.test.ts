import { afterAll, beforeAll, expect, test } from "@jest/globals";
import { finishSchema } from "#core/finish/finish";
import { gradeOf } from "#core/finish/grades";
import { openTestStudio, type TestStudio } from "#server/testing/testStudio";

let studio: TestStudio;
beforeAll(async () => (studio = await openTestStudio()));
afterAll(() => studio.close());

const grade = { name: "hand-rubbed", family: "stone", says: "", scale: 0.55, roughness: 0.3 } as const;

test("grades of the studio's own are kept beside those that everybody has, changed and deleted", async () => {
  const { json: made } = await studio.api("POST", "/grades", grade);
  expect(made).toMatchObject(grade);
  const { items } = (await studio.api("GET", "/grades")).json;
  expect(items.at(-1)).toEqual(made);
  expect(items.filter(({ id }: { id: string | null }) => id === null).length).toBeGreaterThan(8);
  const changed = { ...grade, family: "timber", roughness: 0.35 };
  expect((await studio.api("PUT", `/grades/${made.id}`, changed)).json).toEqual({ id: made.id, ...changed });
  expect((await studio.api("DELETE", `/grades/${made.id}`)).status).toBe(200);
  expect((await studio.api("PUT", `/grades/${made.id}`, changed)).status).toBe(404);
});

test.each([
  ["a name that everybody's has", { ...grade, name: "Honed" }, "There is a grade “Honed” already"],
  ["no family", { ...grade, family: "cheese" }, ""],
  ["a roughness beyond 1", { ...grade, roughness: 1e9 }, ""],
  ["a name that nobody sees", { ...grade, name: "\u202e" }, ""],
])("%s is refused", async (_, body, words) => {
  const answer = await studio.api("POST", "/grades", body);
  expect(answer.status).toBe(422);
  expect(answer.json.detail).toContain(words);
});

test("what is set becomes a grade that sets the same again", () => {
  const finish = finishSchema.parse({
    roughness: 0.4,
    roughnessScale: 0.6,
    coatWeight: 0.5,
    coatRoughness: 0.2,
  });
  expect(gradeOf(finish, { name: "mine", family: "timber", says: "" })).toEqual({
    name: "mine",
    family: "timber",
    says: "",
    roughness: 0.4,
    scale: 0.6,
    coat: { weight: 0.5, roughness: 0.2 },
  });
});
