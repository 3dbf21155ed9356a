import { apart, highlightOf, lightOf, packedEffects, type PackedEffect } from "#core/card/cardFigures";
import type { CardQuestion } from "#core/card/cardQuestions";
import {
  HALF_DECODED,
  PACKED_CHANNELS,
  PACKED_CODES,
  packedId,
  SIDES,
  slopeId,
  TEETH,
  TILTS,
  tiltId,
  type Side,
  type TeethName,
} from "#core/card/layout";
import { placeCard, type PlacedCard } from "#core/card/placeCard";
import { isAgainstLamp, mayBeSteep, reliefOf, type Relief } from "#core/card/relief";
import { sampleCard, type SampledCard } from "#core/card/sampleCard";
import { tiltsOf, type Lean, type Tilts } from "#core/card/tilts";
import type { Raster } from "#core/raster/raster";

/** What a picture of a card says of one convention. */
export interface CardAnswer {
  /** One of the question's options; null where the picture cannot tell. */
  value: string | null;
  isSure: boolean;
  /** By what it is seen, in a sentence. */
  why: string;
  /** The patches that it is seen at. */
  patches: string[];
}

export interface CardReading {
  placed: PlacedCard;
  answers: Record<CardQuestion, CardAnswer>;
}

/**
 * Reads from a picture of a card which conventions the renderer has that made it: patches against each other, never against what
 * they should look like, so that light, exposure and tone curve do not matter.
 * @param picture encoded sRGB, any bits
 * @throws {Refusal} where no card can be read
 */
export function readCard(picture: Raster): CardReading {
  const placed = placeCard(picture);
  const card = sampleCard(picture, placed.toPicture);
  const tilts = tiltsOf(card);
  const asked = lampAsAsked(placed);
  const relief = reliefOf(card, tilts, asked);
  const packed = packedOf(card, tilts);
  const answers: CardReading["answers"] = {
    colors: colorsOf(card),
    data: dataOf(card, tilts, relief),
    normals: normalsOf(tilts, relief, asked),
    height: heightOf(relief, tilts, asked),
    amount: amountOf(relief, tilts, asked),
    shine: packed.shine ?? shineOf(card, tilts, relief),
    occlusion: inPacked(packed, "occlusion") ?? ownInput(card, "occlusion", "open", "closed", [0.06, 0.12]),
    opacity: opacityOf(card),
    metal: inPacked(packed, "metal") ?? ownInput(card, "metal", "no metal", "metal", [0.15, 0.25]),
    packing: packed.answer,
  };
  return { placed, answers };
}

const sure = (value: string, why: string, patches: string[]): CardAnswer => ({
  ...{ value, why, patches },
  isSure: true,
});
const unsure = (value: string | null, why: string, patches: string[]): CardAnswer => ({
  ...{ value, why, patches },
  isSure: false,
});

/** From where the lamp shines on the card, where it stands at the upper left in the picture as it was asked for. */
function lampAsAsked({ toPicture: h }: PlacedCard): Lean {
  // Directions at the middle of the card, to the right and down, in the picture.
  const w = h[6] * 0.5 + h[7] * 0.5 + h[8];
  const [px, py] = [(h[0] * 0.5 + h[1] * 0.5 + h[2]) / w, (h[3] * 0.5 + h[4] * 0.5 + h[5]) / w];
  const [ax, ay] = [(h[0] - px * h[6]) / w, (h[3] - py * h[6]) / w];
  const [bx, by] = [(h[1] - px * h[7]) / w, (h[4] - py * h[7]) / w];
  const determinant = ax * by - ay * bx;
  const [x, down] = [(-by + bx) / determinant, (ay - ax) / determinant];
  const length = Math.hypot(x, down);
  return { x: x / length, y: -down / length };
}

function colorsOf(card: SampledCard): CardAnswer {
  const patches = ["color flat", "color half", "color more"];
  const [flat, half, more] = patches.map((id) => lightOf(card, id));
  const at = (flat - half) / (more - half);
  if (!(more - half > 0.08))
    return unsure(
      null,
      "The grains of light and dark cannot be told apart: make the picture larger.",
      patches,
    );
  if (at < 0.35)
    return sure("decoded", "A grey of half the light looks like grains of which half are light.", patches);
  // The lightest grains may be cut off, and look darker than they are.
  if (at > 0.65 && card.cutOff === 0)
    return sure(
      "raw",
      "A grey of half the light looks lighter than grains of which half are light.",
      patches,
    );
  return unsure(null, "The grey lies between what it would be either way.", patches);
}

