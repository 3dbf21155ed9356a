import type { Family } from "#core/finish/family";
import { isOnePattern } from "#core/judge/pictureFigures";
import type { LibrarySearch } from "#core/library/librarySearch";
import { proposeSizes, type SizeProposal } from "#core/gauge/proposeSizes";
import { askForModules } from "#server/counting/commands";
import type { Db } from "#server/db/database";
import { measuredImage } from "#server/material/commands";
import { listFigures } from "#server/images/queries";
import { findMaterialStates, type MaterialRow } from "#server/material/queries";
import { listSamples } from "#server/material/samples";
import type { CountedModules } from "#server/pixels/countModules";
import { listFormats } from "#server/sizing/formats";
import { findKin } from "#server/sizing/kin";

/** A material on the sheet of those that have no size, with what is proposed. */
export interface Unsized {
  id: string;
  code: string;
  name: string;
  revision: number;
  family: Family | null;
  line: string | null;
  /** What is measured: the base color map, or the largest one. */
  image: { sha256: string; width: number; height: number };
  /** Null while the program counts; undefined where there is nothing to count. */
  modules: CountedModules | null | undefined;
  proposals: SizeProposal[];
  /** Others on the same sheet that show its pattern, in whatever colours. */
  alike: string[];
}

export interface SizeSheet {
  items: Unsized[];
  total: number;
}

/** Materials that a search finds and whose size is unknown, or assumed where that is asked for. */
export async function readSizeSheet(
  db: Db,
  search: LibrarySearch,
  slice: { offset: number; limit: number },
): Promise<SizeSheet> {
  const { items, total } = await listSamples(db, {
    ...search,
    sizeState: search.sizeState === "assumed" ? "assumed" : "unknown",
    ...slice,
  });
  const states = new Map(
    (
      await findMaterialStates(
        db,
        items.map(({ id }) => ({ id, revision: null })),
      )
    ).map((material) => [material.id, material]),
  );
  const materials = items.flatMap(({ id }) => states.get(id) ?? []).filter(({ maps }) => maps.length > 0);
  const pictures = materials.map((material) => [material.id, pictureOf(material).sha256] as const);
  const [formats, kinOf, figures] = await Promise.all([
    listFormats(db),
    findKin(db, materials),
    listFigures(
      db,
      pictures.map(([, sha256]) => sha256),
    ),
  ]);
  const alikeTo = (id: string) => {
    const of = (one: string) => figures.get(pictures.find(([other]) => other === one)![1]);
    const own = of(id);
    return pictures.flatMap(([other]) => {
      const their = of(other);
      return other !== id && own && their && isOnePattern(own, their) ? [other] : [];
    });
  };
  return {
    total,
    items: await Promise.all(
      materials.map(async (material) => {
        const modules = await askForModules(material);
        const proposals = proposalsFor(material, modules);
        return { ...shown(material), modules, proposals, alike: alikeTo(material.id) };
      }),
    ),
  };

  function proposalsFor(material: MaterialRow, modules: CountedModules | null | undefined): SizeProposal[] {
    const { name, line, family, source, maps } = material;
    const image = measuredImage(material);
    const file = maps.find(({ role }) => role === "base_color")?.fileName;
    return proposeSizes({
      ...{ image, family, formats, ...kinOf(material) },
      ...(modules?.count && hasModules(modules.count) && { count: modules.count }),
      words: [name, source.product, line, file?.replace(/\.\w+$/, "")].filter(
        (text) => text !== null && text !== undefined,
      ),
    });
  }
}

const hasModules = ({ across, down }: { across?: number; down?: number }) =>
  across !== undefined || down !== undefined;

/** So many are looked through for sizes that are sure. */
const MOST_SURE = 480;
/** So many at a time. */
const SLICE = 60;

export interface SureSizes {
  /** What to take, as the sheet would. */
  takes: { material: string; seen: number; method: SizeProposal["method"] }[];
  /** How many were looked through, of all that a search finds. */
  looked: number;
  total: number;
  /** Of which more will be known. */
  counting: number;
}

/** The sizes that nobody has to look at, of all that a search finds and not of one page alone. */
export async function findSureSizes(db: Db, search: LibrarySearch): Promise<SureSizes> {
  const found: SureSizes = { takes: [], looked: 0, total: 0, counting: 0 };
  for (let offset = 0; offset < MOST_SURE; offset += SLICE) {
    const { items, total } = await readSizeSheet(db, search, { offset, limit: SLICE });
    found.total = total;
    found.looked = Math.min(total, offset + SLICE);
    for (const { id, revision, modules, proposals } of items) {
      if (modules === null) found.counting++;
      const [first] = proposals;
      if (first?.isSure) found.takes.push({ material: id, seen: revision, method: first.method });
    }
    if (found.looked === total) break;
  }
  return found;
}

/** The map that is shown and measured. */
function pictureOf(material: MaterialRow) {
  const { width, height } = measuredImage(material);
  const base = material.maps.find(({ role }) => role === "base_color");
  const map = base ?? material.maps.find((one) => one.width === width && one.height === height)!;
  return { sha256: map.sha256, width, height };
}

function shown(material: MaterialRow) {
  const { id, code, name, revision, family, line } = material;
  return { id, code, name, revision, family, line, image: pictureOf(material) };
}
