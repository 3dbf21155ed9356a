import type { Finding } from "#core/findings/finding";
import type { Answer, FindingKind } from "#core/findings/kind";
import { FINDING_KINDS } from "#core/findings/kinds";

/** The findings that nothing of what is settled has answered. */
export function stillOpen(findings: readonly Finding[], settled: Iterable<Answer>): Finding[] {
  const answers = new Set(settled);
  return findings.filter(({ code }) => {
    const answer = answerOf(code);
    return answer === undefined || !answers.has(answer);
  });
}

function answerOf(code: string): Answer | undefined {
  if (!(code in FINDING_KINDS)) return undefined;
  return (FINDING_KINDS[code as keyof typeof FINDING_KINDS] as unknown as FindingKind<object>).answer;
}
