import { z } from "zod";
import type { Finish, FinishChange } from "#core/finish/finish";
import { FAMILIES } from "#core/finish/family";
import type { Role } from "#core/roles/roles";

/** A surface grade: how a surface was worked, in the words that suppliers write. */
export const gradeSchema = z
  .object({
    name: z.string().trim().min(1).max(60),
    family: z.enum(FAMILIES),
    says: z.string().max(200).default(""),
    /** On the roughness map as it came. */
    scale: z.number().min(0).max(4).optional(),
    shift: z.number().min(-1).max(1).optional(),
    /** Where there is no map. */
    roughness: z.number().min(0).max(1),
    normalStrength: z.number().min(0).max(10).optional(),
    ior: z.number().min(1).max(3).optional(),
    coat: z
      .object({ weight: z.number().min(0).max(1), roughness: z.number().min(0).max(1) })
      .strict()
      .optional(),
    /** At 60°, by ISO 2813. */
    glossUnits: z.number().min(0).max(2000).optional(),
  })
  .strict();

export type Grade = z.infer<typeof gradeSchema>;

/** The grades that ship, by what they are of. Values are ours, judged by eye; those of paints have the gloss that they say (a test computes it). */
export const GRADES: readonly Grade[] = [
  { name: "sawn", family: "stone", says: "As the saw left it: dull.", shift: 0.08, roughness: 0.62 },
  {
    name: "honed",
    family: "stone",
    says: "Ground smooth, with a soft sheen.",
    scale: 0.7,
    roughness: 0.4,
    normalStrength: 0.7,
  },
  {
    name: "polished",
    family: "stone",
    says: "Mirrors windows.",
    scale: 0.22,
    roughness: 0.09,
    normalStrength: 0.25,
  },
  {
    name: "flamed",
    family: "stone",
    says: "Burst by heat: rough to the hand.",
    scale: 1.1,
    shift: 0.08,
    roughness: 0.78,
    normalStrength: 1.4,
  },
  {
    name: "sand-blasted",
    family: "stone",
    says: "Evenly roughened.",
    shift: 0.15,
    roughness: 0.72,
    normalStrength: 1.1,
  },
  {
    name: "brushed",
    family: "stone",
    says: "Soft on top, with its relief left.",
    scale: 0.6,
    roughness: 0.42,
  },
  {
    name: "oiled",
    family: "timber",
    says: "Oil in the pores: a little deeper and smoother.",
    scale: 0.8,
    roughness: 0.46,
    ior: 1.47,
  },
  {
    name: "waxed",
    family: "timber",
    says: "A thin soft sheen over the grain.",
    scale: 0.85,
    roughness: 0.5,
    coat: { weight: 0.5, roughness: 0.4 },
  },
  {
    name: "lacquered",
    family: "timber",
    says: "A clear film over everything.",
    scale: 0.9,
    roughness: 0.5,
    coat: { weight: 1, roughness: 0.12 },
  },
  { name: "matt paint", family: "paint", says: "Hides its unevenness.", roughness: 0.462, glossUnits: 4 },
  { name: "satin paint", family: "paint", says: "A soft sheen.", roughness: 0.246, glossUnits: 25 },
  { name: "high-gloss paint", family: "paint", says: "Nearly a mirror.", roughness: 0.077, glossUnits: 85 },
];

/** What a grade sets, all at once; what it has nothing to say of goes back to what the material came with. */
export function gradeChange(grade: Grade, received: Finish, maps: readonly { role: Role }[]): FinishChange {
  const has = (...roles: Role[]) => maps.some(({ role }) => roles.includes(role));
  const hasRoughness = has("specular_roughness", "gloss");
  return {
    roughnessScale: hasRoughness ? (grade.scale ?? null) : null,
    roughnessShift: hasRoughness ? (grade.shift ?? null) : null,
    roughness: hasRoughness ? received.roughness : grade.roughness,
    normalStrength: has("geometry_normal") ? (grade.normalStrength ?? 1) : received.normalStrength,
    ior: grade.ior ?? received.ior,
    coatWeight: grade.coat?.weight ?? null,
    coatRoughness: grade.coat?.roughness ?? null,
    grade: grade.name,
  };
}

/** The grade that a finish amounts to, as it was set on a material that came with another one. */
export function gradeOf(finish: Finish, named: Pick<Grade, "name" | "family" | "says">): Grade {
  const { roughness, roughnessScale, roughnessShift, normalStrength, ior, coatWeight, coatRoughness } =
    finish;
  return {
    ...named,
    roughness,
    ...(roughnessScale !== undefined && roughnessScale !== 1 && { scale: roughnessScale }),
    ...(roughnessShift ? { shift: roughnessShift } : {}),
    ...(normalStrength !== 1 && { normalStrength }),
    ...(ior !== 1.5 && { ior }),
    ...(coatWeight ? { coat: { weight: coatWeight, roughness: coatRoughness ?? 0 } } : {}),
  };
}
