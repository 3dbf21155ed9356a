import type { SaidFinding } from "#core/findings/say";

const SIGNS: Record<SaidFinding["level"], { sign: string; word: string }> = {
  note: { sign: "·", word: "note" },
  look: { sign: "?", word: "look at this" },
  wrong: { sign: "!", word: "wrong" },
};

interface FindingsProps {
  findings: SaidFinding[];
  /** Which of them are told only to those who ask. */
  isFolded?(finding: SaidFinding): boolean;
}

/** What was noticed, the serious first. */
export function Findings({ findings, isFolded = () => false }: FindingsProps) {
  const folded = findings.filter(isFolded);
  return (
    <>
      <Lines findings={findings.filter((finding) => !isFolded(finding))} />
      {folded.length > 0 && (
        <details className="findings-folded">
          <summary>{folded.length === 1 ? "1 note" : `${folded.length} notes`}</summary>
          <Lines findings={folded} />
        </details>
      )}
    </>
  );
}

function Lines({ findings }: { findings: SaidFinding[] }) {
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
