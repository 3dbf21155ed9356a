import type { Point } from "#core/gauge/repeat";
import { gripAt, moved, type Grip } from "./grab";
import { draggedPatch, patchAt, type PatchGrip, type Rectangle } from "./patchGrab";
import type { PatchFields, RegionFields } from "./readRegion";

/** What a pointer does to a region. */
export type Tool = "corners" | "straight" | "check" | "patch";

/** The surface under the pointer, once it has a size; without one no patch can be drawn. */
export interface Surface {
  widthMm: number;
  /** The patches as they are read, in mm. */
  patches: Rectangle[];
  toReal(place: Point): Point;
  /** A length in mm as it is typed. */
  text(mm: number): string;
}

/** What the pointer holds while it is down, and where it was last. */
export interface Hand {
  grip: Grip;
  at: Point;
  patch?: PatchGrip;
  /** Where the patch, or the place where a new one begins, was when the pointer came down. */
  from?: { place: Point; rectangle?: Rectangle };
}

interface Drawn {
  fields: RegionFields;
  hand: Hand;
}

/** The pointer comes down: takes hold of what is there, or begins something new. */
export function putDown(
  { fields, hand }: Drawn,
  tool: Tool,
  at: Point,
  reach: number,
  surface: Surface | undefined,
): Drawn {
  if (tool === "patch") return surface ? putDownOnPatch(fields, hand, at, reach, surface) : { fields, hand };
  const near = gripAt(fields, at, reach);
  if (near && (tool === "corners" || near.kind === "straight" || near.kind === "control"))
    return { fields, hand: { grip: near, at } };
  if (tool === "straight")
    return {
      fields: { ...fields, straight: [...fields.straight, [at, at, at]] },
      hand: { grip: { kind: "straight", index: fields.straight.length, end: 2 }, at },
    };
  if (tool === "check")
    return {
      fields: { ...fields, control: [...fields.control, { at, across: "", down: "" }] },
      hand: { grip: { kind: "control", index: fields.control.length }, at },
    };
  return { fields, hand: { ...hand, at } };
}

function putDownOnPatch(
  fields: RegionFields,
  { grip }: Hand,
  at: Point,
  reach: number,
  surface: Surface,
): Drawn {
  const place = surface.toReal(at);
  const edge = surface.toReal({ x: at.x + reach, y: at.y });
  const held = patchAt(surface.patches, place, Math.hypot(edge.x - place.x, edge.y - place.y));
  if (held)
    return {
      fields,
      hand: { grip, at, patch: held, from: { place, rectangle: surface.patches[held.index] } },
    };
  const patch: PatchFields = {
    ...typed({ ...place, width: 1, height: 1 }, surface),
    shiftX: "0",
    shiftY: "0",
    material: null,
  };
  return {
    fields: { ...fields, patches: [...fields.patches, patch] },
    hand: { grip, at, from: { place } },
  };
}

/** The pointer is moved while it is down. */
export function drawTo({ fields, hand }: Drawn, tool: Tool, at: Point, surface: Surface | undefined): Drawn {
  if (tool === "patch") return { fields: surface ? withPatch(fields, hand, at, surface) : fields, hand };
  const { grip } = hand;
  const after = moved(fields, grip, at.x - hand.at.x, at.y - hand.at.y);
  return {
    hand: { ...hand, at },
    // The middle of an edge follows as long as it has not been pulled onto it.
    fields:
      grip.kind !== "straight" || grip.end === 1
        ? after
        : { ...after, straight: after.straight.map((line, i) => (i === grip.index ? centred(line) : line)) },
  };
}

function withPatch(fields: RegionFields, { patch, from }: Hand, at: Point, surface: Surface): RegionFields {
  if (!from) return fields;
  const { place, rectangle } = from;
  const to = surface.toReal(at);
  const [dx, dy] = [to.x - place.x, to.y - place.y];
  const drawn =
    rectangle && patch
      ? draggedPatch(rectangle, patch.part, dx, dy)
      : draggedPatch({ ...place, width: 0, height: 0 }, { right: true, bottom: true }, dx, dy);
  const index = patch?.index ?? fields.patches.length - 1;
  const changed = { ...typed(drawn, surface), ...(!patch && { shiftX: shiftOf(drawn, surface) }) };
  return { ...fields, patches: fields.patches.map((one, i) => (i === index ? { ...one, ...changed } : one)) };
}

const typed = ({ x, y, width, height }: Rectangle, { text }: Surface) => ({
  x: text(x),
  y: text(y),
  width: text(width),
  height: text(height),
});

/** Where a new patch is taken from: the side where there is more of the wall. */
const shiftOf = ({ x, width }: Rectangle, { widthMm, text }: Surface) =>
  text(x + width / 2 < widthMm / 2 ? width : -width);

const centred = ([a, , b]: [Point, Point, Point]): [Point, Point, Point] => [
  a,
  { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 },
  b,
];
