import { DEEPEST_PRIM, newPrim, type UsdLayer, type UsdPrim } from "#core/formats/usdLayer";
import { usdTokens } from "#core/formats/usdTokens";

/** Reads the tree of prims of an OpenUSD layer in text form, in one pass; what lies deeper than anything real does is left out. */
export function readUsdText(text: string): UsdLayer {
  const root = newPrim("", "");
  const around: UsdPrim[] = [root];
  let tooDeep = 0;
  /** The prim whose body comes next. */
  let coming: UsdPrim | undefined;
  let word = "";
  let [inMetadata, inValue] = [0, false];
  let value: string[] | undefined;
  let header: string[] | undefined;
  for (const token of usdTokens(text)) {
    const now = around.at(-1)!;
    const mark = token.kind === "mark" ? token.text : undefined;
    if (value) {
      // A value in round brackets: its numbers.
      if (mark === ")") {
        now.values.set(word, { kind: "word", text: value.join(",") });
        value = undefined;
      } else if (mark === undefined && token.kind !== "array" && value.length < 16) value.push(token.text);
      continue;
    }
    if (inMetadata > 0) {
      if (mark === "(") inMetadata++;
      else if (mark === ")") inMetadata--;
      continue;
    }
    if (inValue) {
      inValue = false;
      if (mark === "(") {
        value = [];
        continue;
      }
      if (mark === undefined) {
        now.values.set(word, token);
        continue;
      }
    }
    if (mark === "(") inMetadata++;
    else if (mark === "=") inValue = true;
    else if (mark === "{") {
      if (around.length > DEEPEST_PRIM || tooDeep > 0) tooDeep++;
      else around.push(coming ?? newPrim("", ""));
      coming = undefined;
    } else if (mark === "}") {
      if (tooDeep > 0) tooDeep--;
      else if (around.length > 1) around.pop();
    } else if (token.kind === "word") {
      if (/^(def|over|class)$/.test(token.text)) header = [];
      else header?.push(token.text);
      word = token.text;
    } else if (token.kind === "string" && header) {
      coming = newPrim(header[0] ?? "", token.text);
      now.children.push(coming);
      header = undefined;
    }
  }
  // What the layer says of itself comes first.
  const said = /\bmetersPerUnit\s*=\s*([\d.eE+-]+)/.exec(text.slice(0, 20_000))?.[1];
  return { prims: root.children, metersPerUnit: said === undefined ? undefined : Number(said) };
}
