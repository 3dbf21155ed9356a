import type { UsdValue } from "#core/formats/usdLayer";

/** One token of OpenUSD text. Names with their namespaces ("inputs:file.connect") are one word. */
export type UsdToken = UsdValue;

const SPACE = /[\s,;]/;
const MARKS = new Set("()[]{}=");
const WORD_END = /[\s,;"'@<>()[\]{}=#]/;

/**
 * Splits OpenUSD text into tokens, each character read once. Comments are left out; what stands in square brackets, where the geometry
 * lies, is one token as it is written. What is not closed ends with its line, or with the text where it may run over lines.
 */
export function* usdTokens(text: string): Generator<UsdToken> {
  let at = 0;
  const until = (closing: string, from: number, overLines: boolean): string => {
    let end = from;
    if (overLines) {
      end = text.indexOf(closing, from);
      if (end < 0) end = text.length;
    } else while (end < text.length && text[end] !== closing && text[end] !== "\n") end++;
    at = Math.min(text.length, end + closing.length);
    return text.slice(from, end);
  };
  let brackets = 0;
  let opened = 0;
  while (at < text.length) {
    const char = text[at];
    if (SPACE.test(char)) at++;
    else if (char === "#") while (at < text.length && text[at] !== "\n") at++;
    else if (char === '"' || char === "'") {
      const long = char.repeat(3);
      const token: UsdToken = text.startsWith(long, at)
        ? { kind: "string", text: until(long, at + 3, true) }
        : { kind: "string", text: quoted(char) };
      if (brackets === 0) yield token;
    } else if (char === "@") {
      const token: UsdToken = text.startsWith("@@@", at)
        ? { kind: "asset", text: until("@@@", at + 3, true) }
        : { kind: "asset", text: until("@", at + 1, false) };
      if (brackets === 0) yield token;
    } else if (char === "<") {
      const token: UsdToken = { kind: "path", text: until(">", at + 1, false) };
      if (brackets === 0) yield token;
    } else if (MARKS.has(char)) {
      at++;
      if (char === "[") {
        if (brackets++ === 0) opened = at;
      } else if (char === "]") {
        if (brackets === 1) yield { kind: "array", text: text.slice(opened, at - 1) };
        brackets = Math.max(0, brackets - 1);
      } else if (brackets === 0) yield { kind: "mark", text: char };
    } else {
      const start = at++;
      while (at < text.length && !WORD_END.test(text[at])) at++;
      if (brackets === 0) yield { kind: "word", text: text.slice(start, at) };
    }
  }

  /** A string on one line, in which a backslash takes the next character's meaning away. */
  function quoted(quote: string): string {
    const start = ++at;
    while (at < text.length && text[at] !== quote && text[at] !== "\n") at += text[at] === "\\" ? 2 : 1;
    const end = Math.min(at, text.length);
    at = end + 1;
    return text.slice(start, end);
  }
}
