// A thread that draws products: Node reads no TypeScript by itself, so they are loaded through tsx.
import { tsImport } from "tsx/esm/api";

export default (await tsImport("./draw.ts", import.meta.url)).default;
