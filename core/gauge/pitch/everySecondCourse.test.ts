import { expect, test } from "@jest/globals";
import { hasLongerCourses } from "#core/gauge/pitch/everySecondCourse";
import { seededRandom } from "#core/pattern/random";
import type { Plane } from "#core/raster/plane";

/** Joints that run down: 1 on one, and noise everywhere. Courses are 22 lines high, and the first is cut off. */
function heads(
  width: number,
  pitchOf: (course: number) => number,
  shiftOf: (course: number) => number,
): Plane {
  const random = seededRandom(5);
  const data = Float32Array.from({ length: width * 200 }, (_, i) => {
    const course = Math.floor((Math.floor(i / width) + 9) / 22);
    const pitch = pitchOf(course);
    const at = ((((i % width) + shiftOf(course)) % pitch) + pitch) % pitch;
    return (at < 3 ? 1 : 0) - 3 / pitch + 0.3 * (random() - 0.5);
  });
  return { width, height: 200, data };
}

test("stretchers between headers begin again after two of their pitches", () => {
  const english = heads(
    170,
    (course) => (course % 2 ? 30 : 60),
    (course) => (course % 2 ? 5 : 20),
  );
  expect(hasLongerCourses(english, 30, 44)).toBe(true);
  expect(hasLongerCourses(english, 60, 44)).toBe(false);
});

test("courses of half bond, and a stack, are the same after each", () => {
  const half = heads(
    170,
    () => 60,
    (course) => 30 * course,
  );
  expect(hasLongerCourses(half, 60, 44)).toBe(false);
  const stack = heads(
    170,
    () => 30,
    () => 5,
  );
  expect(hasLongerCourses(stack, 30, 44)).toBe(false);
});

test("of a picture that holds too little of it nothing is said", () => {
  const noise = heads(
    60,
    () => 1000,
    () => 0,
  );
  expect(hasLongerCourses(noise, 30, 44)).toBe(false);
  expect(hasLongerCourses(noise, 10, 300)).toBe(false);
});
