import type { Cuts } from "#core/gauge/fitSurface";
import { formatLength } from "#core/length/formatLength";
import { useView } from "../view/viewContext";

interface CutWordsProps {
  name: string;
  cuts: Cuts | undefined;
  /** Those of the next course or column, and what it is called. */
  second: Cuts | undefined;
  beside: string;
}

/** The pieces at both ends of a run, and of the one beside it. */
export function CutWords({ name, cuts, second, beside }: CutWordsProps) {
  const { unit } = useView();
  if (!cuts) return null;
  const piece = (mm: number) => (mm === 0 ? "no cut" : formatLength(mm, unit));
  const words = ({ first, whole, last }: Cuts) => (
    <span className="number">
      {piece(first)} · {whole} whole · {piece(last)}
    </span>
  );
  return (
    <p className="cut-words">
      {name}: {words(cuts)}
      {second && (
        <>
          ; {beside} {words(second)}
        </>
      )}
    </p>
  );
}
