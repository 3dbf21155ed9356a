declare module "three/examples/jsm/loaders/usd/USDCParser.js" {
  export class USDCParser {
    /** By path: of a property after a dot. */
    parseData(buffer: ArrayBuffer): { specsByPath: Record<string, { fields: Record<string, unknown> }> };
  }
}
