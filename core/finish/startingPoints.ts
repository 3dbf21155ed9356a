import type { FinishChange } from "#core/finish/finish";

/** A whole finish to begin from, by what the thing is. */
export interface StartingPoint {
  name: string;
  /** Why its values are what they are. */
  says: string;
  change: FinishChange;
}

/** What every starting point takes away before it sets its own, so that one after the other leaves nothing behind. */
const NOTHING: FinishChange = {
  specularWeight: null,
  specularColor: null,
  coatWeight: null,
  coatRoughness: null,
  fuzzWeight: null,
  fuzzColor: null,
  subsurfaceWeight: null,
  subsurfaceColor: null,
  translucencyWeight: null,
  translucencyColor: null,
  transmissionWeight: null,
  transmissionColor: null,
  transmissionDepthMm: null,
  thinWalled: null,
  metalness: 0,
  ior: 1.5,
};

const point = (name: string, says: string, change: FinishChange): StartingPoint => ({
  name,
  says,
  change: { ...NOTHING, ...change },
});

/** The numbers are ours, by what the things are made of. */
export const STARTING_POINTS: readonly StartingPoint[] = [
  point("clear pane", "Float glass: a sheet that mirrors at both faces, and a little green.", {
    ior: 1.52,
    roughness: 0.01,
    transmissionWeight: 1,
    transmissionColor: "#eaf4ee",
    thinWalled: true,
  }),
  point("solid glass", "Glass with an inside, that takes its colour after 50 mm.", {
    ior: 1.52,
    roughness: 0.01,
    transmissionWeight: 1,
    transmissionColor: "#d6ebe0",
    transmissionDepthMm: 50,
  }),
  point("curtain", "Woven cloth: half of its light goes through, and its fibres stand off.", {
    roughness: 0.85,
    thinWalled: true,
    translucencyWeight: 0.5,
    fuzzWeight: 0.35,
  }),
  point("leaf", "Waxy on the face, and lit from behind.", {
    ior: 1.45,
    roughness: 0.45,
    thinWalled: true,
    translucencyWeight: 0.45,
    translucencyColor: "#d4e07a",
  }),
  point("mirror", "Silver behind glass, seen as one surface.", {
    metalness: 1,
    roughness: 0.01,
    specularColor: "#ffffff",
  }),
  point("brushed metal", "Steel that was brushed; which way is in its maps alone.", {
    metalness: 1,
    roughness: 0.38,
  }),
];
