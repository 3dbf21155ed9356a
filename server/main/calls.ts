import type { Call } from "#server/http/api/call";
import { CHANGE_CALLS } from "#server/change/calls";
import { COLLECTION_CALLS } from "#server/collection/calls";
import { CONDITION_CALLS } from "#server/condition/calls";
import { COUNTING_CALLS } from "#server/counting/calls";
import { DELIVERY_CALLS } from "#server/delivery/calls";
import { COLOR_LIST_CALLS } from "#server/colorList/calls";
import { TIDY_CALLS } from "#server/tidy/calls";
import { HISTORY_CALLS } from "#server/history/calls";
import { REMAKE_CALLS } from "#server/remake/calls";
import { LINE_CALLS } from "#server/line/calls";
import { LINK_CALLS } from "#server/links/calls";
import { PROFILE_CALLS } from "#server/profile/calls";
import { FLATTENING_CALLS } from "#server/flattening/calls";
import { SIZING_CALLS } from "#server/sizing/calls";
import { SEARCH_CALLS } from "#server/search/calls";
import { GRADE_CALLS } from "#server/grade/calls";
import { LICENCE_CALLS } from "#server/licence/calls";
import { LIKENESS_CALLS } from "#server/likeness/calls";
import { MERGE_CALLS } from "#server/merge/calls";
import { MENDING_CALLS } from "#server/mending/calls";
import { EVENT_CALLS } from "#server/live/calls";
import { INTAKE_CALLS } from "#server/intake/calls";
import { MOVE_CALLS } from "#server/intake/arrange/calls";
import { QUESTION_CALLS } from "#server/intake/questions/calls";
import { MATERIAL_CALLS } from "#server/material/calls";
import { CARD_CALLS } from "#server/card/calls";
import { REFERENCE_CALLS } from "#server/reference/calls";
import { SOUGHT_CALLS } from "#server/sought/calls";
import { PICTURE_CALLS } from "#server/picture/calls";
import { PEOPLE_CALLS } from "#server/people/calls";
import { PROJECT_CALLS } from "#server/project/calls";
import { UPKEEP_CALLS } from "#server/upkeep/calls";

/** Everything that a script can do, in the order of the work. */
export const CALLS: Call[] = [
  ...INTAKE_CALLS,
  ...QUESTION_CALLS,
  ...MOVE_CALLS,
  ...MATERIAL_CALLS,
  ...SIZING_CALLS,
  ...CHANGE_CALLS,
  ...PICTURE_CALLS,
  ...CARD_CALLS,
  ...REFERENCE_CALLS,
  ...SOUGHT_CALLS,
  ...CONDITION_CALLS,
  ...GRADE_CALLS,
  ...SEARCH_CALLS,
  ...LICENCE_CALLS,
  ...COUNTING_CALLS,
  ...FLATTENING_CALLS,
  ...MENDING_CALLS,
  ...LIKENESS_CALLS,
  ...MERGE_CALLS,
  ...COLLECTION_CALLS,
  ...PROJECT_CALLS,
  ...PROFILE_CALLS,
  ...DELIVERY_CALLS,
  ...COLOR_LIST_CALLS,
  ...LINE_CALLS,
  ...REMAKE_CALLS,
  ...HISTORY_CALLS,
  ...TIDY_CALLS,
  ...LINK_CALLS,
  ...PEOPLE_CALLS,
  ...UPKEEP_CALLS,
  ...EVENT_CALLS,
];
