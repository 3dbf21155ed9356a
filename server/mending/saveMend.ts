import { stillOpen } from "#core/findings/stillOpen";
import { type MendKind, mendWords } from "#core/mend/recipe";
import type { Db } from "#server/db/database";
import { showAs } from "#server/images/showAs";
import type { MaterialRow } from "#server/material/queries";
import { type NewMap, type NewRevision, saveRevision } from "#server/material/writes";
import type { MendFigures, MendRow, MendProposal } from "#server/mending/queries";
import { endMend } from "#server/mending/writes";

export async function derivedMap(
  map: MaterialRow["maps"][number],
  sha256: string | undefined,
  kind: MendKind,
): Promise<NewMap> {
  const { role, channel, fileName, normalDirection, derived } = map;
  if (!sha256) return { role, sha256: map.sha256, channel, fileName, normalDirection, derived };
  await showAs(sha256, role, channel);
  return { role, sha256, channel, fileName, normalDirection, derived: [...derived, kind] };
}

/** What a mend comes to. */
export interface MendOutcome extends Pick<NewRevision, "maps" | "repeat" | "finish" | "findings"> {
  overlap: MendFigures["overlap"];
  modules?: MendFigures["modules"];
}

/** Saves what a mend came to as a new revision. */
export async function saveMend(
  db: Db,
  mend: MendRow,
  material: MaterialRow,
  { maps, repeat, finish, findings, figures }: MendProposal,
  person: string,
): Promise<void> {
  const { sizeState, gauge } = material;
  const { before, after } = figures;
  const isAsCounted =
    repeat === null ||
    (mend.recipe.kind !== "turn" &&
      repeat.width === material.repeat?.width &&
      repeat.height === material.repeat.height);
  const saved = await saveRevision(
    db,
    { id: material.id, seen: mend.fromRevision, person },
    {
      repeat,
      sizeState,
      // What was counted or measured on the image before is not on this one.
      gauge: isAsCounted ? gauge : { method: "size", ...repeat },
      finish,
      findings: stillOpen(findings, (after.broken ?? 0) < (before.broken ?? 0) ? ["mend"] : []),
      note: mendWords(mend.recipe),
      maps,
    },
  );
  await endMend(
    db,
    mend.id,
    saved === undefined
      ? { failure: "Somebody saved the material in the meantime. Mend it again." }
      : { toRevision: saved, figures },
  );
}
