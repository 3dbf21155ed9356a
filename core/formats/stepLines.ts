/** A record of an exchange file of ISO 10303-21: `#12=IFCMATERIAL('Oak',$,$);` */
export interface StepRecord {
  entity: string;
  values: StepValue[];
}

/** A reference is a number with `#`, what is left open `$` or `*`, an enumeration is between dots. */
export type StepValue =
  | { kind: "text"; text: string }
  | { kind: "number"; number: number }
  | { kind: "reference"; id: number }
  | { kind: "word"; word: string }
  | { kind: "list"; values: StepValue[] }
  | { kind: "typed"; type: string; values: StepValue[] };

const DEEPEST = 16;
const OPEN: StepValue = { kind: "word", word: "$" };

/**
 * Reads the records of some entities, each character once; the others are passed over, since most of such a file is geometry.
 * @param wanted names of entities in capitals
 * @param most records; what comes after them is left out
 */
export function stepRecords(
  text: string,
  wanted: ReadonlySet<string>,
  most: number,
): Map<number, StepRecord> {
  const records = new Map<number, StepRecord>();
  const HEAD = /#(\d+)\s*=\s*([A-Z0-9_]+)\s*\(/gi;
  HEAD.lastIndex = Math.max(0, text.indexOf("DATA;"));
  for (let found = HEAD.exec(text); found && records.size < most; found = HEAD.exec(text)) {
    const entity = found[2].toUpperCase();
    if (wanted.has(entity)) {
      const reader = new ValueReader(text, HEAD.lastIndex);
      records.set(Number(found[1]), { entity, values: reader.list(0) });
      HEAD.lastIndex = reader.at;
    } else HEAD.lastIndex = endOf(text, HEAD.lastIndex);
  }
  return records;
}

/** Where a record ends: at a semicolon that is in no text. */
function endOf(text: string, from: number): number {
  let at = from;
  while (at < text.length && text[at] !== ";")
    if (text[at] === "'") {
      const close = text.indexOf("'", at + 1);
      at = close < 0 ? text.length : close + 1;
    } else at++;
  return at;
}

class ValueReader {
  constructor(
    private readonly text: string,
    public at: number,
  ) {}

  /** What is between brackets; the first of them has been read. */
  list(depth: number): StepValue[] {
    const values: StepValue[] = [];
    while (this.at < this.text.length) {
      const char = this.text[this.at];
      if (char === ")") {
        this.at++;
        break;
      }
      if (char === ";") break;
      if (char === "," || /\s/.test(char)) this.at++;
      else values.push(this.value(depth));
    }
    return values;
  }

  private value(depth: number): StepValue {
    const char = this.text[this.at];
    if (char === "(") {
      this.at++;
      if (depth < DEEPEST) return { kind: "list", values: this.list(depth + 1) };
      this.at = endOf(this.text, this.at);
      return OPEN;
    }
    if (char === "'") return { kind: "text", text: this.quoted() };
    const word = this.word();
    if (word === "") {
      this.at++;
      return OPEN;
    }
    if (this.text[this.at] === "(" && /^[A-Z]/i.test(word)) {
      if (depth >= DEEPEST) {
        this.at = endOf(this.text, this.at);
        return OPEN;
      }
      this.at++;
      return { kind: "typed", type: word.toUpperCase(), values: this.list(depth + 1) };
    }
    if (word.startsWith("#")) return { kind: "reference", id: Number(word.slice(1)) };
    const number = Number(word);
    return Number.isNaN(number) ? { kind: "word", word } : { kind: "number", number };
  }

  private word(): string {
    const start = this.at;
    while (this.at < this.text.length && !/[\s,();']/.test(this.text[this.at])) this.at++;
    return this.text.slice(start, this.at);
  }

  /** A quotation mark within is doubled; letters beyond ASCII are hexadecimal between marks. */
  private quoted(): string {
    const start = ++this.at;
    for (;;) {
      const close = this.text.indexOf("'", this.at);
      this.at = close < 0 ? this.text.length : close + 1;
      if (close < 0 || this.text[close + 1] !== "'") break;
      this.at = close + 2;
    }
    return plainOf(this.text.slice(start, Math.max(start, this.at - 1)));
  }
}

const plainOf = (written: string): string =>
  written
    .replaceAll("''", "'")
    .replaceAll(/\\X2\\((?:[0-9A-F]{4})+)\\X0\\/gi, (_, hex: string) =>
      String.fromCharCode(...(hex.match(/.{4}/g) ?? []).slice(0, 5000).map((unit) => parseInt(unit, 16))),
    )
    .replaceAll(/\\X\\([0-9A-F]{2})/gi, (_, hex: string) => String.fromCharCode(parseInt(hex, 16)))
    .replaceAll("\\\\", "\\");
