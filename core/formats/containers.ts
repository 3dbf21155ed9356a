import type { ContainerKind } from "#core/formats/container";
import { GLB } from "#core/formats/glb";
import { IFC } from "#core/formats/ifc";
import { MATERIALX, MATERIALX_STANDARD } from "#core/formats/materialX";
import { MTL } from "#core/formats/mtl";
import { USDA } from "#core/formats/usda";
import { USDZ } from "#core/formats/usdz";

/** The material files that a profile can deliver. */
const CONTAINERS = {
  glb: GLB,
  materialx: MATERIALX,
  "materialx-standard": MATERIALX_STANDARD,
  usda: USDA,
  usdz: USDZ,
  mtl: MTL,
  ifc: IFC,
} satisfies Record<string, ContainerKind>;

export type ContainerName = keyof typeof CONTAINERS;

export const CONTAINER_NAMES = Object.keys(CONTAINERS) as [ContainerName, ...ContainerName[]];

export const containerKind = (name: ContainerName): ContainerKind => CONTAINERS[name];
