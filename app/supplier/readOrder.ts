import { FILE_TYPES, keyOf, type Line, type Order } from "#core/supply/catalogue";
import { ROLES } from "#core/roles/roles";
import { badField } from "#server/problem";

/** What somebody ticked on a line's page. @throws {Problem} where nothing is ticked */
export function readOrder(form: FormData, line: Pick<Line, "id" | "products">): Order {
  const ticked = new Set(form.getAll("variant").map(String));
  const products = line.products
    .flatMap(({ code, joints }) =>
      joints.length === 0
        ? [{ code, joint: null }]
        : joints.map((joint) => ({ code, joint: joint.id as string | null })),
    )
    .filter(({ code, joint }) => ticked.has(keyOf(code, joint)));
  if (products.length === 0) throw badField("/variant", "Tick one variant or more.");
  if (products.length > 500)
    throw badField("/variant", `${products.length} are ticked; 500 at most come in one package.`);
  const roles = new Set(form.getAll("role").map(String));
  return {
    line: line.id,
    products,
    pixels: Number(form.get("pixels") ?? 0) || 1024,
    roles: ROLES.filter((role) => roles.has(role)),
    type: FILE_TYPES.find((type) => type === form.get("type")) ?? "png",
  };
}
