import { FAMILIES } from "#core/finish/family";
import { colorTerms } from "#core/library/colorTerms";
import { colorOfWord } from "#core/library/colorWords";
import { dominantColors } from "#core/library/dominantColors";
import type { LibrarySearch } from "#core/library/librarySearch";
import { seededRandom } from "#core/pattern/random";
import { linearToSrgb } from "#core/raster/srgb";
import { luminance } from "#core/shade/rgb";
import { openTestStudio, picture, takeIn } from "#server/testing/testStudio";
import { fillLibrary } from "./fillLibrary";

/**
 * How long a search of the library takes among many materials whose names say nothing of what they are, against reading a page of it
 * without one; and whether what somebody describes stands in the first row. Wants DATABASE_URL.
 */
const COUNTS = (process.env.BENCH_MATERIALS ?? "20000,100000").split(",").map(Number);
const SEED = Number(process.env.BENCH_SEED ?? 1);
const SEARCHES: LibrarySearch[] = [
  ...[
    "brown",
    "pale grey",
    "warm white brick",
    "dark oak",
    "slate",
    "salte",
    "terazzo",
    "red brick",
    "zzzzzz",
    "wood",
  ].map((q) => ({ q })),
  { family: "stone" },
  { color: "#7a5a3c" },
  { color: "#7a5a3c", within: 12, family: "timber" },
  { moduleWidth: 215, moduleHeight: 65 },
  { reflectsFrom: 40, reflectsTo: 45, without: "geometry_normal" },
  { sort: "used" },
  { sort: "color", q: "blue" },
];
const RUNS = 5;
/** Samples side by side on a screen of 1280 pixels. */
const ROW = 5;
const DESCRIBED = 50;

interface Look {
  n: number;
  family: string;
  module: [number, number];
  light: number;
  terms: Record<string, number>;
  colors: number[][];
  hex: string;
}

const studio = await openTestStudio();
try {
  const { database } = await import("#server/db/database");
  const { listSamples } = await import("#server/material/samples");
  const intake = await takeIn(studio, { "brick_basecolor.png": await picture("#aa5533", 64) });
  await studio.api("POST", `/intakes/${intake.id}/accept`, { all: true });
  const db = database();
  const median = async (act: () => Promise<unknown>) => {
    const times: number[] = [];
    for (let run = 0; run < RUNS; run++) {
      const began = performance.now();
      await act();
      times.push(performance.now() - began);
    }
    return times.sort((a, b) => a - b)[Math.floor(RUNS / 2)];
  };
  for (const count of COUNTS) {
    await fillLibrary(db, count);
    const looks = await paint(count);
    await db.query("VACUUM ANALYZE materials, material_colors");
    const bare = await median(() => listSamples(db, {}));
    console.log(`${count} materials: a page without a search ${bare.toFixed(0)} ms`);
    for (const search of SEARCHES) {
      const { total, instead } = await listSamples(db, search);
      const ms = await median(() => listSamples(db, search));
      const read = instead.map((one) => one.read.join(", ") || "nothing").join("; ");
      const said = Object.entries(search).map(([key, value]) => (key === "q" ? value : `${key} ${value}`));
      console.log(
        `  ${said.join(", ").padEnd(46)} ${ms.toFixed(0).padStart(4)} ms (300 allowed), ${(ms / bare).toFixed(1)} of that; ${total} found${read && `, by ${read}`}`,
      );
    }
    await describe(looks);
  }

  /** Each is of a family, has a module, and is of two colours of its own. */
  async function paint(count: number): Promise<Look[]> {
    const random = seededRandom(count + SEED);
    const one = <T>(list: readonly T[]) => list[Math.floor(random() * list.length)];
    const modules = Array.from({ length: 40 }, (): [number, number] => [
      Math.round(60 + random() * 900),
      Math.round(40 + random() * 400),
    ]);
    const looks = Array.from({ length: count }, (_, n): Look => {
      const color = () => {
        const grey = 0.02 + 0.8 * random() ** 2;
        return [0, 1, 2].map(() => Math.min(1, grey * (0.5 + random()))) as [number, number, number];
      };
      const [main, other] = [color(), color()];
      const dominant = dominantColors([main, main, main, other]);
      const hex = main.map((value) =>
        Math.round(255 * linearToSrgb(value))
          .toString(16)
          .padStart(2, "0"),
      );
      return {
        ...{ n, family: one(FAMILIES), module: one(modules), hex: `#${hex.join("")}` },
        light: 100 * (0.75 * luminance(main) + 0.25 * luminance(other)),
        terms: colorTerms(dominant),
        colors: dominant.map(({ lab, share }) => [...lab, share]),
      };
    });
    await db.query("DELETE FROM material_colors");
    for (let at = 0; at < count; at += 5000)
      await db.query(
        `WITH numbered AS (SELECT id, row_number() OVER (ORDER BY code) - 1 AS n FROM materials),
           looks AS (SELECT id, look.* FROM numbered JOIN jsonb_to_recordset($1) AS
             look(n int, family text, module jsonb, light real, terms jsonb, colors jsonb) USING (n)),
           colored AS (INSERT INTO material_colors
             SELECT id, cube(ARRAY[(c->>0)::float8, (c->>1)::float8, (c->>2)::float8]), (c->>3)::real
               FROM looks, jsonb_array_elements(colors) AS c)
         UPDATE materials m SET family = looks.family, family_from = 'person', light_reflectance = light, color_terms = terms,
             module_width_mm = (module->>0)::real, module_height_mm = (module->>1)::real
           FROM looks WHERE looks.id = m.id`,
        [JSON.stringify(looks.slice(at, at + 5000))],
      );
    return looks;
  }

  /** Somebody says of one what they remember: its family and colour, pale or dark where it mostly is, and its module, its lightness, or its colour by sight. */
  async function describe(looks: readonly Look[]): Promise<void> {
    const random = seededRandom(SEED + 99);
    const ids = await db.query<{ id: string }>("SELECT id FROM materials ORDER BY code");
    let [first, shown] = [0, 0];
    for (let n = 0; n < DESCRIBED; n++) {
      const at = Math.floor(random() * looks.length);
      const { family, module, light, terms, hex } = looks[at];
      const tone = ["pale", "dark"].filter((shade) => terms[shade] > 0.5);
      const color = [...tone, ...Object.keys(terms).filter(colorOfWord).slice(0, 2)].join(" ");
      const near = (value: number, by: number) => value + by * (2 * random() - 1);
      // As a hand picks it: a few steps off.
      const picked = `#${[1, 3, 5]
        .map((c) =>
          Math.round(Math.max(0, Math.min(255, near(Number.parseInt(hex.slice(c, c + 2), 16), 4))))
            .toString(16)
            .padStart(2, "0"),
        )
        .join("")}`;
      const search = [
        { q: `${color} ${family}`, moduleWidth: near(module[0], 1), moduleHeight: near(module[1], 0.5) },
        { family, color: picked },
        {
          q: `${family} ${color}`,
          moduleWidth: near(module[0], 1),
          reflectsFrom: light - 1,
          reflectsTo: light + 1,
        },
      ][n % 3] as LibrarySearch;
      const { items } = await listSamples(db, search);
      const place = items.findIndex(({ id }) => id === ids.rows[at].id);
      if (place >= 0 && place < ROW) first++;
      if (place >= 0) shown++;
    }
    console.log(
      `  of ${DESCRIBED} described, ${first} stand in the first row (45 wanted), ${shown} on the first page`,
    );
  }
} finally {
  await studio.close();
}
