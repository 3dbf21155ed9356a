import { blockShape } from "#core/picture/block";
import type { Condition } from "#core/picture/condition";
import { bentShape } from "#core/picture/bent";
import {
  environmentOf,
  lightGridsOf,
  whiteIn,
  type Environment,
  type Panorama,
} from "#core/picture/environment";
import { panelShape } from "#core/picture/panel";
import type { Shape } from "#core/picture/shape";
import { surfaceReader, type DrawnMaterial, type SurfaceReader } from "#core/picture/surfaceReader";
import { toneMapped } from "#core/picture/toneMapping";
import { wallShape } from "#core/picture/wall";
import { isOfWholePieces, type View } from "#core/picture/view";
import { createRaster, type Raster } from "#core/raster/raster";
import { srgbEncoder } from "#core/raster/srgb";
import { scatteringOf } from "#core/shade/reflect";
import { mixed, plus, scaled, times, type Rgb } from "#core/shade/rgb";
import { cross, dot, unit, type Vector } from "#core/shade/vector";

/** What white is in cd/m², where something glows. */
export const WHITE_NITS = 100;

const CARDS: [reflectance: number, from: number, to: number][] = [
  [0.18, 0, 1],
  [1, 1, 2],
];

/**
 * Draws a material under a condition, by the shading model alone: the judge of every other picture. Light is scaled so that white that
 * faces the eye is 1 at exposure 0, whatever the lamp's angle.
 * @param rows of the view to be drawn, from and before; all of them unless given
 * @param panorama of the condition's environment, where that does not ship
 */
export function makePicture(
  material: DrawnMaterial,
  view: View,
  condition: Condition,
  rows: readonly [from: number, before: number] = [0, view.height],
  panorama?: Panorama,
): Raster {
  const reader = surfaceReader(material);
  const shape = SHAPES_OF[view.shape](view, material.repeat, reader);
  const lights = lightsOf(condition, view.shape, panorama);
  const out = createRaster(view.width, rows[1] - rows[0], 3, 8);
  const encode = srgbEncoder(8);
  const exposure = 2 ** condition.exposureStops;
  for (let y = rows[0], at = 0; y < rows[1]; y++)
    for (let x = 0; x < view.width; x++, at += 3) {
      const seen = cardAt(view, x, y) ?? seenAt(shape, reader, lights, x + 0.5, y + 0.5);
      const shown = toneMapped(scaled(seen, exposure), condition.tone);
      for (const channel of [0, 1, 2] as const) out.data[at + channel] = encode(shown[channel]);
    }
  return out;
}

const SHAPES_OF = {
  panel: panelShape,
  wall: wallShape,
  block: blockShape,
  drape: bentShape,
  leaf: bentShape,
  pane: bentShape,
} satisfies Record<View["shape"], unknown>;

interface Lights {
  environment: Environment;
  /** On the environment's light. */
  dimmed: number;
  lamp: Lamp;
  ground: Rgb | undefined;
}

function lightsOf(condition: Condition, shape: View["shape"], panorama?: Panorama): Lights {
  const { environment: name, environmentTurn: turn } = condition;
  return {
    environment: environmentOf(name, turn, panorama),
    dimmed: dimmedBy(condition, lightGridsOf(name, panorama).irradiance),
    lamp: lampOf(condition),
    ground: plainGround(condition, shape),
  };
}

/** The grey of a ground without squares; a block and a wall stand before their own. */
export function plainGround({ ground }: Condition, shape: View["shape"]): Rgb | undefined {
  if (ground === "chequered" || isOfWholePieces(shape)) return undefined;
  const reflects = { grey: 0.18, white: 1, black: 0.02 }[ground];
  return [reflects, reflects, reflects];
}

/** What an environment's light is multiplied by, so that it and the lamp together light white that faces the eye. */
export const dimmedBy = ({ lampShare, environmentTurn }: Condition, irradiance: Panorama): number =>
  (1 - lampShare) / whiteIn(irradiance, environmentTurn);

export interface Lamp {
  /** To it, for a surface that faces the eye. */
  direction: Vector;
  /** What falls on a surface that faces it. */
  light: number;
  /** What falls on the back. */
  behind: number;
}

export function lampOf({ lampAbove, lampAround, lampShare, behind }: Condition): Lamp {
  const above = (lampAbove * Math.PI) / 180;
  const around = (lampAround * Math.PI) / 180;
  return {
    direction: [Math.cos(above) * Math.cos(around), Math.cos(above) * Math.sin(around), Math.sin(above)],
    light: (lampShare * Math.PI) / Math.sin(above),
    behind,
  };
}

