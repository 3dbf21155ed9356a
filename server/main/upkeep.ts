import { resolve } from "node:path";
import { formatBytes } from "#core/length/formatBytes";
import { closeDatabase, database } from "#server/db/database";
import { fileStore } from "#server/store/store";
import { settings } from "#server/settings";
import { backUp, restore } from "#server/upkeep/backUp";
import { verifyFiles, type Verified } from "#server/upkeep/verifyFiles";

// npm run back-up -- FOLDER, npm run restore -- FOLDER, npm run verify-files; with DATABASE_URL, KALONOMY_DATA and KALONOMY_SECRET as the
// processes of the studio have them.
const [command, folder] = process.argv.slice(2);
try {
  if (command === "verify-files") tell(await verifyFiles(database(), fileStore()));
  else if (!folder) throw new Error(`Say the folder: npm run ${command} -- FOLDER`);
  else if (command === "back-up") {
    const { files, copied, missing } = await backUp(resolve(folder));
    for (const sha256 of missing) console.log(`missing: ${sha256}`);
    console.log(
      `Backed up to ${resolve(folder)}: the database and ${files - missing.length} of ${files} files, ${copied} of them new.`,
    );
    if (missing.length > 0) process.exitCode = 1;
  } else if (command === "restore")
    tell(await restore(resolve(folder), { db: database(), store: fileStore(), ...settings() }));
  else throw new Error(`There is no command ${command}.`);
} catch (error) {
  console.error((error as Error).message);
  process.exitCode = 1;
} finally {
  await closeDatabase();
}

function tell({ files, bytes, missing, damaged }: Verified): void {
  for (const sha256 of missing) console.log(`missing: ${sha256}`);
  for (const sha256 of damaged) console.log(`damaged: ${sha256}`);
  console.log(
    `${files} files, ${formatBytes(bytes)}: ${missing.length} missing, ${damaged.length} damaged, the rest as their hashes say.`,
  );
  if (missing.length + damaged.length > 0) process.exitCode = 1;
}
