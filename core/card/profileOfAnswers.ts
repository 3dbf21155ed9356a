import type { CardAnswers } from "#core/card/cardQuestions";
import { JPEG_QUALITY } from "#core/convert/imageFormats";
import type { Profile } from "#core/convert/profile";
import { QUESTIONS } from "#core/convert/questions";

/** What is asked besides a card, whose size is entered in it. */
export interface CardRenderer {
  name: string;
  unit: Profile["unit"];
}

/** The profile of a renderer whose conventions a test card told; what no card tells is as careful as can be, and can be changed. */
export function profileOfAnswers({ name, unit }: CardRenderer, answers: CardAnswers): Profile {
  const begun: Profile = {
    id: "renderer",
    name,
    description: "Described by a test card.",
    delivers: "images",
    unit,
    normalDirection: "+Y",
    maxPixels: null,
    colorTag: "none",
    jpegQuality: JPEG_QUALITY,
    finishIn: "images",
    names: { folder: "{material}", file: "{material}_{suffix}" },
    outputs: [
      {
        kind: "map",
        slot: "base color",
        suffix: "color",
        role: "base_color",
        format: "png",
        bitDepth: 8,
        multiplyOcclusion: false,
        opacityInAlpha: false,
        inverted: false,
      },
    ],
    values: {},
    layers: null,
    steps: stepsOf(answers),
    isProved: true,
  };
  const asked: [question: string, value: string][] = [
    ["packing", answers.packing],
    ["shine", answers.shine],
    ["normals", answers.normals],
    ["height", answers.height === "none" ? "none" : "amount"],
    // What has no input is not lost: it darkens the colour.
    ["occlusion", answers.occlusion === "none" ? "color" : answers.occlusion],
    ["opacity", answers.opacity],
    ["metal", answers.metal],
  ];
  const answered = asked.reduce((profile, [id, value]) => {
    const question = QUESTIONS.find((one) => one.id === id)!;
    return question.read(profile) === value ? profile : question.answer(profile, value);
  }, begun);
  return answers.height === "in"
    ? {
        ...answered,
        outputs: answered.outputs.map((output) =>
          output.kind === "map" && output.role === "height" ? { ...output, inverted: true } : output,
        ),
      }
    : answered;
}

/** A card tells that a renderer makes another amount of what is entered, and not of which unit that is. */
const AMOUNT_WORDS: Record<CardAnswers["amount"], string> = {
  less: " This renderer makes much less of it: find by a sample in which unit it wants the amount, and enter it in that.",
  same: "",
  more: " This renderer makes much more of it: find by a sample in which unit it wants the amount, and enter it in that.",
  none: "",
};

function stepsOf({ colors, data, height, amount, normals }: CardAnswers): Profile["steps"] {
  const steps: Profile["steps"] = [
    { when: "repeat", text: "Set the size of every image to {width} × {height} {unit}." },
  ];
  if (colors === "raw")
    steps.push({
      when: "images",
      text: "Say of the images of colours that they are sRGB: by itself this renderer takes them for light.",
    });
  if (data === "decoded")
    steps.push({
      when: "images",
      text: "Say of every image but those of colours that it is data: by itself this renderer decodes it as a colour.",
    });
  if (height !== "none")
    steps.push({
      when: "height",
      text: `Set the height amount to {amplitude} {unit}.${AMOUNT_WORDS[amount]}`,
    });
  if (normals !== "none")
    steps.push({
      when: "normal",
      text: "Put the normal map into the input for normals, not into that for bumps.",
    });
  steps.push(
    { when: "plain", text: "Enter the colour and the shine from settings.json; there are no images." },
    { when: "values", text: "Enter from settings.json: {values}." },
  );
  return steps;
}
