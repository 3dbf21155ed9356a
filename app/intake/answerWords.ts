import type { QuestionAnswer } from "#core/candidates/questions";
import type { MapChannel } from "#core/roles/channel";
import { ROLE_NAMES } from "#core/roles/roles";

/** An answer as it is told afterwards. */
export function answerWords(answer: QuestionAnswer): string {
  if (answer === "leave-out") return "left out";
  if (answer === "apart") return "a different map in each channel";
  if (answer === "+Y") return "green up, +Y";
  if (answer === "-Y") return "green down, −Y";
  return ROLE_NAMES[answer];
}

/** A channel at the beginning of a sentence. */
export const channelOf = (channel: MapChannel): string =>
  channel === "alpha" ? "The fourth channel" : channel === "color" ? "All of it" : `The ${channel} channel`;
