import { readFile } from "node:fs/promises";
import { fileURLToPath } from "node:url";

/** What the tests ask of a second library of OpenUSD, compiled to WebAssembly. */
export interface UsdLibrary {
  loadAsLayerFromBinary(bytes: Uint8Array, name: string): boolean;
  layerToString(): string;
  loadFromBinary(bytes: Uint8Array, name: string): boolean;
  setLoadTextureInNative(loads: boolean): void;
  getMaterial(at: number): Record<string, number | number[]>;
  getTexture(at: number): { textureImageId: number };
  getImage(at: number): { uri: string; usdColorSpace: string };
  error(): string;
}

type Init = (options: object) => Promise<{ TinyUSDZLoaderNative: new () => UsdLibrary }>;

/** A reader of one layer. The library is made for browsers: it looks for a window, and for no Node.js. */
export async function usdLibrary(): Promise<UsdLibrary> {
  const place = import.meta.resolve("tinyusdz/tinyusdz.js");
  const program = await readFile(fileURLToPath(place.replace(/\.js$/, ".wasm")));
  const global = globalThis as { window?: unknown };
  const kind = process as { type?: string };
  [global.window, kind.type] = [globalThis, "renderer"];
  try {
    const { default: init } = (await import("tinyusdz/tinyusdz.js" as string)) as { default: Init };
    const { TinyUSDZLoaderNative } = await init({
      instantiateWasm(imports: WebAssembly.Imports, isDone: (instance: WebAssembly.Instance) => void) {
        void WebAssembly.instantiate(program, imports).then(({ instance }) => isDone(instance));
        return {};
      },
    });
    return new TinyUSDZLoaderNative();
  } finally {
    delete global.window;
    delete kind.type;
  }
}
