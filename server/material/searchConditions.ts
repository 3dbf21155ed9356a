import { colorOfWord } from "#core/library/colorWords";
import type { Absence, LibrarySearch, LicenceState } from "#core/library/librarySearch";
import { labReach } from "#core/raster/ciede2000";
import { linearToLab } from "#core/raster/lab";
import { hexToLinear } from "#core/raster/srgb";
import { FIRE_CLASSES, FROST_CLASSES, SLIP_CLASSES } from "#core/supply/catalogue";
import { collectionMaterialIds } from "#server/material/members";
import { hasText, patternOf, type Sought } from "#server/material/searchWords";

export interface SearchConditions {
  /** Tables that are made first, once. */
  tables: string[];
  /** What is joined to a material `m`. */
  joins: string[];
  /** All of which hold for it. */
  where: string[];
  /** Each is the more the better it fits. */
  fits: string[];
  /** Each is the less the nearer it is. */
  nearest: string[];
}

/** As far as two colours may be apart that somebody calls nearly the same, ΔE2000. */
const NEAR_COLOR = 8;
/** What covers less is no colour that a surface is looked for by. */
const LEAST_SHARE = 0.12;
/** Whoever picks a colour means what a surface mostly is: what covers less than half counts as farther, up to so much, ΔE2000. */
const PER_REST = 9;
/** Whoever says two colours says first what there is most of: a colour counts so much less than the one before it. */
const LATER_COLOR = 0.5;
/** What a surface is called besides, which was not said, counts against it, as much as this. */
const PER_UNSAID = 1;
/** Of pictures that are alike, so many are looked at. */
const MOST_ALIKE = 300;
/** What a module that is e times as wide counts for, in the units of figures. */
const PER_OTHER_SIZE = 12;
/** Modules are the same that differ by no more, as a share. */
const SAME_MODULE = 0.015;

