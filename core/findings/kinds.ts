import { ABOUT_FILES } from "#core/findings/aboutFiles";
import { ABOUT_ORIGINS } from "#core/findings/aboutOrigins";
import { ABOUT_PIXELS } from "#core/findings/aboutPixels";
import { ABOUT_SETS } from "#core/findings/aboutSets";

/** All that can be noticed, by its code. */
export const FINDING_KINDS = { ...ABOUT_FILES, ...ABOUT_PIXELS, ...ABOUT_SETS, ...ABOUT_ORIGINS };

export type FindingCode = keyof typeof FINDING_KINDS;

/** What a kind of finding is told. */
export type ToldOf<C extends FindingCode> = Parameters<(typeof FINDING_KINDS)[C]["sentence"]>[0];
