import { copiesIn, type Copies } from "#core/gauge/counting/copies";
import { evidenceOf } from "#core/gauge/counting/evidence";
import { findReadings, readingOf, type Reading } from "#core/gauge/counting/readings";
import { resample, type Plane } from "#core/raster/plane";

/**
 * The reading of a picture. Where it holds itself more than once, one copy is read, and its counts are multiplied.
 * @param originals maps that lie over each other, of one size
 */
export function findReading(originals: Plane[]): { reading: Reading; copies: Copies } {
  const planes = originals.map(reducedOnce);
  const copies = copiesIn(planes[0]);
  const whole = read(planes, copies);
  const fits = ({ across, down }: Reading) =>
    (across ?? copies.across) % copies.across === 0 && (down ?? copies.down) % copies.down === 0;
  // A joint between two copies is seen in the whole picture only.
  if (copies.across * copies.down === 1 || (whole.kind !== "nothing" && fits(whole)))
    return { reading: whole, copies };
  const one = read(
    planes.map((plane) => firstCopy(plane, copies)),
    ONCE,
  );
  return {
    reading: {
      ...one,
      ...(one.across !== undefined && { across: one.across * copies.across }),
      ...(one.down !== undefined && { down: one.down * copies.down }),
    },
    copies,
  };
}

/** Enough for all that is looked at, which is smaller still: a large picture is gone through once. */
const MOST_SIDE = 1024;

function reducedOnce(plane: Plane): Plane {
  const by = Math.max(1, plane.width / MOST_SIDE, plane.height / MOST_SIDE);
  return resample(plane, Math.round(plane.width / by), Math.round(plane.height / by));
}

const ONCE: Copies = { across: 1, down: 1 };

function read(planes: Plane[], copies: Copies): Reading {
  const evidence = evidenceOf(planes);
  return readingOf(evidence, findReadings(evidence), copies);
}

function firstCopy({ width, height, data }: Plane, copies: Copies): Plane {
  const [w, h] = [Math.round(width / copies.across), Math.round(height / copies.down)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++) out.set(data.subarray(y * width, y * width + w), y * w);
  return { width: w, height: h, data: out };
}
