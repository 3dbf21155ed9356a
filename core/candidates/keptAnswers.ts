import {
  askOf,
  companionsOf,
  type Ask,
  type AskedCandidate,
  type QuestionAnswer,
} from "#core/candidates/questions";
import { markOf } from "#core/candidates/mark";
import { fileOf, type MapChannel } from "#core/roles/channel";

/** An answer that was kept for the files of its source. */
export interface KeptAnswer {
  id: string;
  asks: Ask;
  channel: MapChannel;
  mark: string;
  companions: string[];
  answer: QuestionAnswer;
  by: string;
}

export interface AnsweredMap {
  file: string;
  answer: KeptAnswer;
}

/**
 * Which questions of a candidate were answered before, for a source whose files are named in the same way: the same mark, and at
 * least half of what its other files end in. The latest of several answers counts; a role that the set has is not given again.
 * @param kept the latest first
 */
export function answeredBefore(
  { maps, findings }: Omit<AskedCandidate, "id" | "name">,
  kept: KeptAnswer[],
): AnsweredMap[] {
  const taken = new Set<string>(maps.map(({ role }) => role));
  return maps.flatMap((map) => {
    const asks = askOf(map, findings);
    const file = fileOf(map);
    const mark = markOf(file);
    if (!asks || mark === "") return [];
    const others = companionsOf(file, maps);
    const answer = kept.find(
      (one) =>
        one.asks === asks &&
        one.channel === map.channel &&
        one.mark === mark &&
        areAlike(one.companions, others),
    );
    if (!answer || (asks === "role" && taken.has(answer.answer))) return [];
    if (answer.answer !== "leave-out" && answer.answer !== "apart") taken.add(answer.answer);
    return [{ file: map.file, answer }];
  });
}

function areAlike(some: string[], others: string[]): boolean {
  if (some.length === 0 || others.length === 0) return some.length === others.length;
  const known = others.filter((mark) => some.includes(mark)).length;
  return known >= others.length / 2;
}
