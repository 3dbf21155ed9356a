import anyAscii from "any-ascii";
import { z } from "zod";
import type { Finding } from "#core/findings/finding";
import type { Corrections, Finish } from "#core/finish/finish";
import type { SizeState, MaterialKind, Layout } from "#core/finish/material";
import type { RepeatMethod } from "#core/gauge/repeat";
import type { Repeat } from "#core/length/repeat";
import type { Family } from "#core/finish/family";
import { familyOfText, proposedFamily } from "#core/library/familyWords";
import { familyOfMaps } from "#core/library/familyOfMaps";
import type { MendKind } from "#core/mend/recipe";
import type { MapChannel } from "#core/roles/channel";
import type { Role, NormalDirection } from "#core/roles/roles";
import { type Db, oneRow, violates } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { askAlikeForFamily, familyByLook } from "#server/material/familyByLook";
import { seenColorsOf } from "#server/material/seenColors";
import { insertWornLayers } from "#server/material/wear";
import { badField } from "#server/problem";
import type { VariantSheet } from "#server/supplier/queries";

export interface NewMap {
  role: Role;
  sha256: string;
  channel: MapChannel;
  fileName: string;
  normalDirection: NormalDirection | null;
  /** How it was derived; not given where it is as it came. */
  derived?: MendKind[];
}

export interface NewRevision {
  repeat: Repeat | null;
  sizeState: SizeState;
  gauge: (RepeatMethod & { keep?: string }) | Record<string, unknown> | null;
  finish: Finish;
  /** Those of the revision before, unless given. */
  corrections?: Corrections;
  findings: Finding[];
  note: string;
  maps: NewMap[];
}

export interface NewSource {
  supplier?: string | null;
  product?: string | null;
  productCode?: string | null;
  page?: string | null;
  licence?: string | null;
  intake?: string | null;
  /** What the supplier's product sheet said. */
  sheet?: VariantSheet | null;
}

export async function insertMaterial(
  db: Db,
  material: {
    name: string;
    kind: MaterialKind;
    layout: Layout;
    line?: string | null;
    variant?: Record<string, string>;
    madeFrom?: string | null;
    source: NewSource;
    /** The folders that it came in, from outside to inside. */
    folder?: string;
    person: string;
  },
  revision: NewRevision,
): Promise<string> {
  const { source } = material;
  const family =
    proposedFamily({
      sheet: source.sheet?.line.family,
      name: material.name,
      folder: material.folder,
    }) ??
    (await familyByMaps(db, revision)) ??
    (await familyByLook(db, revision.maps.find(({ role }) => role === "base_color")?.sha256));
  const made = await oneRow(
    db,
    z.object({ id: z.string() }),
    `WITH source AS (
       INSERT INTO sources (supplier, product, product_code, page, licence, intake, sheet)
         VALUES ($1, $2, $3, $4, $5, $6, $15) RETURNING id
     ), number AS (SELECT nextval('material_numbers') AS n)
     INSERT INTO materials (code, file_name, name, kind, layout, line, variant, made_from, source, created_by, family, family_from, tags)
     SELECT 'M' || lpad(n::text, greatest(4, length(n::text)), '0'), $7 || lpad(n::text, greatest(4, length(n::text)), '0'),
       $8, $9, $10, $11, $12, $13, source.id, $14,
       -- What a copy is, is known.
       COALESCE(o.family, $16), COALESCE(NULLIF(o.family_from, 'nothing'), $17), COALESCE(o.tags, '{}')
     FROM source, number LEFT JOIN materials o ON o.id = $13 RETURNING materials.id`,
    [
      source.supplier ?? null,
      source.product ?? null,
      source.productCode ?? null,
      source.page ?? null,
      source.licence ?? null,
      source.intake ?? null,
      fileNameStem(material.name),
      material.name,
      material.kind,
      material.layout,
      material.line ?? null,
      JSON.stringify(material.variant ?? {}),
      material.madeFrom ?? null,
      material.person,
      source.sheet ? JSON.stringify(source.sheet) : null,
      family?.family ?? null,
      family?.from ?? "nothing",
    ],
  );
  await insertRevision(db, made!.id, 1, material.person, revision);
  return made!.id;
}

/** What the metalness of a material says of its family. */
export async function familyByMaps(
  db: Db,
  { maps, finish }: { maps: Pick<NewMap, "role" | "sha256" | "channel">[]; finish: Finish },
): Promise<{ family: Family; from: "maps" } | undefined> {
  const map = maps.find(({ role }) => role === "base_metalness");
  const reading = map && (await findImage(db, map.sha256))?.reading;
  const family = familyOfMaps({
    ...(map && { map: { reading: reading ?? null, channel: map.channel } }),
    value: finish.metalness,
  });
  return family && { family, from: "maps" };
}

/**
 * Saves a new state of a material on top of the revision that the caller saw.
 * @returns the new revision's number, or undefined where somebody saved in the meantime.
 */
export async function saveRevision(
  db: Db,
  material: { id: string; seen: number; person: string },
  revision: NewRevision,
): Promise<number | undefined> {
  const moved = await db.query(
    "UPDATE materials SET revision = revision + 1 WHERE id = $1 AND revision = $2 AND deleted_at IS NULL",
    [material.id, material.seen],
  );
  if (moved.rowCount !== 1) return undefined;
  await insertRevision(db, material.id, material.seen + 1, material.person, revision);
  return material.seen + 1;
}

