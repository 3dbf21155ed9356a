/** What a text that came with a download says may be done with it; somebody has to confirm it. */
export interface LicenceProposal {
  name: string;
  price: "free" | "bought" | "unknown";
  /** For one project only, or for all; null where the text does not say. */
  projects: "one" | "all" | null;
  /** Who has to be named, as the text says it. */
  credit: string | null;
  /** Whether it forbids paid work. */
  nonCommercial: boolean;
  /** The sentence that says most, to show beside it. */
  sentence: string;
}

const KNOWN: [pattern: RegExp, name: string, price: LicenceProposal["price"]][] = [
  [/\bcc0\b|creative\s+commons\s+zero|publicdomain\/zero/i, "CC0 1.0", "free"],
  [/\bcc[-\s]by[-\s]nc[-\s]nd\b/i, "CC BY-NC-ND", "free"],
  [/\bcc[-\s]by[-\s]nc[-\s]sa\b/i, "CC BY-NC-SA", "free"],
  [/\bcc[-\s]by[-\s]nc\b|attribution-noncommercial/i, "CC BY-NC", "free"],
  [/\bcc[-\s]by[-\s]sa\b|attribution-sharealike/i, "CC BY-SA", "free"],
  [/\bcc[-\s]by[-\s]nd\b|attribution-noderiv/i, "CC BY-ND", "free"],
  [/\bcc[-\s]by\b|creative\s+commons\s+attribution/i, "CC BY", "free"],
  [
    /public\s+domain|gemeinfrei|domaine\s+public|dominio\s+p[uú]b+lico|pubblico\s+dominio/i,
    "Public domain",
    "free",
  ],
  [/gnu\s+general\s+public|\bgpl/i, "GNU GPL", "free"],
  [/royalty[-\s]free|lizenzfrei|libre\s+de\s+droits|libre\s+de\s+regal[ií]as/i, "Royalty-free", "bought"],
  [
    /single[-\s](project|use|user)|one\s+project|f[uü]r\s+ein\s+projekt|un\s+seul\s+projet/i,
    "For one project",
    "bought",
  ],
  [
    /end\s+user\s+licen[cs]e|\beula\b|licen[cs]e\s+agreement|nutzungsbedingungen|lizenzvertrag/i,
    "Licence agreement",
    "unknown",
  ],
  [/free\s+(for|to)\s+(use|commercial)|kostenlos|gratuit|gratis\b/i, "Free to use", "free"],
];

/** Whether a file may hold a licence, by its name. */
export function isLicenceName(file: string): boolean {
  return /(licen[cs]e|lizenz|copying|copyright|eula|terms|read[\s_-]?me|liesmich|lisez|leggimi|leeme|credits?|attribution)/i.test(
    file.replace(/^.*[\\/]/, ""),
  );
}

/** Reads the marks of usual licences from a text; undefined where it says nothing of one. */
export function readLicence(text: string): LicenceProposal | undefined {
  const plain = text.replaceAll(/<[^>]{1,400}>/g, " ").replaceAll(/\s+/g, " ");
  const known = KNOWN.find(([pattern]) => pattern.test(plain));
  if (!known) return undefined;
  const [pattern, name, price] = known;
  const nonCommercial =
    /non[-\s]?commercial|\bNC\b|personal\s+use\s+only|nicht\s+kommerziell|privat(er|en)?\s+gebrauch|usage\s+personnel/i.test(
      plain,
    );
  const one =
    /single[-\s]project|one\s+project|f[uü]r\s+ein\s+projekt|un\s+seul\s+projet|per\s+project/i.test(plain);
  const all = /any\s+(number\s+of\s+)?projects?|all\s+(your\s+)?projects|unlimited\s+projects|beliebig/i.test(
    plain,
  );
  const credit =
    /(?:credit|attribut(?:e|ion)|named?|author|by|©|\(c\)|copyright)\s*(?:to|is|:|\d{4})?\s*[:–-]?\s*([“"]?[A-ZÀ-Ý][^.;\n"”]{1,60})/u.exec(
      plain,
    );
  const needsCredit = /CC BY/.test(name) || /must\s+(be\s+)?(credit|attribut|nam)/i.test(plain);
  return {
    name,
    price: one && price === "unknown" ? "bought" : price,
    projects: one ? "one" : all || price === "free" ? "all" : null,
    credit: needsCredit ? (credit?.[1].trim().replace(/^[“"]/, "") ?? null) : null,
    nonCommercial,
    sentence: sentenceAround(plain, pattern),
  };
}

function sentenceAround(text: string, pattern: RegExp): string {
  const at = text.search(pattern);
  const start = Math.max(text.lastIndexOf(". ", at) + 1, at - 160, 0);
  const dot = text.indexOf(". ", at);
  return text.slice(start, Math.min(dot < 0 ? text.length : dot + 1, start + 320)).trim();
}
