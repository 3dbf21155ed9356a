import type { FileType } from "#core/supply/catalogue";
import type { Role } from "#core/roles/roles";

/** Bytes a pixel of a map, as such pictures usually come out: deep maps are only deep where the type holds 16 bits. */
const PER_PIXEL: Record<FileType, { color: number; normal: number; height: number; grey: number }> = {
  png: { color: 1.6, normal: 4.6, height: 1.7, grey: 0.6 },
  jpeg: { color: 0.45, normal: 0.45, height: 0.2, grey: 0.25 },
  tiff: { color: 1.9, normal: 5.2, height: 1.9, grey: 0.7 },
};

/** About how many bytes one variant has; the supplier's list tells it exactly once it is asked. */
export function orderBytes(pixels: number, roles: Role[], type: FileType): number {
  const each = PER_PIXEL[type];
  const bytes = roles.map((role) => {
    if (role === "geometry_normal") return each.normal;
    if (role === "height") return each.height;
    if (role === "base_color") return each.color;
    return role === "reference" ? PER_PIXEL.jpeg.color : each.grey;
  });
  return Math.round(bytes.reduce((sum, one) => sum + one, 0) * pixels * pixels);
}
