/** How a licence was paid for. */
export const PRICES = ["free", "bought", "unknown"] as const;

/** What may be done with a material. */
export interface Licence {
  name: string;
  /** Id of the one project that it is for; null for all. */
  project: string | null;
  projectName: string | null;
  /** The last day, as YYYY-MM-DD; null for ever. */
  endsOn: string | null;
  /** Whom to name. */
  credit: string | null;
}

/** A licence that ends within so many days is worth a word. */
const SOON_DAYS = 60;
const DAY_MS = 86_400_000;

/**
 * What whoever uses a material has to know of its licence.
 * @param use the project that it is used for, if any, and the day, as YYYY-MM-DD
 * @returns what stands against it, and what is left to do
 */
export function licenceNotes(
  { name, project, projectName, endsOn, credit }: Licence,
  use: { project: string | null; today: string },
): { warnings: string[]; steps: string[] } {
  const warnings: string[] = [];
  if (endsOn !== null && endsOn < use.today) warnings.push(`The licence “${name}” ended on ${endsOn}.`);
  else if (endsOn !== null && Date.parse(endsOn) - Date.parse(use.today) <= SOON_DAYS * DAY_MS)
    warnings.push(`The licence “${name}” ends on ${endsOn}.`);
  if (project !== null && project !== use.project)
    warnings.push(`The licence “${name}” is for the project ${projectName ?? "of somebody else"} alone.`);
  return { warnings, steps: credit === null ? [] : [`Name ${credit} where pictures with it are shown.`] };
}