interface Packed {
  answer: CardAnswer;
  shine?: CardAnswer;
  /** What lies in each channel, where it could be told. */
  roles: readonly PackedRole[] | null;
  isThere: boolean;
}
type PackedRole = "occlusion" | "shine" | "metal";

const PERMUTATIONS: readonly (readonly PackedRole[])[] = [
  ["occlusion", "shine", "metal"],
  ["occlusion", "metal", "shine"],
  ["shine", "metal", "occlusion"],
  ["shine", "occlusion", "metal"],
  ["metal", "shine", "occlusion"],
  ["metal", "occlusion", "shine"],
];
/** How far its bumps are apart: below the first all look the same; beyond the others, two of three channels do something at least. */
const PACKED = { alike: 0.07, middle: 0.045, differs: 0.16 };

/** How much better than the next order one has to fit. */
const FITS_BETTER = 0.9;

/** Logarithm of how much wider a highlight has to be. */
const OTHER_WIDTH = 0.6;

const clamped = (value: number, most: number) => Math.max(-most, Math.min(most, value));

/** How well an effect fits what a role would do. */
const FIT: Record<PackedRole, (effect: PackedEffect) => number> = {
  metal: ({ tinted, lighter, blackLighter }) =>
    clamped(tinted, 2) - clamped(lighter, 1.5) - clamped(blackLighter, 1.5),
  shine: ({ wider }) => Math.abs(clamped(wider, 3)),
  occlusion: ({ lighter }) => clamped(lighter, 1.5),
};

function packedOf(card: SampledCard, tilts: Tilts): Packed {
  const effects = packedEffects(card);
  const patches = PACKED_CHANNELS.flatMap((name) => PACKED_CODES.map((code) => packedId(name, code, "grey")));
  // Each channel does something, where one is read at all.
  const [middle, most] = effects
    .map((effect) => effect.apart)
    .sort((a, b) => a - b)
    .slice(1);
  if (most < PACKED.differs || middle < PACKED.middle)
    return {
      answer:
        most < PACKED.alike
          ? sure("none", "All bumps look the same: no packed image was read.", patches)
          : unsure("none", "Some bumps differ, and others do not.", patches),
      roles: null,
      isThere: false,
    };
  if (!tilts.isThere) {
    const why =
      "A packed image was read, but no normal map: there are no bumps by whose highlights its channels are told apart.";
    const cannotTell = unsure(null, why, patches);
    return { answer: cannotTell, shine: cannotTell, roles: null, isThere: true };
  }
  const fits = PERMUTATIONS.map((roles) => ({
    roles,
    fit: roles.reduce((sum, role, at) => sum + FIT[role](effects[at]), 0),
  })).sort((a, b) => b.fit - a.fit);
  const [{ roles, fit }, next] = fits;
  const isClear = fit - next.fit > FITS_BETTER;
  const value = roles.join("-");
  const said = roles.map((role, at) => `${PACKED_CHANNELS[at]} ${role}`).join(", ");
  const { wider } = effects[roles.indexOf("shine")];
  const glossy = wider < 0;
  const shinePatches = PACKED_CHANNELS.filter((_, at) => roles[at] === "shine").flatMap((name) =>
    PACKED_CODES.map((code) => packedId(name, code, "black")),
  );
  return {
    answer: isClear
      ? sure(value, `By what each channel does to highlights and to what is around them: ${said}.`, patches)
      : unsure(value, `Most likely ${said}; another order would look much the same.`, patches),
    shine:
      isClear && Math.abs(wider) > OTHER_WIDTH
        ? sure(
            glossy ? "gloss" : "roughness",
            `Much of it makes the highlight ${glossy ? "smaller" : "wider"}.`,
            shinePatches,
          )
        : unsure(glossy ? "gloss" : "roughness", "The highlights hardly differ in width.", shinePatches),
    roles: isClear ? roles : null,
    isThere: true,
  };
}

function inPacked({ roles, isThere }: Packed, role: PackedRole): CardAnswer | undefined {
  if (!isThere) return undefined;
  const at = roles?.indexOf(role) ?? -1;
  return at < 0
    ? sure("packed", "A packed image was read.", [])
    : sure(
        "packed",
        `It lies in ${PACKED_CHANNELS[at]} of the packed image.`,
        PACKED_CODES.map((code) => packedId(PACKED_CHANNELS[at], code, "grey")),
      );
}

