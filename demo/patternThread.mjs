// A thread that draws patterns: Node reads no TypeScript by itself, so they are loaded through tsx.
import { tsImport } from "tsx/esm/api";

export default (await tsImport("./patterns.ts", import.meta.url)).default;
