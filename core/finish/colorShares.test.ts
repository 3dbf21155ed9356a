import { expect, test } from "@jest/globals";
import { finishSchema } from "#core/finish/finish";
import { colorShares, withAlpha } from "#core/finish/colorShares";
import { lightReflectance } from "#core/finish/lightReflectance";
import { sampleSet } from "#core/judge/testing";
import { createRaster, type Raster } from "#core/raster/raster";

const rgba = ({ width, height, data }: Raster) => {
  const pixels = new Uint8Array(width * height * 4).fill(255);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) pixels[i * 4 + c] = data[i * 3 + c];
  return pixels;
};

test.each(["brick", "tiles", "planks"])("of %s they tell the light reflectance as all pixels do", (name) => {
  const { base_color } = sampleSet(name);
  for (const change of [{}, { tint: "#a0c0e0" }, { brightnessStops: -1 }, { gamma: 1.6, saturation: 0.3 }]) {
    const finish = finishSchema.parse(change);
    const truth = lightReflectance(finish, rgba(base_color))!;
    expect(Math.abs(lightReflectance(finish, withAlpha(colorShares(base_color)))! - truth)).toBeLessThan(0.7);
  }
});

test("of a picture that is of fewer pixels, or grey, there are as many", () => {
  const narrow = createRaster(3, 40, 1, 16);
  narrow.data.fill(65535);
  const colors = colorShares(narrow);
  expect(colors).toHaveLength(768);
  expect(colors.every((value) => value === 255)).toBe(true);
});
