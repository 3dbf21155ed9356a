import type { LibrarySearch } from "#core/library/librarySearch";

/** What belongs together in a search, and is left out together, in words that follow “without”. */
const PARTS: readonly { words: string; keys: readonly (keyof LibrarySearch)[] }[] = [
  { words: "the words", keys: ["q"] },
  { words: "the family", keys: ["family"] },
  { words: "the size", keys: ["sizeState"] },
  { words: "the kind", keys: ["kind", "layout"] },
  { words: "the supplier", keys: ["supplier"] },
  { words: "the line", keys: ["line"] },
  { words: "the tag", keys: ["tag"] },
  { words: "the colour", keys: ["color", "within"] },
  { words: "light reflectance", keys: ["reflectsFrom", "reflectsTo"] },
  { words: "the repeat", keys: ["repeatFrom", "repeatTo"] },
  { words: "the module", keys: ["moduleWidth", "moduleHeight"] },
  { words: "slip, frost and fire", keys: ["slip", "frost", "fire"] },
  { words: "the licence", keys: ["licence"] },
  { words: "what is missing", keys: ["without"] },
  { words: "the project", keys: ["project"] },
  { words: "the collection", keys: ["collection"] },
  { words: "the intake", keys: ["intake"] },
  { words: "who and when", keys: ["by", "days"] },
  { words: "what it looks like", keys: ["like", "likePicture"] },
];

/** A search with one part left out. */
export interface RelaxedSearch {
  words: string;
  search: LibrarySearch;
}

/** The search with each of its parts left out; none where it says one thing alone. */
export function relaxedSearches(search: LibrarySearch): RelaxedSearch[] {
  const said = PARTS.filter(({ keys }) => keys.some((key) => search[key] !== undefined));
  if (said.length < 2) return [];
  return said.map(({ words, keys }) => ({
    words,
    search: Object.fromEntries(
      Object.entries(search).filter(([key]) => !keys.includes(key as keyof LibrarySearch)),
    ),
  }));
}
