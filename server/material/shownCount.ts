/** The SQL of how many materials the library shows; see the trigger `materials_counted`. */
export const SHOWN_COUNT = "(SELECT coalesce(sum(by), 0)::int FROM shown_counts WHERE kind <> 'environment')";