/** A card is matt, and lies flat: it shows its reflectance. */
function cardAt({ cards, shape, width, height }: View, x: number, y: number): Rgb | undefined {
  if (!cards || shape !== "panel") return undefined;
  const side = Math.round(Math.min(width, height) / 8);
  const fromBottom = height - 1 - y - side / 2;
  if (fromBottom < 0 || fromBottom >= side) return undefined;
  const fromLeft = (x - side / 2) / side;
  const card = CARDS.find(([, from, to]) => fromLeft >= from && fromLeft < to);
  return card && [card[0], card[0], card[0]];
}

/** Light that comes to the eye through a pixel. */
function seenAt(shape: Shape, reader: SurfaceReader, lights: Lights, x: number, y: number): Rgb {
  const hit = shape.hit(x, y);
  const ground = lights.ground ?? shape.behind(x, y, 0);
  if (!hit) return scaled(ground, 1 + lights.lamp.behind);
  const { surface, normal: tilted, openness } = reader.at(hit.u, hit.v);
  // A normal that leans away from the eye is not seen: it stands for one at its edge.
  const leaning = inWorld(hit.frame, tilted);
  const toEye = hit.eye;
  const facing = dot(leaning, toEye);
  const normal = facing > 0.02 ? leaning : unit(plus(leaning, scaled(toEye, 0.02 - facing)) as Vector);
  const frame = frameOf(normal);
  const eye = inFrame(frame, toEye);
  const scattering = scatteringOf(surface);
  const { environment, dimmed, lamp } = lights;

  let light = scaled(
    times(scattering.scattered(eye), environment.irradiance(normal)),
    (dimmed * openness) / Math.PI,
  );
  const { base, coat } = scattering.mirrored(eye);
  const away = mirror(toEye, normal);
  // A direction that is mirrored is hidden less often than all directions together; how much less, no map says: half as much.
  const open = 1 - (1 - openness) / 2;
  light = plus(light, scaled(times(base, environment.blurred(away, scattering.roughness)), dimmed * open));
  if (coat > 0)
    light = plus(light, scaled(environment.blurred(away, surface.coatRoughness), coat * dimmed * open));

  // The lamp stands around a panel's normal, and around the eye's direction for anything else.
  const towards = shape.fromFront(lamp.direction);
  if (lamp.light > 0 && dot(hit.frame.normal, towards) > 0) {
    const lit = shape.reachedBy(hit, towards);
    if (lit > 0)
      light = plus(light, scaled(scattering.reflected(inFrame(frame, towards), eye), lamp.light * lit));
  }
  if (surface.thinWalled && lamp.behind > 0)
    light = plus(light, scaled(scattering.throughScattered(1, eye), Math.PI * lamp.behind));
  if (surface.transmissionWeight > 0) {
    const blurred = lights.ground ?? shape.behind(x, y, scattering.throughSpread);
    const through = scattering.throughClear(eye, shape.thickMm);
    light = plus(light, scaled(times(through, blurred), 1 + lamp.behind));
  }
  light = plus(light, scaled(surface.emission, 1 / WHITE_NITS));
  return surface.opacity < 1 ? mixed(scaled(ground, 1 + lamp.behind), light, surface.opacity) : light;
}

const mirror = (toEye: Vector, normal: Vector): Vector => {
  const double = 2 * dot(toEye, normal);
  return [double * normal[0] - toEye[0], double * normal[1] - toEye[1], double * normal[2] - toEye[2]];
};

interface Frame {
  right: Vector;
  up: Vector;
  normal: Vector;
}

const inWorld = ({ right, up, normal }: Frame, [x, y, z]: Vector): Vector => [
  x * right[0] + y * up[0] + z * normal[0],
  x * right[1] + y * up[1] + z * normal[1],
  x * right[2] + y * up[2] + z * normal[2],
];

const inFrame = ({ right, up, normal }: Frame, direction: Vector): Vector => [
  dot(right, direction),
  dot(up, direction),
  dot(normal, direction),
];

function frameOf(normal: Vector): Frame {
  const right = unit(cross(Math.abs(normal[1]) < 0.9 ? [0, 1, 0] : [1, 0, 0], normal));
  return { right, up: cross(normal, right), normal };
}
