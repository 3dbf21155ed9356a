import type { PlannedCandidate } from "#core/maps/candidate";
import type { Finding } from "#core/maps/finding";
import { database } from "#server/db/database";
import { findLikeImages, insertLikenesses, materialsOfImages, unreadImages } from "#server/db/likenesses";
import { fileStore } from "#server/files/store";
import { addJob } from "#server/jobs/queue";
import { pool } from "#server/pool/pool";
import { smallName } from "#server/intake/studyFile";

/** Looks for the same picture in the library, however it was encoded, tinted, turned, mirrored or shifted, and says what was found. */
export async function judgeLikeness(candidate: PlannedCandidate): Promise<Finding[]> {
  const base = candidate.maps.find(({ role, channel }) => role === "base_color" && channel === "color");
  if (!base) return [];
  const db = database();
  const same = await materialsOfImages(db, [base.sha256]);
  for (const sha256 of await unreadImages(db))
    await addJob(db, "heal-previews", { sha256, channel: "color" });
  const others = await findLikeImages(db, base.sha256);
  const store = fileStore();
  const found = await pool.compare({
    small: store.derivedPath(smallName(base.sha256)),
    others: others.map((sha256) => ({ sha256, small: store.derivedPath(smallName(sha256)) })),
  });
  await insertLikenesses(db, base.sha256, found);
  const findings = same.map(({ name }): Finding => ({
    level: "look",
    code: "same-file",
    message: `The same picture, file for file, is in the library as “${name}”.`,
    file: base.file,
  }));
  const materials = await materialsOfImages(
    db,
    found.map(({ sha256 }) => sha256),
  );
  for (const { sha256, name, decision } of materials) {
    const like = found.find((one) => one.sha256 === sha256)!.likeness;
    if (decision === "different") continue;
    const how = [
      like.mirrored && "mirrored",
      like.turns > 0 && `turned by ${like.turns * 90}°`,
      Math.max(Math.abs(like.shiftX), Math.abs(like.shiftY)) > 0.012 && "shifted",
      Math.max(...like.tint.map(Math.abs)) > 0.02 && "tinted",
    ].filter(Boolean);
    findings.push({
      level: "look",
      code: "same-picture",
      message: `It is much like “${name}” of the library (${Math.round(like.alike * 100)} %${how.length > 0 ? `, ${how.join(", ")}` : ""}): the same picture, or a variant of it.`,
      file: base.file,
    });
  }
  return findings;
}
