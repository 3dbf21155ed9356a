import { describe, expect, test } from "@jest/globals";
import { DEFAULT_FINISH } from "#core/finish/finish";
import { changedValues, finishValues } from "#core/finish/finishValues";
import { readFinish } from "./readFinish";

function form(fields: Record<string, string>): FormData {
  const data = new FormData();
  for (const [name, value] of Object.entries({ name: "Wall", ...fields })) data.set(name, value);
  return data;
}

describe("the form of the finish", () => {
  test("changes only what it has", () => {
    expect(readFinish(form({ roughness: "0,7", ior: "" }))).toEqual({
      name: "Wall",
      finish: { roughness: 0.7 },
    });
    expect(readFinish(form({ color: "#aabbcc", normalDirection: "-Y" }))).toEqual({
      name: "Wall",
      finish: { color: "#aabbcc" },
      normalDirection: "-Y",
    });
  });

  test("an empty height amount takes it away; an empty field of another kind leaves it", () => {
    expect(readFinish(form({ heightAmplitudeMm: "", ior: "" })).finish).toEqual({ heightAmplitudeMm: null });
    expect(
      changedValues(
        { heightAmplitudeMm: 4, ior: 1.5 },
        { name: "Wall", finish: { heightAmplitudeMm: null } },
      ),
    ).toEqual({ name: "Wall", heightAmplitudeMm: undefined, ior: 1.5 });
  });

  test.each([
    [{ roughness: "2" }, "/roughness"],
    [{ roughness: "smooth" }, "/roughness"],
    [{ color: "red" }, "/color"],
    [{ name: "  " }, "/name"],
  ])("names the field that does not fit: %j", (fields, pointer) => {
    expect(() => readFinish(form(fields as Record<string, string>))).toThrow(
      expect.objectContaining({ pointer }),
    );
  });

  test("reads wear as it is listed, takes it away where the list is empty, and names the layer that is wrong", () => {
    const layer = {
      material: "0b0e3c8e-6f0a-4a0e-9d51-0b62b1f8a001",
      revision: 1,
      strength: 0.25,
      polarity: "light",
      effect: "rougher",
      on: true,
    };
    const read = (wear: unknown) => readFinish(form({ wear: JSON.stringify(wear) })).finish?.wear;
    expect(read([layer])).toEqual([layer]);
    expect(readFinish(form({ wear: "" })).finish).toEqual({ wear: null });
    expect(readFinish(form({})).finish).toEqual({});
    const thrown = (wear: string) => {
      try {
        return void readFinish(form({ wear }));
      } catch (error) {
        return error as { pointer: string; detail: string };
      }
    };
    const second = thrown(JSON.stringify([layer, { ...layer, strength: 7 }]));
    expect(second).toMatchObject({ pointer: "/wear/1/strength", detail: expect.stringContaining("Layer 2") });
    expect(thrown("{")!.pointer).toBe("/wear/");
    expect(thrown('"scuffs"')!.pointer).toBe("/wear/");
  });

  test("gives the fields of a material as it shows them, and what a change makes of them", () => {
    const material = {
      name: "Wall",
      finish: { ...DEFAULT_FINISH, roughness: 0.4 },
      maps: [{ role: "geometry_normal", normalDirection: "+Y" as const }],
    };
    const values = finishValues(material);
    expect(values).toMatchObject({ name: "Wall", roughness: 0.4, normalDirection: "+Y" });
    expect(changedValues(values, { name: "Gable", finish: { ior: 1.4 } })).toEqual({
      ...values,
      name: "Gable",
      ior: 1.4,
    });
  });
});
