import { expect, test } from "@jest/globals";
import { imageCause, lossCause, reductionCause, type ExpectedImage } from "#core/proof/imageCause";
import { createRaster } from "#core/raster/raster";

const expected = (more: Partial<ExpectedImage> = {}): ExpectedImage => ({
  slot: "height",
  width: 64,
  height: 32,
  bits: 16,
  sourceWidth: 64,
  ...more,
});

test("what a profile asks for is a cause by name: fewer pixels, and JPEG files that lose more than usual", () => {
  expect([reductionCause([expected()]), lossCause([expected()])]).toEqual([undefined, undefined]);
  expect(reductionCause([expected(), expected({ width: 16 })])).toBe(
    "Images are reduced, from 64 to 16 px across.",
  );
  expect(lossCause([expected({ quality: 85 }), expected({ quality: 60 }), expected()])).toMatch(
    /of 60 of 100/,
  );
  expect(lossCause([expected({ quality: 98 })])).toBeUndefined();
});

test("a file that is missing, of another size, or rounded is said by its input", () => {
  const smooth = createRaster(64, 32, 1, 16);
  smooth.data.forEach((_, i) => (smooth.data[i] = i));
  expect(imageCause(expected(), smooth)).toBeUndefined();
  expect(imageCause(expected(), undefined)).toBe("The file for “height” is missing.");
  expect(imageCause(expected(), createRaster(64, 64, 1, 16))).toMatch(/64 × 64 px in place of 64 × 32/);
  expect(imageCause(expected(), createRaster(64, 32, 1, 16))).toMatch(/rounded to 8 bits/);
  expect(imageCause(expected({ bits: 8 }), createRaster(64, 32, 1, 8))).toBeUndefined();
});
