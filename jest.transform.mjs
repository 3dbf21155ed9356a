import swc from "@swc/jest";

/**
 * Jest runs a file in a context of its own, in which each look at a global name is slow: work on pixels, full of `Math`, takes
 * many times as long as it does in the application. Held in the module's own scope, the names cost nothing.
 */
const HELD = [
  "Math Infinity NaN undefined Number String JSON Object Array Map Set DataView",
  "Float32Array Float64Array Uint8Array Uint8ClampedArray Uint16Array Uint32Array Int8Array Int16Array Int32Array",
].flatMap((names) => names.split(" "));
const PREFIX = `const ${HELD.map((name) => `${name} = globalThis.${name}`).join(", ")};`;

export default {
  createTransformer(options) {
    const inner = swc.createTransformer(options);
    // On the first line, so that the lines of errors stay true.
    const held = (result) => ({ ...result, code: PREFIX + result.code });
    return {
      ...inner,
      canInstrument: false,
      getCacheKey: (source, path, transformOptions) =>
        `${inner.getCacheKey(source, path, transformOptions)}-${PREFIX}`,
      process: (...given) => held(inner.process(...given)),
      processAsync: async (...given) => held(await inner.processAsync(...given)),
    };
  },
};
