import { z } from "zod";

/** Those that ship. */
const OWN_ENVIRONMENTS = ["overcast", "low-sun"] as const;
export type OwnEnvironment = (typeof OWN_ENVIRONMENTS)[number];
export const isOwnEnvironment = (name: string): name is OwnEnvironment =>
  OWN_ENVIRONMENTS.some((one) => one === name);

/** What is seen through a surface, or beside it: squares of 50 mm, or one grey. */
export const GROUNDS = ["chequered", "grey", "white", "black"] as const;

const TONES = ["none", "neutral"] as const;

/** The fixed light, exposure and tone mapping under which a picture is judged: two are comparable only under the same one. */
export const conditionSchema = z
  .object({
    name: z.string().min(1).max(80),
    /** One that ships, or the hash of a panorama of the library. */
    environment: z.union([z.enum(OWN_ENVIRONMENTS), z.string().regex(/^[0-9a-f]{64}$/)]),
    /** Clockwise seen from above, in degrees: what was ahead comes to the right. */
    environmentTurn: z.number().min(-360).max(360),
    /** What the lamp gives of all the light that falls on the surface, 0 to 1. */
    lampShare: z.number().min(0).max(1),
    /** Around the surface's normal: 0° from the right, 90° from above. */
    lampAround: z.number().min(-360).max(360),
    /** Above the surface, in degrees: low grazes. */
    lampAbove: z.number().min(1).max(90),
    /** Light that falls on the back, against all that falls on the front. */
    behind: z.number().min(0).max(4),
    exposureStops: z.number().min(-6).max(6),
    /** "none" cuts off; "neutral" is the Khronos PBR neutral curve. */
    tone: z.enum(TONES),
    ground: z.enum(GROUNDS),
  })
  .strict();

export type Condition = z.infer<typeof conditionSchema>;

/** A condition without its name. */
export const lightSchema = conditionSchema.omit({ name: true }).strict();
export type Light = z.infer<typeof lightSchema>;

const STUDIO: Condition = {
  name: "Overcast studio",
  environment: "overcast",
  environmentTurn: 0,
  lampShare: 0.45,
  lampAround: 125,
  lampAbove: 50,
  behind: 0,
  exposureStops: 0,
  tone: "none",
  ground: "chequered",
};

/** Those that every studio has, by their ids. */
export const CONDITIONS = {
  studio: STUDIO,
  grazing: { ...STUDIO, name: "Grazing lamp", lampShare: 0.85, lampAround: 150, lampAbove: 12 },
  "low-sun": {
    ...STUDIO,
    name: "Low sun",
    environment: "low-sun",
    lampShare: 0.6,
    lampAround: 30,
    lampAbove: 25,
  },
  behind: { ...STUDIO, name: "Light behind", lampShare: 0.2, behind: 1 },
} as const satisfies Record<string, Condition>;
