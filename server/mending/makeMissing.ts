import { Readable } from "node:stream";
import { heightAmplitude, type Finish } from "#core/finish/finish";
import type { Guess } from "#core/findings/aboutOrigins";
import { type Finding, finding } from "#core/findings/finding";
import { stillOpen } from "#core/findings/stillOpen";
import { isComplete } from "#core/candidates/isComplete";
import { ROLE_NAMES, type Role } from "#core/roles/roles";
import { MAKINGS, possibleMakings, type MakingRecipe } from "#core/mend/recipe";
import { database } from "#server/db/database";
import { findImage } from "#server/images/queries";
import { insertFile } from "#server/store/sql";
import type { MaterialRow } from "#server/material/queries";
import type { NewMap } from "#server/material/writes";
import { fileStore } from "#server/store/store";
import { pool } from "#server/pool/pool";
import { studyFile } from "#server/images/studyFile";
import type { MendOutcome } from "#server/mending/saveMend";
import { showAs } from "#server/images/showAs";
import { Problem } from "#server/problem";

const LIMITS = { seconds: 600, mebibytes: 8192 };
/** Stands in for the width of a repeat that nobody knows, as it does where an amplitude is assumed. */
const ASSUMED_WIDTH_MM = 500;

/** @throws {Problem} where the map is there already, or there is nothing to make it from */
export function checkMaking(recipe: MakingRecipe, material: MaterialRow): void {
  const { makes, from } = MAKINGS[recipe.kind];
  const roles = material.maps.map(({ role }) => role);
  if (possibleMakings(roles).some(({ kind }) => kind === recipe.kind)) return;
  const source = from.map((role) => ROLE_NAMES[role]).join(" or ");
  throw new Problem(
    422,
    "Nothing to make",
    (from as readonly Role[]).some((role) => roles.includes(role))
      ? `This material has a map that says its ${ROLE_NAMES[makes]} already.`
      : `A ${ROLE_NAMES[makes]} map is made from ${source}; this material has none.`,
  );
}

/** Makes a missing map from another, and says so with it. */
export async function makeMissing(recipe: MakingRecipe, material: MaterialRow): Promise<MendOutcome> {
  const { makes, from } = MAKINGS[recipe.kind];
  const source = material.maps.find(({ role }) => (from as readonly Role[]).includes(role))!;
  const image = (await findImage(database(), source.sha256))!;
  const known = material.repeat;
  const repeat = known ?? {
    width: ASSUMED_WIDTH_MM,
    height: (ASSUMED_WIDTH_MM * image.height) / image.width,
  };
  const made = await fileStore().withLocal([source.sha256], (pathOf) =>
    pool.makeMap({
      recipe,
      source: {
        path: pathOf(source.sha256),
        format: image.format,
        channel: source.channel,
        normalDirection: source.normalDirection ?? "+Y",
      },
      repeat,
      amplitudeMm: heightAmplitude(material.finish, known).mm,
    }),
  );
  const kept = await fileStore().keep(Readable.from([Buffer.from(made.file)]));
  await insertFile(database(), { ...kept, mediaType: "image/png" });
  await studyFile(kept.sha256, LIMITS);
  await showAs(kept.sha256, makes, "color");
  const map: NewMap = {
    role: makes,
    sha256: kept.sha256,
    channel: "color",
    fileName: `${recipe.kind}.png`,
    normalDirection: makes === "geometry_normal" ? "+Y" : null,
    derived: [recipe.kind],
  };
  const maps = [...material.maps, map];
  return {
    maps,
    repeat: known,
    finish: { ...material.finish, ...heightFinish(recipe, made.height, known !== null) },
    findings: [
      ...stillOpen(material.findings, isComplete(maps) ? ["complete-set"] : []),
      derivedFinding(recipe, material),
    ],
    overlap: { across: 0, down: 0 },
  };
}

/** What a made height is in millimetres; without a size only an estimate says so, because somebody typed it. */
function heightFinish(
  recipe: MakingRecipe,
  height: { amplitudeMm: number; middle: number } | undefined,
  sized: boolean,
): Partial<Finish> {
  if (!height) return {};
  const amplitude = Math.min(1000, Math.round(height.amplitudeMm * 100) / 100);
  return {
    heightMiddle: Math.round(height.middle * 1000) / 1000,
    ...((sized || recipe.kind === "height-from-color") && { heightAmplitudeMm: amplitude }),
  };
}

function derivedFinding(recipe: MakingRecipe, { repeat, finish }: MaterialRow): Finding {
  const { estimate, from } = MAKINGS[recipe.kind];
  const guesses: Guess[] = [];
  if (estimate) guesses.push("estimate");
  else if (!repeat) guesses.push("slopes-without-size");
  if ((from as readonly Role[]).includes("height") && finish.heightAmplitudeMm === undefined)
    guesses.push("amplitude-assumed");
  return finding("derived", { recipe, guesses });
}
