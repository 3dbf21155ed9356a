import { fileURLToPath } from "node:url";
import { build } from "esbuild";

/** Writes the worker and what its processes for pixels run as JavaScript: compiling them at each start took longer than starting them. */
export function bundle(outdir) {
  return build({
    entryPoints: { worker: "server/main/worker.ts", child: "server/pool/child.ts" },
    outdir,
    bundle: true,
    splitting: true,
    packages: "external",
    platform: "node",
    format: "esm",
    target: "node20",
    sourcemap: true,
    logLevel: "warning",
  });
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await bundle("build/worker");
