import { z } from "zod";
import { LAYOUTS, MATERIAL_KINDS } from "#core/finish/material";
import { say } from "#core/findings/say";
import { PURPOSES } from "#core/judge/holdsUp";
import { IGNORED_KINDS } from "#core/candidates/candidate";
import { ROLES, roleFromWord } from "#core/roles/roles";
import { findingShape, progress } from "#server/http/api/shapes";
import { type CandidateRow, INTAKE_STATES, type IntakeRow } from "#server/intake/queries";
import { foundLicenceSchema } from "#server/licence/queries";
import { variantSheetSchema } from "#server/supplier/queries";

/** Shapes of the HTTP interface for intakes, and how rows become them. */

/** A role by its canonical name or by the word that people use. */
export const roleInput = z.string().transform((word, context) => {
  if (word === "leave-out") return "leave-out" as const;
  const role = roleFromWord(word);
  if (role) return role;
  context.addIssue({ code: "custom", message: `“${word}” is not a role: ${ROLES.join(", ")} or leave-out.` });
  return z.NEVER;
});

const candidateShape = z.object({
  id: z.string(),
  name: z.string(),
  kind: z.enum(MATERIAL_KINDS),
  layout: z.enum(LAYOUTS),
  folder: z.string(),
  licence: foundLicenceSchema.nullable(),
  clashes: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      same: z.enum(["name", "picture"]),
      isWhole: z
        .boolean()
        .describe(
          "whether it has all pictures of the candidate; such a one is passed over unless a choice says otherwise",
        ),
    }),
  ),
  state: z.enum(["waiting", "accepted"]),
  material: z.string().nullable(),
  maps: z.array(
    z.object({
      file: z.string(),
      role: z.enum([...ROLES, "unknown"]),
      width: z.number(),
      height: z.number(),
      bitDepth: z.number(),
      confidence: z.number(),
      normalDirection: z.enum(["+Y", "-Y"]).optional(),
      likely: z.array(z.enum(ROLES)),
      leftOut: z.boolean().describe("somebody said that it is not to be taken"),
    }),
  ),
  findings: z.array(findingShape),
  sheet: variantSheetSchema.nullable(),
});

/** An intake in the list of all. */
export const intakeSummaryShape = z.object({
  id: z.string(),
  state: z.enum(INTAKE_STATES),
  failure: z.string().nullable(),
  hold: z.enum(["pause", "stop"]).nullable(),
  progress,
  files: z.array(z.string()),
  waiting: z.number(),
  accepted: z.number(),
  by: z.string(),
  at: z.iso.datetime(),
});

export function intakeSummary(intake: IntakeRow, files: string[]): z.input<typeof intakeSummaryShape> {
  const { id, state, failure, hold, progress, waiting, accepted, person, createdAt } = intake;
  const at = createdAt.toISOString();
  return { id, state, failure, hold, progress, files, waiting, accepted, by: person, at };
}

export const intakeShape = z.object({
  id: z.string(),
  state: z.enum(INTAKE_STATES),
  failure: z.string().nullable(),
  purpose: z.enum(PURPOSES),
  hold: z.enum(["pause", "stop"]).nullable(),
  progress,
  candidates: z.array(candidateShape),
  ignored: z.array(z.object({ file: z.string(), reason: z.string(), kind: z.enum(IGNORED_KINDS) })),
});

export function intakeAnswer(
  intake: IntakeRow,
  candidates: CandidateRow[],
  ignored: z.input<typeof intakeShape>["ignored"],
): z.input<typeof intakeShape> {
  const { id, state, failure, purpose, hold, progress } = intake;
  return {
    id,
    state,
    failure,
    purpose,
    hold,
    progress,
    candidates: candidates.map((candidate) => ({
      ...candidate,
      findings: say(candidate.findings),
      maps: candidate.maps.map(({ normalDirection, answer: _, ...map }) => ({
        ...map,
        ...(normalDirection && { normalDirection }),
      })),
    })),
    ignored,
  };
}
