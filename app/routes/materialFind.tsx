import { database } from "#server/db/database";
import { listSamples, type Sample } from "#server/material/samples";
import { look } from "../guard";
import type { Route } from "./+types/materialFind";

/** What a search within another screen shows of a material. */
export type FoundMaterial = Pick<
  Sample,
  "id" | "code" | "name" | "repeat" | "sizeState" | "preview" | "layout" | "color"
>;

const MOST = 12;

/** Materials by words, for choosing one within another screen. */
export const loader = look(async ({ request }: Route.LoaderArgs) => {
  const text = new URL(request.url).searchParams.get("text")?.slice(0, 200) ?? "";
  const { items } = await listSamples(database(), { q: text, kind: "material", limit: MOST });
  const found: FoundMaterial[] = items.map(
    ({ id, code, name, repeat, sizeState, preview, layout, color }) => ({
      id,
      code,
      name,
      repeat,
      sizeState,
      preview,
      layout,
      color,
    }),
  );
  return { found };
});