/** @param bounds below the first, patches look the same; above the second, they do not */
function ownInput(
  card: SampledCard,
  what: string,
  without: string,
  withIt: string,
  [alike, differs]: readonly [number, number],
): CardAnswer {
  const difference = apart(card, without, withIt);
  const patches = [without, withIt];
  if (difference > differs)
    return sure("own", `The patch with ${what} looks otherwise than the one without.`, patches);
  if (difference < alike) return sure("none", `The patch with ${what} looks like the one without.`, patches);
  return unsure(null, `The patches with and without ${what} hardly differ.`, patches);
}

/** Logarithms of how much brighter and narrower a highlight is: below the first none differs, above the second they do. */
const SAME_HIGHLIGHT = 0.45;
const OTHER_HIGHLIGHT = 0.9;
/** Share of a bump: a smaller highlight may be cut off by the exposure or by the pixels. */
const SMALL = 0.025;
/** How much more the size of highlights counts then. */
const CUT_COUNTS = 1.5;
/** Where nothing is read, all of the bumps is alike. */
const SAME_BUMPS = 0.06;
const SAME_SMALL_BUMPS = 0.04;

/** A highlight that is no brighter above what is around it is none, and what lies there is something else. */
const LEAST_PEAK = 0.055;
/** What is so weak has no size. */
const NO_PEAK = 0.003;

/** The narrower of two highlights is the brighter one, unless the picture is too coarse to show it. */
function shineOf(card: SampledCard, tilts: Tilts, relief: Relief): CardAnswer {
  const isByHeight = !tilts.isThere;
  const bumps = !isByHeight ? "" : mayBeSteep(relief) ? " by low height" : " by height";
  const patches = ["shine low", "shine high"].map((id) => id + bumps);
  if (isByHeight && !relief.isThere)
    return unsure(
      null,
      "Neither a normal map nor a height is read, so that there are no bumps whose highlights could tell.",
      patches,
    );
  if (isByHeight && (relief.times === null || relief.misfit > MOST_MISFIT))
    return unsure(null, "How steep the bumps of the height are cannot be told.", patches);
  const [low, high] = patches.map((id) => highlightOf(card, id));
  const difference = apart(card, patches[0], patches[1]);
  const weaker = Math.min(low.peak, high.peak);
  const narrower = weaker < NO_PEAK ? 0 : Math.log((low.width + 0.003) / (high.width + 0.003));
  const brighter = Math.log(high.peak / low.peak);
  // What is smaller than a pixel is shown dimmer than it is: then its size tells alone.
  const isCut =
    narrower * brighter < 0 &&
    weaker > LEAST_PEAK &&
    Math.min(low.width, high.width) < SMALL &&
    difference > SAME_BUMPS;
  const glossy = isCut ? CUT_COUNTS * narrower : narrower + brighter;
  if (Math.abs(glossy) < SAME_HIGHLIGHT && difference < SAME_BUMPS) {
    // The bumps of a height may be too low or too steep to have a highlight.
    const isSeen =
      !isByHeight || (Math.min(high.peak, low.peak) > LEAST_PEAK && difference < SAME_SMALL_BUMPS);
    return (isSeen ? sure : unsure)("none", "Both bumps have the same highlight: it is not read.", patches);
  }
  const value = glossy > 0 ? "gloss" : "roughness";
  if (Math.max(high.peak, low.peak) < LEAST_PEAK)
    return unsure(value, "The bumps have no highlight that could be told from noise.", patches);
  if (Math.abs(glossy) < OTHER_HIGHLIGHT) return unsure(value, "The highlights hardly differ.", patches);
  return sure(
    value,
    `The bump with more of it has the ${glossy > 0 ? "smaller, brighter" : "wider, weaker"} highlight.`,
    patches,
  );
}

const CUTS = { own: "cut by opacity", transparency: "cut by transparency", alpha: "cut by alpha" } as const;

const CUT = { alike: 0.22, differs: 0.45 };

function opacityOf(card: SampledCard): CardAnswer {
  const found = Object.entries(CUTS).map(([value, id]) => ({
    value,
    id,
    difference: apart(card, "whole", id),
  }));
  const patches = ["whole", ...Object.values(CUTS)];
  const [first, second] = [...found].sort((a, b) => b.difference - a.difference);
  if (first.difference <= CUT.differs)
    return first.difference > CUT.alike
      ? unsure("none", "One of the patches differs a little from the whole one.", patches)
      : sure("none", "No patch is cut out.", patches);
  const doubtful = second.difference > CUT.alike;
  const why = {
    own: "The patch that is dark in the image of opacity is cut out.",
    transparency: "The patch that is light in the image of transparency is cut out.",
    alpha: "The patch without any of the fourth channel is cut out.",
  }[first.value as keyof typeof CUTS];
  return doubtful ? unsure(first.value, why, patches) : sure(first.value, why, patches);
}

