import type { SaidFinding } from "#core/findings/say";

const SIGNS: Record<SaidFinding["level"], { sign: string; word: string }> = {
  note: { sign: "·", word: "note" },
  look: { sign: "?", word: "look at this" },
  wrong: { sign: "!", word: "wrong" },
};

/** What was noticed, the serious first. */
export function Findings({ findings }: { findings: SaidFinding[] }) {
  if (findings.length === 0) return null;
  const order: SaidFinding["level"][] = ["wrong", "look", "note"];
  return (
    <ul className="findings">
      {findings
        .toSorted((a, b) => order.indexOf(a.level) - order.indexOf(b.level))
        .map((finding, at) => (
          <li key={at} className={finding.level}>
            <span className="sign" title={SIGNS[finding.level].word}>
              {SIGNS[finding.level].sign}
              <span className="visually-hidden">{SIGNS[finding.level].word}: </span>
            </span>
            {finding.message}
          </li>
        ))}
    </ul>
  );
}
