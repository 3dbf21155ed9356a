/** A statement with how sure it was, and whether it held. */
export interface Statement {
  sure: number;
  right: boolean;
}

export interface CalibrationBin {
  from: number;
  to: number;
  count: number;
  /** Mean of what was stated, and the share that held. */
  stated: number;
  held: number;
  /** 95 % interval of the share that held, after Wilson (1927). */
  low: number;
  high: number;
}

const EDGES = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1.0001];

/** Statements by how sure they were; bins in which nothing fell are left out. */
export function calibrationOf(statements: Statement[]): CalibrationBin[] {
  return EDGES.slice(1).flatMap((to, i) => {
    const inside = statements.filter(({ sure }) => sure >= EDGES[i] && sure < to);
    if (inside.length === 0) return [];
    const held = inside.filter(({ right }) => right).length;
    return {
      from: EDGES[i],
      to: Math.min(1, to),
      count: inside.length,
      stated: inside.reduce((sum, { sure }) => sum + sure, 0) / inside.length,
      held: held / inside.length,
      ...wilson(held, inside.length),
    };
  });
}

/** How far what is stated lies from what holds, as the mean over all statements. */
export function calibrationError(bins: CalibrationBin[]): number {
  const all = bins.reduce((sum, { count }) => sum + count, 0);
  return bins.reduce((sum, { count, stated, held }) => sum + (count / all) * Math.abs(stated - held), 0);
}

const Z = 1.96;

function wilson(held: number, count: number): { low: number; high: number } {
  const share = held / count;
  const middle = share + Z ** 2 / (2 * count);
  const spread = Z * Math.sqrt((share * (1 - share)) / count + Z ** 2 / (4 * count ** 2));
  const scale = 1 + Z ** 2 / count;
  return { low: (middle - spread) / scale, high: (middle + spread) / scale };
}