const LEAST_GRAINS = 0.09;
/** How far a thing must lean to either side for it to be said. */
const LEANS = 0.4;
/** How far all must lean together. */
const LEAN_TOGETHER = 0.5;

/** Whether data is read as it is, or decoded as if it were a colour: every map that was read says something of it. */
function dataOf(card: SampledCard, tilts: Tilts, relief: Relief): CardAnswer {
  const says: { what: string; decoded: number; patches: string[] }[] = [];
  for (const [what, half, grains, few] of [
    ["occlusion", "closed half", "closed grains half", "closed grains few"],
    ["metal", "metal half", "metal grains half", "metal grains few"],
  ]) {
    const [at, likeHalf, likeFew] = [half, grains, few].map((id) => lightOf(card, id));
    // Where grains do nothing, the map is not read.
    if (Math.abs(likeHalf / likeFew - 1) < LEAST_GRAINS) continue;
    // From −1, as it is, to 1, decoded.
    const decoded = 2 * ((at - likeHalf) / (likeFew - likeHalf)) - 1;
    says.push({ what, decoded: clamped(decoded, 1.5), patches: [half, grains, few] });
  }
  if (tilts.isThere) {
    const decoded = clamped(Math.log(tilts.raw.error / tilts.decoded.error), 1.5);
    says.push({ what: "normals", decoded, patches: TILTS.map(([x, y]) => tiltId(x, y)) });
  }
  if (relief.isThere && relief.misfit < MOST_MISFIT)
    says.push({ what: "height", decoded: clamped(relief.decoded, 1.5), patches: slopePatches() });
  const patches = says.flatMap((one) => one.patches);
  const [raw, decoded] = [
    says.filter((one) => one.decoded < -LEANS),
    says.filter((one) => one.decoded > LEANS),
  ];
  const names = (those: typeof says) => those.map(({ what }) => what).join(", ");
  if (raw.length > 0 && decoded.length > 0)
    return unsure(
      null,
      `Not all alike: ${names(raw)} as it is, ${names(decoded)} decoded as if it were a colour.`,
      patches,
    );
  if (decoded.length > 0)
    return sure(
      "decoded",
      `In ${names(decoded)}, a half looks like ${Math.round(HALF_DECODED * 100)} %.`,
      patches,
    );
  if (raw.length > 0) return sure("raw", `In ${names(raw)}, a half looks like a half.`, patches);
  // What each says weakly, all say clearly where none says otherwise.
  const together = says.reduce((sum, one) => sum + one.decoded, 0);
  if (says.every((one) => one.decoded * together > 0) && Math.abs(together) > LEAN_TOGETHER)
    return together > 0
      ? sure("decoded", `${names(says)} look more like decoded than not.`, patches)
      : sure("raw", `${names(says)} look more like not decoded than decoded.`, patches);
  return unsure(null, "No map was read by which it could be told.", patches);
}

/** How much better one way round of green has to fit the height: to count at all, and to be set against the lamp. */
const FAIRLY = 1.5;
const OPENLY = 2.5;
/** A lamp that stands straight to a side says nothing of up and down. */
const LEAST_SIDE = 0.22;

function normalsOf(tilts: Tilts, relief: Relief, asked: Lean): CardAnswer {
  const patches = TILTS.map(([x, y]) => tiltId(x, y));
  if (!tilts.isThere)
    return tilts.isNone
      ? sure("none", "Patches that lean look like those that do not.", patches)
      : unsure("none", "Patches that lean hardly differ from those that do not.", patches);
  const { lean } = tilts;
  const said = (sign: number) => (sign > 0 ? "up" : "down");
  const byAsked = said(lean.y * asked.y);
  const isAside = lean.x * asked.x < 0 && Math.abs(lean.x) > LEAST_SIDE;
  if (relief.green.by > FAIRLY) {
    // Height knows no green: where both are read, it tells where up is.
    const byHeight = said(relief.green.sign);
    const all = [...patches, ...slopePatches("up", "down")];
    if (byHeight === byAsked || isAgainstLamp(relief))
      return sure(
        byHeight,
        "Slopes of the height and slopes of the normal map are light on the same side.",
        all,
      );
    if (relief.green.by > OPENLY)
      return unsure(byHeight, "The height says otherwise than a lamp that stands at the upper left.", all);
  }
  if (Math.abs(lean.y) < LEAST_SIDE)
    return unsure(byAsked, "The lamp stands too far to a side to tell up from down.", patches);
  if (isAside)
    return unsure(
      byAsked,
      "The lamp does not stand at the upper left, and no height says where it does.",
      patches,
    );
  return sure(
    byAsked,
    "With the lamp at the upper left, what leans up is light where green is read so.",
    patches,
  );
}

