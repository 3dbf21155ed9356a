/** Which candidates of an intake are looked at. */
export const SHOWN = ["all", "waiting", "wrong", "look", "asked", "clash", "accepted"] as const;
export type Shown = (typeof SHOWN)[number];
