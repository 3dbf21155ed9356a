import type { Family } from "#core/finish/family";
import type { LibrarySearch } from "#core/library/librarySearch";
import { proposeSizes, type SizeProposal } from "#core/gauge/proposeSizes";
import { askForModules } from "#server/counting/commands";
import type { Db } from "#server/db/database";
import { measuredImage } from "#server/material/commands";
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
  const [formats, kinOf] = await Promise.all([listFormats(db), findKin(db, materials)]);
  return {
    total,
    items: await Promise.all(
      materials.map(async (material) => {
        const modules = await askForModules(material);
        return { ...shown(material), modules, proposals: proposalsFor(material, modules) };
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

function shown(material: MaterialRow) {
  const { id, code, name, revision, family, line } = material;
  const { width, height } = measuredImage(material);
  const base = material.maps.find(({ role }) => role === "base_color");
  const map = base ?? material.maps.find((one) => one.width === width && one.height === height)!;
  return { id, code, name, revision, family, line, image: { sha256: map.sha256, width, height } };
}