/** Below this, slopes are all alike; a card that leans to the lamp as a whole shows them weakly. */
const LEAST_SLOPES = 0.03;
/** What they would show as entered is so many times as much. */
const LEAST_EXPECTED = 5;
/** And where they would show so much, a tenth of the height would show more than this share of it. */
const ALIKE = 0.04;

function heightOf(relief: Relief, tilts: Tilts, asked: Lean): CardAnswer {
  const patches = slopePatches();
  const { spread, expectedSpread } = relief;
  if (!relief.isThere) {
    const areAlike =
      expectedSpread === null
        ? spread < LEAST_SLOPES
        : spread < Math.max(ALIKE * expectedSpread, Math.min(LEAST_SLOPES, expectedSpread / LEAST_EXPECTED));
    return areAlike
      ? sure("none", "Slopes that fall to either side look the same.", patches)
      : unsure("none", "The slopes hardly differ.", patches);
  }
  if (tilts.isThere && relief.out !== 0) {
    const said = `Slopes are light where normals that lean ${relief.out > 0 ? "the same" : "the other"} way are.`;
    return (fitsSides(relief) ? sure : unsure)(relief.out > 0 ? "out" : "in", said, patches);
  }
  if (tilts.isThere) return unsure(null, "The slopes fit neither way to what the normal map shows.", patches);
  const towards = relief.lean.x * asked.x + relief.lean.y * asked.y;
  if (Math.abs(towards) < 0.5)
    return unsure(towards > 0 ? "out" : "in", "The lamp does not stand at the upper left.", patches);
  return sure(
    towards > 0 ? "out" : "in",
    `With the lamp at the upper left, what falls to it is ${towards > 0 ? "light" : "dark"}.`,
    patches,
  );
}

/** Farther than this from any light of slopes, something else lies in them. */
const MOST_MISFIT = 1.8;
/** To which side they are light, and how steep they are, can be told even then, unless it is as far as this; farther where they are steep for sure, and cliffs hide them. */
const MOST_MISFIT_OF_SIDES = { usual: 2.2, steep: 2.6 };
const fitsSides = ({ misfit, times }: Relief) =>
  misfit < MOST_MISFIT_OF_SIDES[times !== null && times.least > 1 ? "steep" : "usual"];
/** Nor without normals, where the lamp is found by the slopes themselves. */
const MOST_MISFIT_ALONE = 1.2;
/** Farther than this from what explains them best, slopes seem up to twice as steep as they are, or half. */
const LOOSE_MISFIT = 1.2;
const LOOSELY = 1.5;
/** What units get wrong is more than a factor of three; what lies between may be either. */
const TIMES = { surelyLess: 0.21, less: 0.35, surelySame: 0.5, mostSame: 2.5, more: 2.8, surelyMore: 4 };

/** Slopes of the height are held against normals whose lean is known; without those, steep ones against shallow ones. */
function amountOf(relief: Relief, tilts: Tilts, asked: Lean): CardAnswer {
  const patches = slopePatches();
  const { value, isSure, why } = heightOf(relief, tilts, asked);
  if (value === "none") return { value, isSure, why, patches };
  if (!relief.times || !(tilts.isThere ? fitsSides(relief) : relief.misfit < MOST_MISFIT_ALONE))
    return unsure(null, "The slopes look like none of any steepness.", patches);
  const { least, best, most } = relief.times;
  const answer = best < TIMES.less ? "less" : best > TIMES.more ? "more" : "same";
  const apart = relief.misfit > LOOSE_MISFIT ? LOOSELY : 1;
  const isClear = {
    less: most < TIMES.surelySame / apart,
    same: least > TIMES.surelyLess && most < TIMES.surelyMore,
    more: least > TIMES.mostSame * apart,
  }[answer];
  const said = `Slopes look about ${best.toFixed(best < 1 ? 2 : 1)} times as steep as they would be as entered.`;
  return isClear ? sure(answer, said, patches) : unsure(answer, said, patches);
}

const slopePatches = (...sides: Side[]) =>
  Object.keys(TEETH).flatMap((teeth) =>
    (sides.length ? sides : SIDES).map((side) => slopeId(teeth as TeethName, side)),
  );
