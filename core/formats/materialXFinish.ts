import type { ContainedWear } from "#core/formats/container";
import { connected, node, valued, type MaterialXElement } from "#core/formats/materialXElements";
import { digits, linearOf } from "#core/formats/valuesBeside";
import { colorCurves, LUMA, MID_GREY, type ColorAdjustment } from "#core/finish/colorAdjustment";
import { turnedCorner, turnOf } from "#core/finish/marks";
import type { RoughnessAdjustment } from "#core/finish/roughnessAdjustment";

/** Nodes one after the other, and the name of the last. */
export interface Chain {
  elements: MaterialXElement[];
  end: string;
}

/** Adds nodes to a chain, each of which reads the one before. */
function chainFrom(start: string, type: "color3" | "float") {
  const chain: Chain = { elements: [], end: start };
  return {
    chain,
    /** @param input the one that reads what came before */
    add(category: string, name: string, input: string, others: MaterialXElement[]) {
      chain.elements.push(node(category, type, name, [connected(input, type, chain.end), ...others]));
      chain.end = name;
    },
    put(elements: MaterialXElement[], end: string) {
      chain.elements.push(...elements);
      chain.end = end;
    },
  };
}

const float = (name: string, value: number) => valued(name, "float", digits(value));
const triple = (name: string, type: "color3" | "vector3", value: readonly number[]) =>
  valued(name, type, value.map(digits).join(", "));

/** What is done to a colour in linear light, in the order of `adjusterOf`. */
export function colorChain(from: string, adjustment: ColorAdjustment): Chain {
  const { warm, gamma, contrast, saturation } = colorCurves(adjustment);
  const { chain, add, put } = chainFrom(from, "color3");
  if (warm)
    put(
      [
        node("convert", "vector3", "color_as_vector", [connected("in", "color3", from)]),
        ...warm.map((row, at) =>
          node("dotproduct", "float", `color_warmth_${"rgb"[at]}`, [
            connected("in1", "vector3", "color_as_vector"),
            triple("in2", "vector3", row),
          ]),
        ),
        node(
          "combine3",
          "color3",
          "color_warmth",
          [..."rgb"].map((channel, at) => connected(`in${at + 1}`, "float", `color_warmth_${channel}`)),
        ),
      ],
      "color_warmth",
    );
  const tint = linearOf(adjustment.tint);
  if (tint) add("multiply", "color_tint", "in1", [triple("in2", "color3", tint)]);
  if (adjustment.brightnessStops !== undefined)
    add("multiply", "color_brightness", "in1", [float("in2", 2 ** adjustment.brightnessStops)]);
  if (gamma !== 1) {
    add("clamp", "color_within", "in", [float("low", 0), float("high", 1)]);
    add("power", "color_gamma", "in1", [float("in2", 1 / gamma)]);
  }
  // Warmth leads out of the gamut: what is less than nothing is nothing before the curves.
  const mayBeBelow = gamma === 1 && (contrast !== 1 || (warm !== undefined && saturation !== 1));
  if (mayBeBelow) add("max", "color_above_nothing", "in1", [float("in2", 0)]);
  if (contrast !== 1) {
    add("multiply", "color_of_grey", "in1", [float("in2", 1 / MID_GREY)]);
    add("power", "color_contrast", "in1", [float("in2", contrast)]);
    add("multiply", "color_from_grey", "in1", [float("in2", MID_GREY)]);
  }
  if (saturation !== 1)
    add("saturate", "color_saturation", "in", [
      float("amount", saturation),
      triple("lumacoeffs", "color3", LUMA),
    ]);
  add("clamp", "color_adjusted", "in", [float("low", 0), float("high", 1)]);
  return chain;
}

/** What is done to a roughness, in the order of `adjustedRoughness`. */
export function roughnessChain(from: string, { scale, shift, low, high }: RoughnessAdjustment): Chain {
  const { chain, add } = chainFrom(from, "float");
  if (scale !== 1) add("multiply", "roughness_scaled", "in1", [float("in2", scale)]);
  if (shift !== 0) add("add", "roughness_shifted", "in1", [float("in2", shift)]);
  add("clamp", "roughness_adjusted", "in", [float("low", low), float("high", high)]);
  return chain;
}

/**
 * A layer of wear laid over a colour or a roughness: one more node at the end of what lies under it.
 * @param at its place among the layers, from 1
 * @param ground name of the node under it, or the value where there is none
 */
export function wearOver(at: number, wear: ContainedWear, ground: string | readonly number[]): Chain {
  const isTint = wear.effect === "tint";
  const type = isTint ? "color3" : "float";
  const over = isTint ? linearOf(wear.tint)! : [wear.effect === "rougher" ? 1 : 0];
  const value = (name: string, numbers: readonly number[]) =>
    valued(name, type, numbers.map(digits).join(", "));
  const end = `wear_${at}`;
  return {
    elements: [
      node("mix", type, end, [
        typeof ground === "string" ? connected("bg", type, ground) : value("bg", ground),
        value("fg", over),
        connected("mix", "float", `wear_${at}_amount`),
      ]),
    ],
    end,
  };
}

/**
 * Where the marks of a layer lie, as strength × mark. One unit of the coordinates is one metre, and the material's top left corner lies
 * one repeat above the origin, as its images do.
 * @param ground height of one repeat of the material, in millimetres
 */
export function wearAmount(
  at: number,
  wear: ContainedWear,
  fileName: string,
  ground: number,
): MaterialXElement[] {
  const { strength, turn, start, size, repeats } = wear;
  const { cos, sin } = turnOf(turn);
  const corner = turnedCorner({ layer: { turn, start }, size });
  const below = ground - corner.y;
  const name = (part: string) => `wear_${at}_${part}`;
  const across = along(
    name("u"),
    [(1000 * cos) / size.width, (-1000 * sin) / size.width],
    (below * sin - corner.x * cos) / size.width,
  );
  const up = along(
    name("v"),
    [(1000 * sin) / size.height, (1000 * cos) / size.height],
    1 - (below * cos + corner.x * sin) / size.height,
  );
  const mode = repeats ? "periodic" : "constant";
  return [
    node("texcoord", "vector2", name("place"), []),
    ...across.map((make) => make(name("place"))),
    ...up.map((make) => make(name("place"))),
    node("combine2", "vector2", name("uv"), [
      connected("in1", "float", name("u")),
      connected("in2", "float", name("v")),
    ]),
    node("image", "float", name("marks"), [
      valued("file", "filename", fileName),
      connected("texcoord", "vector2", name("uv")),
      valued("uaddressmode", "string", mode),
      valued("vaddressmode", "string", mode),
    ]),
    node("multiply", "float", name("amount"), [
      connected("in1", "float", name("marks")),
      float("in2", strength),
    ]),
  ];
}

/** One coordinate of an image: how far a place lies along a direction, and an offset. */
const along = (name: string, direction: readonly number[], offset: number) => [
  (place: string) =>
    node("dotproduct", "float", `${name}_along`, [
      connected("in1", "vector2", place),
      valued("in2", "vector2", direction.map(digits).join(", ")),
    ]),
  () => node("add", "float", name, [connected("in1", "float", `${name}_along`), float("in2", offset)]),
];
