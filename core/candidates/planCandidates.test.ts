import { describe, expect, test } from "@jest/globals";
import { readImage } from "#core/judge/imageReading";
import type { IntakeImage } from "#core/candidates/candidate";
import { say } from "#core/findings/say";
import { planCandidates } from "#core/candidates/planCandidates";
import { image } from "#core/candidates/testing";
import { createRaster } from "#core/raster/raster";

const rolesOf = (images: IntakeImage[]) =>
  planCandidates(images).candidates.map(({ name, maps }) => [
    name,
    Object.fromEntries(maps.map((map) => [map.file, map.role])),
  ]);

describe("planCandidates", () => {
  test("joins a set and takes the file without a role word as base color", () => {
    expect(
      rolesOf([image("pav.tga"), image("pav_norm.tga"), image("pav_gloss.tga"), image("pav_bump.tga")]),
    ).toEqual([
      [
        "Pav",
        {
          "pav.tga": "base_color",
          "pav_norm.tga": "geometry_normal",
          "pav_gloss.tga": "gloss",
          "pav_bump.tga": "bump",
        },
      ],
    ]);
  });

  test("keeps two materials of one drop apart, and equal names in two archives too", () => {
    expect(rolesOf([image("oak.png"), image("oak_n.png"), image("elm.png")]).map(([name]) => name)).toEqual([
      "Elm",
      "Oak",
    ]);
    expect(
      rolesOf([image("oak.png", { scope: "a.zip" }), image("oak.png", { scope: "b.zip" })]),
    ).toHaveLength(2);
  });

  test("reads an adjective as part of the name where other files say so", () => {
    expect(rolesOf([image("brushed_metal.png"), image("brushed_metal_roughness.png")])).toEqual([
      [
        "Brushed metal",
        { "brushed_metal.png": "base_color", "brushed_metal_roughness.png": "specular_roughness" },
      ],
    ]);
    expect(rolesOf([image("rusty_metal.jpg")])).toEqual([
      ["Rusty metal", { "rusty_metal.jpg": "base_color" }],
    ]);
  });

  test("asks about a doubtful mark and offers the likely answers", () => {
    const { candidates } = planCandidates([image("wood.png"), image("wood_sm.png")]);
    expect(candidates).toHaveLength(1);
    expect(candidates[0].maps[1]).toMatchObject({
      role: "unknown",
      confidence: 0,
      likely: ["specular_weight", "gloss", "specular_roughness"],
    });
    expect(candidates[0].findings.map(({ code }) => code)).toContain("role-unknown");
  });

  test("resolves twins by bits, pixels and direction, and lists what it passed over", () => {
    const { candidates, ignored } = planCandidates([
      image("oak_normal_dx.png", { bitDepth: 16 }),
      image("oak_normal_gl.png", { bitDepth: 16 }),
      image("oak_height_8bit.png", { width: 4096, height: 4096 }),
      image("oak_height_16bit.png", { bitDepth: 16 }),
      image("oak_col.jpg"),
    ]);
    expect(candidates[0].maps.map(({ file }) => file).sort()).toEqual([
      "oak_col.jpg",
      "oak_height_16bit.png",
      "oak_normal_gl.png",
    ]);
    expect(ignored.map(({ file }) => file).sort()).toEqual(["oak_height_8bit.png", "oak_normal_dx.png"]);
    expect(ignored[0].reason).toContain("is kept");
  });

  test("takes a fourth channel for what it is", () => {
    const cutOut = planCandidates([image("leaf.png", { channels: 4, alpha: "cut-out" })]).candidates[0];
    expect(cutOut.maps[1]).toMatchObject({
      file: "leaf.png#alpha",
      channel: "alpha",
      role: "geometry_opacity",
    });
    const normal = planCandidates([image("pav_norm.tga", { channels: 4, alpha: "varied" })]).candidates[0];
    expect(normal.maps[1]).toMatchObject({
      file: "pav_norm.tga#alpha",
      role: "unknown",
      likely: ["height", "bump"],
    });
    const color = planCandidates([image("pav.tga", { channels: 4, alpha: "varied" })]).candidates[0];
    expect(color.maps).toHaveLength(1);
    expect(color.findings.map(({ code }) => code)).toContain("alpha-not-opacity");
  });

  test("asks about a fourth channel that may fade, and says in what the colours were", () => {
    const alpha = { min: 0, max: 1, mean: 0.6, deviation: 0.4, skew: 0, low: 0.3, high: 0.4 };
    const [{ maps, findings }] = planCandidates([
      image("lace.png", {
        channels: 4,
        alpha: "varied",
        reading: { ...readImage(createRaster(8, 8, 4, 8)), alpha },
        profile: "Wide monitor",
        orientation: 6,
      }),
    ]).candidates;
    expect(maps[1]).toMatchObject({
      role: "unknown",
      channel: "alpha",
      likely: expect.arrayContaining(["geometry_opacity"]),
    });
    // What is full nearly everywhere hides nothing.
    const full = { ...readImage(createRaster(8, 8, 4, 8)), alpha: { ...alpha, mean: 0.99, low: 0 } };
    const [wall] = planCandidates([
      image("wall.png", { channels: 4, alpha: "varied", reading: full }),
    ]).candidates;
    expect(wall.maps).toHaveLength(1);
    const messages = say(findings)
      .map(({ message }) => message)
      .join("\n");
    expect(messages).toContain("carries the colour profile “Wide monitor”; its colours are converted");
    expect(messages).toContain("is marked as turned by 90°, and was set upright");
    const [print] = planCandidates([image("print.jpg", { colorSpace: "cmyk" })]).candidates;
    expect(print.findings).toContainEqual(
      expect.objectContaining({ code: "inks-without-profile", level: "look" }),
    );
  });

  test("takes a letter for a part of the name where the picture is coloured and the letter says a grey map", () => {
    const reading = { ...readImage(createRaster(8, 8, 3, 8)), spread: 0.2 };
    const two = ["floor_a.png", "floor_b.png"];
    const colored = planCandidates(two.map((file) => image(file, { reading }))).candidates;
    expect(colored.map(({ maps }) => maps.map(({ role }) => role))).toEqual([["base_color"], ["base_color"]]);
    // Grey, the second is the bump of the first.
    const [set, ...others] = planCandidates(two.map((file) => image(file))).candidates;
    expect(others).toEqual([]);
    expect(set.maps.map(({ role }) => role)).toEqual(["base_color", "bump"]);
  });

  test("says that a profile which cannot be read was left aside, and asks nothing of data", () => {
    const [{ findings }] = planCandidates([
      image("oak_basecolor.png", { profileUnreadable: true }),
      image("oak_roughness.png", { profileUnreadable: true }),
    ]).candidates;
    expect(findings.filter(({ code }) => code === "profile-unreadable").map(({ file }) => file)).toEqual([
      "oak_basecolor.png",
    ]);
  });

  test("says that a normal direction is assumed only where the name is silent", () => {
    const codes = (file: string) =>
      planCandidates([image(file)]).candidates[0].findings.map(({ code }) => code);
    expect(codes("a_normal.png")).toContain("normal-direction-assumed");
    expect(codes("a_normal_gl.png")).not.toContain("normal-direction-assumed");
  });

  test("a set without color and with unequal sizes says both", () => {
    const { findings } = planCandidates([image("a_ao.png"), image("a_rough.png", { width: 512 })])
      .candidates[0];
    expect(findings.map(({ code }) => code)).toEqual(
      expect.arrayContaining(["no-base-color", "sizes-differ"]),
    );
  });

  test("names a set that is only role words after its folder", () => {
    expect(
      rolesOf([image("lime wash/normal.png"), image("lime wash/roughness.png")]).map(([name]) => name),
    ).toEqual(["Lime wash"]);
  });
});
