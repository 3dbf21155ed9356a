import { useEffect } from "react";
import { Link, useNavigate } from "react-router";

interface NextUnknownProps {
  to: string;
  /** Of the next material; null where the way goes back to the sheet that this one was opened from. */
  name: string | null;
  others: number;
}

/** On to the next material whose size is unknown, or back to their sheet, by a link or the key N. */
export function NextUnknown({ to, name, others }: NextUnknownProps) {
  const navigate = useNavigate();
  useEffect(() => {
    const key = (event: KeyboardEvent) => {
      const { target } = event;
      const typing = target instanceof HTMLElement && target.matches("input, textarea, select");
      if (event.key.toLowerCase() !== "n" || event.ctrlKey || event.metaKey || event.altKey || typing) return;
      void navigate(to);
    };
    addEventListener("keydown", key);
    return () => removeEventListener("keydown", key);
  }, [navigate, to]);
  return (
    <p className="next-unknown">
      {others} {others === 1 ? "other" : "others"} without a size.{" "}
      <Link to={to}>{name === null ? "Back to the sheet" : `Next: ${name}`}</Link> (key N)
    </p>
  );
}
