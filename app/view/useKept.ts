import { useEffect, useState } from "react";
import { useLocation } from "react-router";

/**
 * What an action answered, kept while the page stays: the router forgets it whenever the page's data is loaded again,
 * as happens by itself when somebody else changes something.
 */
export function useKept<T>(answer: T | undefined): T | undefined {
  const { pathname } = useLocation();
  const [kept, setKept] = useState<{ pathname: string; answer: T }>();
  useEffect(() => {
    if (answer !== undefined) setKept({ pathname, answer });
  }, [answer, pathname]);
  return answer ?? (kept?.pathname === pathname ? kept.answer : undefined);
}
