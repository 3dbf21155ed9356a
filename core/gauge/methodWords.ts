/** How a size was found, in words that follow “by”. */
const METHOD_WORDS: Record<string, string> = {
  size: "its overall size",
  density: "its density",
  "same-as": "another material",
  modules: "counted modules",
  length: "a measured line",
  lines: "measured lines",
  rectangle: "a measured rectangle",
  fitted: "fitting it to a surface",
  flattened: "flattening a photograph",
  model: "what a model told",
};

/** @param gauge what is kept of a gauging; null where the size came with the file */
export const methodWords = (gauge: { method?: unknown } | null): string =>
  METHOD_WORDS[String(gauge?.method)] ?? "its file";
