/** What a picture of a card can say of a renderer, and what it can be. */
export const CARD_QUESTIONS = {
  colors: {
    asks: "How are colours read?",
    options: { decoded: "Decoded from sRGB, as they should be", raw: "As if they were light already" },
  },
  data: {
    asks: "How are the maps read that are no colours?",
    options: { raw: "As they are", decoded: "Decoded as if they were colours" },
  },
  normals: {
    asks: "Which way does green point in normal maps?",
    options: { up: "Up", down: "Down", none: "No normal map is read" },
  },
  height: {
    asks: "What does a height do?",
    options: {
      out: "White stands out",
      in: "White goes in",
      none: "No height is read, or too little to be seen",
    },
  },
  amount: {
    asks: "How high do heights come out?",
    options: {
      less: "Much less than was entered",
      same: "About as high as was entered",
      more: "Much higher than was entered",
      none: "No height is read, or too little to be seen",
    },
  },
  shine: {
    asks: "How is it told how shiny a surface is?",
    options: {
      roughness: "Roughness: bright is matt",
      gloss: "Gloss: bright is shiny",
      none: "It is not read",
    },
  },
  occlusion: {
    asks: "Where does ambient occlusion go?",
    options: { own: "Into an input of its own", packed: "Into the packed image", none: "It is not read" },
  },
  opacity: {
    asks: "How is something cut out?",
    options: {
      own: "By an image that is bright where something is",
      transparency: "By an image that is bright where nothing is",
      alpha: "By the fourth channel of the colour",
      none: "Not at all",
    },
  },
  metal: {
    asks: "How is it told where something is metal?",
    options: { own: "By an image of its own", packed: "By the packed image", none: "It is not read" },
  },
  packing: {
    asks: "What lies in the channels of a packed image?",
    options: {
      none: "No packed image is read",
      "occlusion-shine-metal": "Red occlusion, green shine, blue metal",
      "occlusion-metal-shine": "Red occlusion, green metal, blue shine",
      "shine-metal-occlusion": "Red shine, green metal, blue occlusion",
      "shine-occlusion-metal": "Red shine, green occlusion, blue metal",
      "metal-shine-occlusion": "Red metal, green shine, blue occlusion",
      "metal-occlusion-shine": "Red metal, green occlusion, blue shine",
    },
  },
} as const;

export type CardQuestion = keyof typeof CARD_QUESTIONS;
export const CARD_QUESTION_NAMES = Object.keys(CARD_QUESTIONS) as CardQuestion[];

/** An answer to each. */
export type CardAnswers = { [Q in CardQuestion]: keyof (typeof CARD_QUESTIONS)[Q]["options"] };
