import { Table } from "react-bootstrap";
import { divisions, type Division, type Run } from "#core/gauge/fitSurface";
import { GaugeError } from "#core/gauge/repeat";
import { formatLength } from "#core/length/formatLength";
import { useView } from "../view/viewContext";
import { Take } from "./Take";

interface DivisionsProps {
  caption: string;
  run: Run | undefined;
  repeat: number;
  save(division: Division): { width: number; height: number };
  surface: Record<string, number | undefined>;
}

/** Sizes at which a run of a surface takes whole modules or repeats, each to be taken. */
export function Divisions({ caption, run, repeat, save, surface }: DivisionsProps) {
  const { unit } = useView();
  if (!run) return null;
  const { found, trouble } = tryDivisions(run, repeat);
  return (
    <Table size="sm" className="divisions">
      <caption>{caption}</caption>
      <tbody>
        {trouble && (
          <tr>
            <td colSpan={4}>{trouble}</td>
          </tr>
        )}
        {found.map((division) => (
          <tr key={`${division.unit}${division.count}`}>
            <td>
              <span className="number">{division.count}</span> {division.unit}
            </td>
            <td className="number">{formatLength(division.size, unit)}</td>
            <td className="number">
              {division.changePercent >= 0 ? "+" : "−"}
              {Math.abs(division.changePercent).toFixed(2)} %
            </td>
            <td>
              <Take size={save(division)} surface={surface}>
                Take
              </Take>
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

function tryDivisions(run: Run, repeat: number): { found: Division[]; trouble?: string } {
  try {
    const found = divisions(run, repeat);
    // Where the module is the whole image, both say the same.
    return { found: run.coordinating === repeat ? found.filter(({ unit }) => unit === "repeats") : found };
  } catch (error) {
    if (error instanceof GaugeError) return { found: [], trouble: error.message };
    throw error;
  }
}
