import type { ImageReading } from "#core/judge/imageReading";
import { REPETITION_LOOK, type RepetitionReading } from "#core/judge/repetition";
import { DIRECTION_WORDS, SEAM_LOOK, worstSeam } from "#core/judge/seams";
import { seamWords } from "../view/seamWords";
import { ROLE_NAMES } from "#core/roles/roles";
import type { CandidateRow } from "#server/intake/queries";

interface FiguresProps {
  candidate: Pick<CandidateRow, "layout" | "maps">;
  readings: Record<string, { reading: ImageReading | null; repetition: RepetitionReading | null }>;
}

/** The measured figures of a candidate in one line. */
export function Figures({ candidate, readings }: FiguresProps) {
  const base = candidate.maps.find(({ role }) => role === "base_color");
  const read = candidate.maps.flatMap((map) => {
    const reading =
      map.channel === "color" && map.role !== "unknown" ? readings[map.sha256]?.reading : undefined;
    return reading?.seams ? [{ map, worst: worstSeam(reading.seams) }] : [];
  });
  const worst = read.toSorted((a, b) => b.worst.broken - a.worst.broken)[0];
  const repetition = base && readings[base.sha256]?.repetition;
  const reading = base && readings[base.sha256]?.reading;
  if (!worst || candidate.layout !== "repeating") return null;
  const {
    map,
    worst: { broken, direction },
  } = worst;
  return (
    <dl className="figures">
      <Figure label="Seams" look={broken >= SEAM_LOOK}>
        {seamWords(broken)}
        {broken >= SEAM_LOOK &&
          `: ${DIRECTION_WORDS[direction]}, ${map.role === "unknown" ? "" : ROLE_NAMES[map.role]}`}
      </Figure>
      {repetition && (
        <Figure label="Gives tiling away" look={repetition.giveaway >= REPETITION_LOOK}>
          {Math.round(repetition.giveaway * 100)} %
        </Figure>
      )}
      {reading && (
        <Figure label="Too dark / too light" look={reading.dark > 0.1 || reading.light > 0.05}>
          {Math.round(reading.dark * 100)} % / {Math.round(reading.light * 100)} %
        </Figure>
      )}
    </dl>
  );
}

function Figure({ label, look, children }: { label: string; look: boolean; children: React.ReactNode }) {
  return (
    <div className={look ? "look" : undefined}>
      <dt>{label}</dt>
      <dd className="number">
        {look && <span className="visually-hidden">look at this: </span>}
        {children}
      </dd>
    </div>
  );
}
