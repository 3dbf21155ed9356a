declare module "*/parts/build.mjs" {
  export function ensureBuild(): void;
}
declare module "*/parts/bundle.mjs" {
  export function bundle(outdir: string): Promise<unknown>;
}
declare module "*/parts/dataFolder.mjs" {
  export function openDataFolder(path: string): {
    folder: string;
    secrets: Record<"database" | "cookies" | "demoPassword" | "demoToken", string>;
  };
}
declare module "*/parts/freePort.mjs" {
  export function freePort(): Promise<number>;
}
declare module "*/parts/postgres.mjs" {
  export function startPostgres(
    data: { folder: string; secrets: { database: string } },
    options?: { port?: number; isKept?: boolean },
  ): Promise<{ url: string; isAway(): boolean; kill(): Promise<void>; stop(): Promise<void> }>;
}
