import { parseMaterialX, type MaterialXNode } from "#core/formats/materialXNodes";
import { usdTokens } from "#core/formats/usdTokens";
import { Refusal } from "#core/text/refusal";

/** Documents that are read as a whole. */
export type DocumentSource = "materialx" | "usd" | "gltf";

/**
 * The files that a scene names, as it names them.
 * @throws {Refusal} where it is no such document
 */
export function linksInDocument(source: DocumentSource, text: string): string[] {
  if (source === "materialx") return materialXLinks(parseMaterialX(text), "");
  if (source === "usd") {
    if (!text.startsWith("#usda")) throw new Refusal("It is no OpenUSD text: that begins with “#usda”.");
    return [...usdTokens(text)].flatMap((token) => {
      if (token.kind === "asset") return [token.text];
      return token.kind === "array" ? [...token.text.matchAll(/@([^@\n]+)@/g)].map(([, path]) => path) : [];
    });
  }
  return gltfLinks(text);
}

function materialXLinks({ attributes, children }: MaterialXNode, before: string): string[] {
  const prefix = `${before}${attributes.fileprefix ?? ""}`;
  const own =
    attributes.type === "filename" && attributes.value ? [`${prefix}${attributes.value.trim()}`] : [];
  return [...own, ...children.flatMap((child) => materialXLinks(child, prefix))];
}

function gltfLinks(text: string): string[] {
  let json: { images?: unknown; buffers?: unknown } | null;
  try {
    json = JSON.parse(text) as typeof json;
  } catch {
    throw new Refusal("It is no glTF: that is JSON, and this cannot be read as such.");
  }
  return [json?.images, json?.buffers].flatMap((list) =>
    Array.isArray(list)
      ? list.flatMap((one: { uri?: unknown } | null) =>
          typeof one?.uri === "string" && !one.uri.startsWith("data:") ? [decoded(one.uri)] : [],
        )
      : [],
  );
}

function decoded(uri: string): string {
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}
