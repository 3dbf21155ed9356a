/**
 * Gloss units at 60° (ISO 2813) that a word for a sheen stands for, as paint makers use them: the middles of what they call so. The words
 * in English, German, French, Italian and Spanish.
 */
const SHEENS: [string, number][] = [
  ["dead matt|ultra matt|ultra matte|stumpfmatt|tiefmatt|dead flat|mat profond", 2],
  ["matt|matte|flat|mat|opaco|mate", 4],
  ["soft sheen|eggshell|seidig|eggshell sheen|low sheen|low lustre", 12],
  ["satin|silk|seidenmatt|satine|satinato|satinado|silk matt|semi matt|semi matte|velvet", 25],
  ["semi gloss|seidenglanz|seidenglanzend|mid sheen|semi brillant|semilucido|semibrillo", 45],
  ["gloss|glossy|glanz|glanzend|brillant|lucido|brillante|full gloss", 70],
  ["high gloss|hochglanz|hochglanzend|haute brillance|mirror|altolucido|alto brillo", 85],
];

const BY_WORD = new Map(
  SHEENS.flatMap(([words, units]) => words.split("|").map((word): [string, number] => [word, units])),
);

/** Gloss units that a sheen's word stands for; undefined where nobody calls it so. */
export function glossOfSheen(word: string): number | undefined {
  const plain = word
    .normalize("NFD")
    .replaceAll(/\p{M}/gu, "")
    .toLowerCase()
    .replaceAll(/[^a-z]+/g, " ")
    .trim();
  return BY_WORD.get(plain) ?? BY_WORD.get(plain.replace(/\b(finish|paint|coat)\b/, "").trim());
}
