import { readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import asc from "assemblyscript/asc";

const SOURCE = new URL("../../core/raster/simd/rows.as.ts", import.meta.url);
const MODULE = new URL("../../core/raster/simd/rowsModule.ts", import.meta.url);

/** The kernels of `rows.as.ts` compiled, as a file of TypeScript: nothing has to be compiled or found where they are used. */
async function compiled() {
  const source = readFileSync(SOURCE, "utf8");
  let wasm;
  const { error, stderr } = await asc.main(
    [
      ...["rows.ts", "--outFile", "rows.wasm", "--runtime", "stub", "--enable", "simd", "-O3", "--noAssert"],
      ...["--importMemory", "--initialMemory", "1"],
    ],
    {
      readFile: (name) => (name === "rows.ts" ? source : null),
      writeFile: (_, data) => void (wasm = data),
      listFiles: () => [],
    },
  );
  if (error) throw new Error(String(stderr));
  return `/** Made from rows.as.ts by \`npm run kernels\`. */\nexport const ROWS_MODULE =\n  "${Buffer.from(wasm).toString("base64")}";\n`;
}

/** Writes them; or with `--check` ends with 1 where those that are there are not what the source makes. */
if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const made = await compiled();
  if (!process.argv.includes("--check")) writeFileSync(MODULE, made);
  else if (readFileSync(MODULE, "utf8") !== made) {
    console.error("core/raster/simd/rowsModule.ts is not what rows.as.ts makes: run `npm run kernels`.");
    process.exit(1);
  }
}
