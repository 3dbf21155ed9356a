import type { ContainerKind } from "#core/formats/container";
import { GLB } from "#core/formats/glb";

/** The containers that a profile can deliver. */
const CONTAINERS = { glb: GLB } satisfies Record<string, ContainerKind>;

export type ContainerName = keyof typeof CONTAINERS;

export const CONTAINER_NAMES = Object.keys(CONTAINERS) as [ContainerName, ...ContainerName[]];

export const containerKind = (name: ContainerName): ContainerKind => CONTAINERS[name];
