import { useEffect } from "react";
import { Link, useNavigate } from "react-router";

/** The next material whose size is unknown, by a link or the key N, until there is none. */
export function NextUnknown({ next }: { next: { id: string; name: string; others: number } }) {
  const navigate = useNavigate();
  const to = `/materials/${next.id}/gauge`;
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
      {next.others} {next.others === 1 ? "other" : "others"} without a size.{" "}
      <Link to={to}>Next: {next.name}</Link> (key N)
    </p>
  );
}
