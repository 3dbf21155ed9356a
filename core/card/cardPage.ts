import { CARD_MM, CARD_RELIEF_MM, type CardFile } from "#core/card/layout";

/** Into which input each file goes. */
export const CARD_INPUTS: Record<CardFile, string> = {
  color: "the base color",
  shine: "the input that tells how shiny it is: roughness or gloss, whichever there is",
  normal: "the normal map",
  height: `the height, displacement or bump; ${CARD_RELIEF_MM} mm from black to white`,
  occlusion: "ambient occlusion, if there is an input for it",
  opacity: "opacity, if there is an input for it",
  transparency: "transparency, if there is that in place of opacity",
  metal: "metalness, if there is an input for it",
  packed:
    "the image that holds occlusion, shine and metal in its channels, if there is one: then in place of those three",
};

/** How a card is laid and lit, a sentence a line. */
export const CARD_STEPS: readonly string[] = [
  `Make a flat panel of ${CARD_MM / 1000} × ${CARD_MM / 1000} m and give it a new, plain material.`,
  "Put each file into its input. Leave out what the renderer has no input for. Change no setting of the images.",
  `Enter ${CARD_MM} mm as the size of the repeat, in the renderer's own unit: 100 cm, 1 m, 39.37 in. One card should fill the panel.`,
  "Where all vanishes but a small square, the renderer wants transparency: put that file in place of opacity.",
  "Light it with one lamp from the upper left, about half-way up, and even light from all around.",
  "Look at the panel from straight ahead, all of it and a little of what is around; a few degrees aside do no harm. Nothing should be plain white but the brightest patch.",
  "Render it 800 px wide or more, as PNG or JPEG, and hand the picture in.",
];

export const cardFileName = (number: number, file: CardFile) =>
  `card-${String(number).padStart(4, "0")}_${file}.png`;

/** The page that goes with a card. */
export function cardPage(number: number): string {
  const files = Object.entries(CARD_INPUTS).map(
    ([file, input]) => `${cardFileName(number, file as CardFile)}\n    goes into ${input}`,
  );
  return [
    `Test card ${number}`,
    "",
    ...CARD_STEPS.map((step, at) => `${at + 1}. ${step}`),
    "",
    "The files",
    "",
    ...files,
    "",
  ].join("\n");
}
