import { readFileSync } from "node:fs";
import { createRequire } from "node:module";
import { fileURLToPath } from "node:url";
import { compileFunction } from "node:vm";

/** What the tests ask of MaterialX's own library. */
interface Library {
  createDocument(): Document;
  readFromXmlString(document: Document, text: string): Promise<void>;
  EsslShaderGenerator: { create(): unknown };
  GenContext: new (generator: unknown) => unknown;
  loadStandardLibraries(context: unknown): Document;
}
interface Document {
  setDataLibrary(library: Document): void;
  validate(): boolean;
  getNodes(): Node[];
}
interface Node {
  getName(): string;
  getCategory(): string;
  getNodeDef(): { getName(): string } | null;
  getInput(name: string): Input | null;
}
interface Input {
  getValueString(): string;
  getNodeName(): string;
  getAttribute(name: string): string;
}

const require = createRequire(import.meta.url);

/** The reference library in WebAssembly, from its files: the package itself would fetch them from elsewhere. */
async function loadLibrary(): Promise<Library> {
  const main = fileURLToPath(
    new URL("../../node_modules/@needle-tools/materialx/bin/JsMaterialXGenShader.js", import.meta.url),
  );
  const folder = main.replace(/[^/]*$/, "");
  const source = readFileSync(main, "utf8").replace(/export default \w+;?\s*$/, "");
  const names = ["require", "__dirname", "__filename"];
  const make = compileFunction(`${source}\nreturn MaterialX;`, names)(require, folder, main) as (options: {
    locateFile(file: string): string;
  }) => Promise<Library>;
  return make({ locateFile: (file) => folder + (file.endsWith(".data") ? `${file}.txt` : file) });
}

let loaded: Promise<{ library: Library; standard: Document }> | undefined;

/** A document as the reference library reads it, with the standard nodes that it may use. */
export async function readDocument(text: string): Promise<Document> {
  loaded ??= loadLibrary().then((library) => ({
    library,
    standard: library.loadStandardLibraries(new library.GenContext(library.EsslShaderGenerator.create())),
  }));
  const { library, standard } = await loaded;
  const document = library.createDocument();
  document.setDataLibrary(standard);
  await library.readFromXmlString(document, text);
  return document;
}
