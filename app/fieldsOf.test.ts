import { describe, expect, test } from "@jest/globals";
import { z } from "zod";
import { fieldsOf, intent, intents, nameField, orNull } from "./fieldsOf";

const ID = "6f1c1c1e-7a37-4a3c-9d0a-2f6b8f0f3a11";
const SCHEMA = intents(
  intent("change", {
    name: nameField("the shelf"),
    number: orNull(z.string().trim()),
    wide: z.boolean().optional(),
  }),
  intent("add", {
    material: z.array(z.uuid()),
    weight: z.number("A weight is a number."),
    depth: z.number().max(90).optional(),
  }),
  intent("delete"),
);

const form = (...fields: [string, string][]) => {
  const made = new FormData();
  for (const [name, value] of fields) made.append(name, value);
  return made;
};
const refused = (...fields: [string, string][]) => {
  try {
    fieldsOf(form(...fields), SCHEMA);
  } catch (error) {
    const { pointer, detail } = error as { pointer: string; detail: string };
    return { pointer, detail };
  }
  throw new Error("It was read.");
};

describe("the fields of a form", () => {
  test("are read as what they are: empty ones are not there, lists and ticks and numbers are such", () => {
    expect(fieldsOf(form(["intent", "change"], ["name", "  Oak "], ["number", ""]), SCHEMA)).toEqual({
      intent: "change",
      name: "Oak",
      number: null,
    });
    expect(fieldsOf(form(["intent", "change"], ["name", "Oak"], ["wide", "on"]), SCHEMA)).toMatchObject({
      wide: true,
    });
    for (const material of [[], [ID], [ID, ID]])
      expect(
        fieldsOf(
          form(
            ["intent", "add"],
            ["weight", "2.5"],
            ...material.map((id): [string, string] => ["material", id]),
          ),
          SCHEMA,
        ),
      ).toEqual({ intent: "add", material, weight: 2.5 });
    expect(fieldsOf(form(["intent", "delete"], ["name", "is not asked for"]), SCHEMA)).toEqual({
      intent: "delete",
    });
  });

  test("that do not fit are named, in words that say what would do", () => {
    const name = { pointer: "/name", detail: "Give the shelf a name of 1 to 200 characters." };
    expect(refused(["intent", "change"])).toEqual(name);
    expect(refused(["intent", "change"], ["name", "   "])).toEqual(name);
    expect(refused(["intent", "change"], ["name", "x".repeat(201)])).toEqual(name);
    expect(refused(["intent", "add"], ["weight", "heavy"])).toEqual({
      pointer: "/weight",
      detail: "A weight is a number.",
    });
    expect(refused(["intent", "add"], ["weight", "1"], ["depth", "91"])).toEqual({
      pointer: "/depth",
      detail: "90 is the most.",
    });
    expect(refused(["intent", "burn"])).toEqual({
      pointer: "/intent",
      detail: "That is nothing that can be done here.",
    });
    expect(refused()).toMatchObject({ pointer: "/intent" });
  });

  test("that only a form of somebody else's could hold are said in no library's words", () => {
    expect(refused(["intent", "add"], ["weight", "1"], ["material", "7; DROP TABLE"])).toEqual({
      pointer: expect.stringMatching(/^\/material/),
      detail: expect.stringMatching(/^What was sent cannot be read \(material.*\)\. Load the page again/),
    });
    for (const name of [
      "material[900000000]",
      "material[a][b]",
      "material.x",
      "__proto__.x",
      "constructor[x]",
    ])
      expect(
        fieldsOf(form(["intent", "add"], ["weight", "1"], ["material", ID], [name, "1"]), SCHEMA),
      ).toEqual({ intent: "add", weight: 1, material: [ID] });
  });
});
