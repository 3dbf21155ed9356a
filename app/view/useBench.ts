import { useOutletContext } from "react-router";
import type { BenchData } from "../routes/bench";

/** The material that the bench holds, for its steps. */
export const useBench = () => useOutletContext<BenchData>();
