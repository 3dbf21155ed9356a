import { findModules, SURE } from "#core/gauge/findModules";
import { lumaOf } from "#core/raster/plane";
import { makePattern } from "./makePatterns";

/** How often the modules of worn patterns are counted right, by kind. */
const COUNT = Number(process.env.BENCH_PATTERNS ?? 200);
const LARGEST = Number(process.env.BENCH_LARGEST ?? 4096);
const kinds = new Map<string, { right: number; all: number }>();
let [right, wrong, doubted] = [0, 0, 0];
for (let index = 0; index < COUNT; index++) {
  const pattern = await makePattern(index, LARGEST);
  const found = findModules([lumaOf(pattern.raster)]);
  const good = found.across === pattern.across && found.down === pattern.down;
  const kind = kinds.get(pattern.kind) ?? { right: 0, all: 0 };
  kinds.set(pattern.kind, { right: kind.right + (good ? 1 : 0), all: kind.all + 1 });
  if (good) right++;
  else {
    wrong++;
    if (found.sure < SURE) doubted++;
    console.log(
      `wrong: ${pattern.name}: found ${found.across ?? "–"} × ${found.down ?? "–"} ${found.bond}, sure ${found.sure.toFixed(2)}`,
    );
  }
}
for (const [kind, { right, all }] of kinds) console.log(`${kind}: ${right} of ${all}`);
console.log(
  `modules counted right: ${right} of ${COUNT} (${((100 * right) / COUNT).toFixed(1)} %); of ${wrong} wrong ones ${doubted} said that they are not sure`,
);
