import { useEffect, useRef, useState } from "react";
import { formatSeconds } from "#core/length/formatSeconds";

interface ProgressProps {
  label: string;
  done: number;
  /** 0 where it is not known yet. */
  total: number;
  what?: string;
}

/** A line for long work: what, how far, and how long still. */
export function Progress({ label, done, total, what }: ProgressProps) {
  const left = useTimeLeft(done, total);
  const share = total > 0 ? Math.min(1, done / total) : undefined;
  return (
    <div className="progress-line" role="status">
      <div className="progress-words">
        <span>{label}</span>
        <span className="what">{what}</span>
        <span className="number">{share === undefined ? "" : `${Math.round(share * 100)} %`}</span>
        <span className="number">{left}</span>
      </div>
      <progress aria-label={label} {...(share === undefined ? {} : { value: share })} max={1} />
    </div>
  );
}

/** From the pace since the first look; said only once it means something. */
function useTimeLeft(done: number, total: number): string {
  const begun = useRef<{ at: number; done: number } | undefined>(undefined);
  const [text, setText] = useState("");
  useEffect(() => {
    begun.current ??= { at: Date.now(), done };
    const { at, done: first } = begun.current;
    const seconds = (Date.now() - at) / 1000;
    if (done - first < 2 || total === 0 || seconds < 2) return;
    const left = ((total - done) * seconds) / (done - first);
    setText(`about ${formatSeconds(left)} left`);
  }, [done, total]);
  return text;
}