/** Writes a search as conditions on a material `m`. @param value keeps a parameter, and says what it is called */
export function searchConditions(
  search: LibrarySearch & { withinCollection?: string },
  sought: readonly Sought[],
  value: (v: unknown) => string,
): SearchConditions {
  const where = ["m.deleted_at IS NULL"];
  // A project keeps what it took until it moves on.
  if (!search.project) where.push("m.merged_into IS NULL");
  const [tables, joins]: [string[], string[]] = [[], []];
  const [fits, nearest]: [string[], string[]] = [[], []];
  if (search.sort === "used")
    joins.push(
      "LEFT JOIN (SELECT material, count(*) AS uses FROM project_revisions GROUP BY material) used ON used.material = m.id",
    );
  const given = <K extends keyof typeof search>(
    key: K,
    sql: (wanted: NonNullable<(typeof search)[K]>) => string,
  ) => {
    const wanted = search[key];
    if (wanted !== undefined && wanted !== null) where.push(sql(wanted));
  };
  // Environments are no samples.
  where.push(search.kind ? `m.kind = ${value(search.kind)}` : "m.kind <> 'environment'");
  const named: string[] = [];
  for (const { texts, terms, families } of sought) {
    const ways = [
      ...texts.map((text) => hasText(text, value(patternOf(text)))),
      ...families.map((family) => `m.family = ${value(family)}`),
    ];
    const colored = terms.map((term) => value(term));
    where.push(`(${[...ways, ...colored.map((term) => `m.color_terms ? ${term}::text`)].join(" OR ")})`);
    if (colored.length > 0) {
      const share = `GREATEST(${colored.map((term) => `(m.color_terms->>${term}::text)::real`).join(", ")}, 0)`;
      // A shade goes with a colour, and is none.
      const isColor = terms.every(colorOfWord);
      fits.push(`${isColor ? LATER_COLOR ** named.length : 1} * ${share}`);
      if (isColor) named.push(share);
    }
  }
  if (named.length > 0)
    fits.push(`${PER_UNSAID} * (${named.join(" + ")} - COALESCE(m.color_words_share, 0))`);
  given("family", (family) => `m.family = ${value(family)}`);
  given("layout", (layout) => `m.layout = ${value(layout)}`);
  given("sizeState", (state) => `m.size_state = ${value(state)} AND m.layout <> 'plain'`);
  given(
    "supplier",
    (supplier) =>
      `m.source IN (SELECT s.id FROM sources s JOIN suppliers u ON u.id = s.supplier WHERE lower(u.name) = lower(${value(supplier)}))`,
  );
  given("line", (line) => `m.line IN (SELECT id FROM lines WHERE lower(name) = lower(${value(line)}))`);
  given("tag", (tag) => `m.tags @> ARRAY[${value(tag)}]::text[]`);
  given("color", (hex) => {
    const sought = linearToLab(...hexToLinear(hex));
    const within = search.within ?? NEAR_COLOR;
    const { light, plane } = labReach(sought, within);
    const box = [-1, 1].map((sign) =>
      value(sought.map((middle, axis) => middle + sign * (axis === 0 ? light : plane))),
    );
    // The index knows what is near in L*a*b*, of which the eye's own measure leaves some out. Each is measured once, and where a
    // family is sought, of that family only: measuring is what takes time.
    const ofFamily = search.family
      ? `AND EXISTS (SELECT FROM materials n WHERE n.id = c.material AND n.family = ${value(search.family)})`
      : "";
    tables.push(
      `in_reach AS MATERIALIZED (SELECT c.material, c.share, c.lab FROM material_colors c
         WHERE c.lab <@ cube(${box[0]}::float8[], ${box[1]}::float8[]) AND c.share >= ${LEAST_SHARE} ${ofFamily})`,
      `near_color AS MATERIALIZED (SELECT material, min(far + ${PER_REST} * greatest(0, 1 - 2 * share)) AS far
         FROM (SELECT material, share, ciede2000(lab, cube(${value([...sought])}::float8[])) AS far FROM in_reach) each_color
        WHERE far <= ${within} GROUP BY material)`,
    );
    joins.push("JOIN near_color ON near_color.material = m.id");
    nearest.push("near_color.far");
    return "true";
  });
  given("reflectsFrom", (from) => `m.light_reflectance >= ${value(from)}`);
  given("reflectsTo", (to) => `m.light_reflectance <= ${value(to)}`);
  given("repeatFrom", (from) => `greatest(m.repeat_width_mm, m.repeat_height_mm) >= ${value(from)}`);
  given("repeatTo", (to) => `greatest(m.repeat_width_mm, m.repeat_height_mm) <= ${value(to)}`);
  for (const side of ["width", "height"] as const)
    given(side === "width" ? "moduleWidth" : "moduleHeight", (mm) => {
      const [least, most] = [1 - SAME_MODULE, 1 + SAME_MODULE].map((share) => value(mm * share));
      return `m.module_${side}_mm BETWEEN ${least}::real AND ${most}::real`;
    });
  const property = (name: string, classes: readonly string[]) =>
    `m.source IN (SELECT id FROM sources WHERE sheet->'line'->'properties'->>'${name}' = ANY (${value(classes)}::text[]))`;
  given("slip", (least) => property("slip", SLIP_CLASSES.slice(SLIP_CLASSES.indexOf(least))));
  given("frost", (least) => property("frost", FROST_CLASSES.slice(FROST_CLASSES.indexOf(least))));
  // The best comes first.
  given("fire", (least) => property("fire", FIRE_CLASSES.slice(0, FIRE_CLASSES.indexOf(least) + 1)));
  given(
    "licence",
    (state) =>
      `m.source IN (SELECT s.id FROM sources s JOIN licences c ON c.id = s.licence WHERE ${LICENCE[state]})`,
  );
  given("without", (what) => absenceOf(what, value));
  given(
    "collection",
    (id) => `m.id IN (SELECT material FROM collection_materials WHERE collection = ${value(id)})`,
  );
  given("withinCollection", (id) => `m.id IN (${collectionMaterialIds(value(id))})`);
  given("project", (id) => `m.id IN (SELECT material FROM project_revisions WHERE project = ${value(id)})`);
  given("intake", (id) => `m.source IN (SELECT id FROM sources WHERE intake = ${value(id)})`);
  given("by", (person) => `m.created_by = ${value(person)}`);
  given("days", (days) => `m.created_at > now() - make_interval(days => ${value(days)})`);
  /** @param far how much farther than by its picture a material is */
  const alikeTo = (own: string, far = "0") => {
    nearest.push(`(${pictureOf("m.id")} <-> ${own}) + ${far}`);
    where.push(`${own} IS NOT NULL`);
    return `m.id IN (SELECT n.id FROM (SELECT f.sha256 FROM picture_figures f ORDER BY f.figures <-> ${own} LIMIT ${MOST_ALIKE}) near
        JOIN maps a USING (sha256) JOIN materials n ON n.id = a.material AND n.revision = a.revision
       WHERE a.role = 'base_color')`;
  };
  given("like", (id) => {
    const own = value(id);
    return alikeTo(
      pictureOf(own),
      // Bricks of another format are less alike than their pictures say, which know no millimetres.
      `COALESCE((SELECT ${PER_OTHER_SIZE} * abs(ln(NULLIF(m.module_width_mm, 0) / NULLIF(o.module_width_mm, 0))) FROM materials o WHERE o.id = ${own}), 0)`,
    );
  });
  given("likePicture", (id) =>
    alikeTo(
      `(SELECT f.figures FROM sought_pictures o JOIN picture_figures f USING (sha256) WHERE o.id = ${value(id)})`,
    ),
  );
  return { tables, joins, where, fits, nearest };
}

/** What is known of the picture of a material: a place among all pictures. */
const pictureOf = (id: string) =>
  `(SELECT f.figures FROM materials o JOIN maps a ON a.material = o.id AND a.revision = o.revision AND a.role = 'base_color'
     JOIN picture_figures f USING (sha256) WHERE o.id = ${id})`;

const LICENCE: Record<LicenceState, string> = {
  ended: "c.ends_on < CURRENT_DATE",
  "one-project": "c.project IS NOT NULL",
  bought: "c.price = 'bought'",
  free: "c.price = 'free'",
};

function absenceOf(what: Absence, value: (v: unknown) => string): string {
  switch (what) {
    case "family":
      return "m.family IS NULL";
    case "supplier":
    case "licence":
      return `m.source IN (SELECT id FROM sources WHERE ${what} IS NULL)`;
    default:
      // What has no pictures at all is without none.
      return `m.layout <> 'plain' AND NOT EXISTS (SELECT FROM maps a
        WHERE a.material = m.id AND a.revision = m.revision AND a.role = ${value(what)})`;
  }
}
