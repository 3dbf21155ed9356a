import type { MaterialPlan } from "#core/convert/materialPlan";
import { holdsUpFrom, PURPOSE_DISTANCE_M, type Camera } from "#core/judge/holdsUp";

/** What is no coarser than the camera's own pixels from this distance on, nobody remarks on, in metres. */
const NEAR_M = PURPOSE_DISTANCE_M.near;

/**
 * Says from how far on what is delivered has a pixel for each of the camera's, where that is not as near as a camera comes.
 * @returns nothing where the size is unknown, or there is no image of the colour
 */
export function closeUpNotes(plan: MaterialPlan, camera: Camera): string[] {
  const { repeat } = plan.material;
  const colors = plan.files.filter(({ role }) => role === "base_color");
  if (!repeat || colors.length === 0) return [];
  const [{ width, height }] = colors;
  const density = Math.min((width * 1000) / repeat.width, (height * 1000) / repeat.height);
  const fromM = holdsUpFrom(camera, density);
  if (fromM <= NEAR_M) return [];
  return [
    `With ${width} × ${height} px it is sharp from ${Number(fromM.toPrecision(2))} m on in the project's pictures (${camera.widthPx} px at ${camera.angleDegrees}°); nearer it is coarser than they are.`,
  ];
}
