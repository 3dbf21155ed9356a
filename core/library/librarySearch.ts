import { z } from "zod";
import { LAYOUTS, MATERIAL_KINDS, SIZE_STATES } from "#core/finish/material";
import { FAMILIES } from "#core/finish/family";
import { FIRE_CLASSES, FROST_CLASSES, SLIP_CLASSES } from "#core/supply/catalogue";

/** What a material can be without. */
export const ABSENCES = [
  "family",
  "supplier",
  "licence",
  "specular_roughness",
  "geometry_normal",
  "height",
  "ambient_occlusion",
] as const;
export type Absence = (typeof ABSENCES)[number];

/** What a licence can be, seen from today. */
export const LICENCE_STATES = ["ended", "one-project", "bought", "free"] as const;
export type LicenceState = (typeof LICENCE_STATES)[number];

/** What materials can be put in order by. */
export const SAMPLE_SORTS = ["fit", "name", "newest", "used", "color", "size"] as const;
export type SampleSort = (typeof SAMPLE_SORTS)[number];

const percent = z.coerce.number().min(0).max(100);
const lengthMm = z.coerce.number().positive().max(1e6);
const name = z.string().trim().min(1).max(200);

/** What the library is searched by, as it stands in an address; all that is given has to fit. */
export const librarySearchSchema = z.object({
  /** Words that must all be its own, by name, code, tag, supplier, line, family or colour. */
  q: z.string().max(200).optional(),
  family: z.enum(FAMILIES).optional(),
  kind: z.enum(MATERIAL_KINDS).optional(),
  layout: z.enum(LAYOUTS).optional(),
  sizeState: z.enum(SIZE_STATES).optional(),
  supplier: name.optional(),
  line: name.optional(),
  tag: z.string().trim().min(1).max(40).optional(),
  /** A colour that it is of, and how far one may be from it, in ΔE2000. */
  color: z
    .string()
    .regex(/^#[0-9a-f]{6}$/i, "A colour is written #rrggbb.")
    .optional(),
  within: z.coerce.number().min(0.5).max(12).optional(),
  /** Light reflectance value, in percent. */
  reflectsFrom: percent.optional(),
  reflectsTo: percent.optional(),
  /** The longer side of the repeat, in mm. */
  repeatFrom: lengthMm.optional(),
  repeatTo: lengthMm.optional(),
  /** One module without its joint, in mm. */
  moduleWidth: lengthMm.optional(),
  moduleHeight: lengthMm.optional(),
  /** At least so good, by the supplier's sheet. */
  slip: z.enum(SLIP_CLASSES).optional(),
  frost: z.enum(FROST_CLASSES).optional(),
  fire: z.enum(FIRE_CLASSES).optional(),
  licence: z.enum(LICENCE_STATES).optional(),
  without: z.enum(ABSENCES).optional(),
  project: z.uuid().optional(),
  collection: z.uuid().optional(),
  /** Taken in with this. */
  intake: z.uuid().optional(),
  /** Who took it in. */
  by: z.uuid().optional(),
  /** Taken in during so many days. */
  days: z.coerce.number().int().min(1).max(3650).optional(),
  /** Alike to this material, by its picture. */
  like: z.uuid().optional(),
  /** Alike to a picture that was handed in. */
  likePicture: z.uuid().optional(),
  /** Best fitting first where a colour is looked for, the likest first, and else by name, unless it is given. */
  sort: z.enum(SAMPLE_SORTS).optional(),
});

export type LibrarySearch = z.infer<typeof librarySearchSchema>;

const SEARCH_KEYS = Object.keys(librarySearchSchema.shape) as (keyof LibrarySearch)[];

/** A search as an address says it. What cannot be meant so is left out. */
export function readLibrarySearch(params: Iterable<[string, string]>): LibrarySearch {
  const search: Record<string, unknown> = {};
  for (const [key, value] of params) {
    if (value.trim() === "" || !Object.hasOwn(librarySearchSchema.shape, key)) continue;
    const read = librarySearchSchema.shape[key as keyof LibrarySearch].safeParse(value);
    if (read.success) search[key] = read.data;
  }
  // How near to a colour says nothing without one.
  if (search.color === undefined) delete search.within;
  return search;
}

/** The words of an address that say a search. */
export const searchParams = (search: LibrarySearch): [string, string][] =>
  SEARCH_KEYS.flatMap((key) =>
    search[key] === undefined ? [] : [[key, String(search[key])] as [string, string]],
  );