async function insertRevision(
  db: Db,
  id: string,
  number: number,
  person: string,
  revision: NewRevision,
): Promise<void> {
  const seen = await seenColorsOf(db, revision.finish, revision.maps);
  await db.query(
    `INSERT INTO revisions (material, number, repeat_width_mm, repeat_height_mm, size_state, gauge, finish, findings, note, made_by, corrections,
       light_reflectance, color_terms, color_order, colors)
     VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10,
       COALESCE($11::jsonb, (SELECT corrections FROM revisions WHERE material = $1 AND number = $2 - 1), '{}'), $12, $13, $14, $15)`,
    [
      id,
      number,
      revision.repeat?.width ?? null,
      revision.repeat?.height ?? null,
      revision.sizeState,
      revision.gauge === null ? null : JSON.stringify(revision.gauge),
      JSON.stringify(revision.finish),
      JSON.stringify(revision.findings),
      revision.note,
      person,
      revision.corrections ? JSON.stringify(revision.corrections) : null,
      seen.lightReflectance,
      seen.terms && JSON.stringify(seen.terms),
      seen.order,
      seen.colors && JSON.stringify(seen.colors),
    ],
  );
  if (revision.finish.wear?.length) await insertWornLayers(db, id, number, revision.finish.wear);
  for (const map of revision.maps)
    await db.query(
      `INSERT INTO maps (material, revision, role, sha256, channel, file_name, normal_direction, derived)
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
      [id, number, map.role, map.sha256, map.channel, map.fileName, map.normalDirection, map.derived ?? []],
    );
}

/** What stays the same in all revisions. A new name may say another family, unless that was said by who knows better. */
export async function updateMaterial(
  db: Db,
  id: string,
  fields: { name?: string; layout?: Layout },
): Promise<void> {
  const sign = fields.name === undefined ? undefined : familyOfText(fields.name);
  await db.query(
    `UPDATE materials SET name = COALESCE($2, name), layout = COALESCE($3, layout),
       family = CASE WHEN $4::text IS NULL OR family_from IN ('sheet', 'person') THEN family ELSE $4 END,
       family_from = CASE WHEN $4::text IS NULL OR family_from IN ('sheet', 'person') THEN family_from ELSE 'name' END
      WHERE id = $1`,
    [id, fields.name ?? null, fields.layout ?? null, sign?.family ?? null],
  );
}

/** What people say a material is; null says that it is of no family. */
export async function updateFamilyAndTags(
  db: Db,
  id: string,
  { family, tags }: { family?: Family | null; tags?: readonly string[] },
): Promise<boolean> {
  const done = await db.query(
    `UPDATE materials SET family = CASE WHEN $2 THEN $3 ELSE family END,
       -- Who saves what was proposed has not said it.
       family_from = CASE WHEN $2 AND family IS DISTINCT FROM $3 THEN 'person' ELSE family_from END,
       tags = COALESCE($4, tags) WHERE id = $1 AND deleted_at IS NULL`,
    [id, family !== undefined, family ?? null, tags ?? null],
  );
  if (family !== undefined) await askAlikeForFamily(db, id);
  return done.rowCount === 1;
}

export async function updateLine(db: Db, id: string, line: string | null): Promise<void> {
  await db.query("UPDATE materials SET line = $2 WHERE id = $1", [id, line]);
}

/** In what it differs from the others of its line. */
export async function updateVariant(db: Db, id: string, variant: Record<string, string>): Promise<void> {
  await db.query("UPDATE materials SET variant = $2 WHERE id = $1", [id, JSON.stringify(variant)]);
}

export async function markDeleted(db: Db, id: string, deleted: boolean): Promise<boolean> {
  const done = await db.query("UPDATE materials SET deleted_at = CASE WHEN $2 THEN now() END WHERE id = $1", [
    id,
    deleted,
  ]);
  return done.rowCount === 1;
}

/** Lower-case letters, digits and hyphens for folders and files; "material" where nothing is left of the name. */
function fileNameStem(name: string): string {
  const plain = anyAscii(name.normalize("NFC"))
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^-+|-+$/g, "")
    .slice(0, 60)
    .replace(/-+$/, "");
  return `${plain || "material"}-`;
}

/** Facts of where a material comes from; what is not named stays. */
export interface SourceChange {
  supplier?: string | null;
  product?: string | null;
  productCode?: string | null;
  page?: string | null;
  licence?: string | null;
}

const COLUMNS: Record<keyof SourceChange, string> = {
  supplier: "supplier",
  product: "product",
  productCode: "product_code",
  page: "page",
  licence: "licence",
};

/** @throws {Problem} where there is no such licence. @returns whether there is such a material */
export async function updateSource(db: Db, material: string, change: SourceChange): Promise<boolean> {
  const given = (Object.keys(COLUMNS) as (keyof SourceChange)[]).filter((key) => change[key] !== undefined);
  const set = given.map((key, i) => `${COLUMNS[key]} = $${i + 2}`);
  try {
    const done = await db.query(
      `UPDATE sources SET ${["id = id", ...set].join(", ")}
        WHERE id = (SELECT source FROM materials WHERE id = $1 AND deleted_at IS NULL)`,
      [material, ...given.map((key) => change[key])],
    );
    return done.rowCount === 1;
  } catch (error) {
    if (violates(error, "sources_licence_fkey")) throw badField("/licence/id", "There is no such licence.");
    throw error;
  }
}

/** Writes the roles that the program knows, so that maps can be of them. */
export async function keepRoles(db: Db, roles: readonly Role[]): Promise<void> {
  await db.query("INSERT INTO roles SELECT unnest($1::text[]) ON CONFLICT DO NOTHING", [roles]);
}
