import { ensureBuild } from "./build.mjs";
import { openDataFolder } from "./dataFolder.mjs";
import { portIsTaken } from "./freePort.mjs";
import { ensurePackages } from "./packages.mjs";
import { startPostgres } from "./postgres.mjs";
import { main, say, Stop } from "./say.mjs";
import { loadDemo, startStudio, studioEnvironment } from "./studio.mjs";

await main(async () => {
  const port = Number(process.env.PORT ?? 4600);
  if (await portIsTaken(port))
    throw new Stop(`Port ${port} is in use. Choose another one: PORT=${port + 1} bin/demo`);
  ensurePackages(process.env.DATABASE_URL ? [] : ["postgresql"]);
  const data = openDataFolder(process.env.KALONOMY_DATA ?? ".data");

  let told;
  let stopping = false;
  const asked = new Promise((resolve) => (told = () => resolve((stopping = true))));
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, told);

  const database = process.env.DATABASE_URL
    ? { url: process.env.DATABASE_URL, stop: async () => {}, isAway: () => false }
    : await startPostgres(data, { isKept: true });
  try {
    ensureBuild();
    const env = studioEnvironment(data, database.url, port);
    loadDemo(env);
    // A signal that came during the steps before is heard only now.
    await new Promise((resolve) => setImmediate(resolve));
    if (stopping) return;
    const studio = await startStudio(env, { isDatabaseAway: database.isAway });
    console.log(`
  Kalonomy is ready:  ${studio.address}

  Sign in as          ines@tern-gable.example   (keeps the library)
               or     joost@tern-gable.example  (makes materials)
               or     guest@tern-gable.example  (looks)
  with the password   ${data.secrets.demoPassword}

  API token           ${data.secrets.demoToken}

  Ctrl-C stops it.
`);
    await Promise.race([asked, studio.ended]);
    say("Stopping");
    await studio.stop();
  } finally {
    await database.stop();
  }
  process.exit();
});
