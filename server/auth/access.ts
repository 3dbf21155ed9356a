import { requireLevel } from "#server/auth/levels";
import type { Level, Person } from "#server/auth/person";
import { badField, Problem } from "#server/problem";

/** Who may do something; `anyone` needs not be signed in. */
export type Access = Level | "anyone";

interface Screen {
  see: Access;
  /** Who may send its form; nobody where it has none. */
  change?: Access;
  /** What its form may say under `intent`, and who may. Anything else is refused. */
  intents?: Record<string, Level>;
}

const acts = (level: Level, ...intents: string[]): Record<string, Level> =>
  Object.fromEntries(intents.map((intent) => [intent, level]));

const SEEN: Screen = { see: "look" };
const CHANGED: Screen = { see: "look", change: "make" };

/** Every screen by its path. One that is not listed cannot be reached. */
export const SCREENS: Record<string, Screen> = {
  "/sign-in": { see: "anyone", change: "anyone" },
  "/sign-out": { see: "anyone", change: "anyone" },
  "/": SEEN,
  "/view": { see: "look", change: "look" },
  "/library": {
    ...CHANGED,
    intents: acts(
      "make",
      "plain",
      "collection",
      "project",
      "convert",
      "remake",
      "judge",
      "mend",
      "save-search",
      "delete-search",
    ),
  },
  "/alike": CHANGED,
  "/merge": { ...CHANGED, intents: acts("make", "merge", "undo") },
  "/sizes": { ...CHANGED, intents: acts("make", "take", "keep-format", "delete-format") },
  "/changes": { ...CHANGED, intents: acts("make", "plan", "start") },
  "/library/all": SEEN,
  "/library/part": SEEN,
  "/sizes/sure": SEEN,
  "/changes/:id": { ...CHANGED, intents: acts("make", "undo") },
  "/intakes": SEEN,
  "/intakes/:id": CHANGED,
  "/moves": { see: "make", change: "make", intents: acts("make", "move", "undo") },
  "/answers": { ...CHANGED, intents: acts("make", "answer", "take-back") },
  "/tidy": {
    ...CHANGED,
    intents: {
      ...acts("make", "merge-twins", "look", "remake", "judge", "stop", "undo"),
      ...acts("keep", "keep-collection"),
    },
  },
  "/mends": { ...CHANGED, intents: acts("make", "keep", "drop") },
  "/licences": SEEN,
  "/licences/:id": { ...CHANGED, intents: acts("make", "save", "put-back") },
  "/lines": SEEN,
  "/lines/:id": SEEN,
  "/color-lists/:id": { ...CHANGED, intents: acts("make", "read", "make", "undo", "delete") },
  "/suppliers": SEEN,
  "/suppliers/compare": SEEN,
  "/suppliers/:line": CHANGED,
  "/suppliers/pictures/:code": SEEN,
  "/materials/find": SEEN,
  "/choices": SEEN,
  "/materials/:id": CHANGED,
  "/materials/:id/judge": CHANGED,
  "/materials/:id/gauge": { ...CHANGED, intents: acts("make", "copy-mine") },
  "/materials/:id/gauge/compare": SEEN,
  "/materials/:id/gauge/fit": CHANGED,
  "/materials/:id/gauge/turn": CHANGED,
  "/materials/:id/gauge/flatten": CHANGED,
  "/materials/:id/finish": {
    ...CHANGED,
    intents: {
      ...acts("make", "copy", "copy-mine", "correct", "make-plain"),
      ...acts(
        "make",
        "create-condition",
        "change-condition",
        "delete-condition",
        "create-grade",
        "delete-grade",
      ),
      delete: "keep",
    },
  },
  "/materials/:id/facts": { ...CHANGED, intents: acts("make", "put-back") },
  "/materials/:id/revisions": CHANGED,
  "/materials/:id/uses": {
    ...CHANGED,
    intents: acts("make", "restore", "take-over", "move-on", "move-back"),
  },
  "/collections": CHANGED,
  "/collections/:id": {
    ...CHANGED,
    intents: { ...acts("make", "change", "give", "take", "remove", "stop-filling"), delete: "keep" },
  },
  "/projects": CHANGED,
  "/projects/:id": {
    ...CHANGED,
    intents: acts(
      "make",
      "take-collection",
      "leave-collection",
      "leave-material",
      "change",
      "camera",
      "move-on",
      "move-back",
      "keep-destinations",
      "bring-up-to-date",
    ),
  },
  "/deliveries": { ...CHANGED, intents: acts("make", "bring-up-to-date") },
  "/deliveries/new": CHANGED,
  "/deliveries/:id": { ...CHANGED, intents: acts("make", "again", "cancel") },
  "/destinations": {
    see: "look",
    change: "look",
    intents: acts("look", "check"),
  },
  "/destinations/:id": { ...CHANGED, intents: acts("make", "paths", "look", "mend", "bring-up-to-date") },
  "/links/:id": { ...CHANGED, intents: acts("make", "delete") },
  "/profiles": { ...CHANGED, intents: acts("make", "copy", "card", "import", "arrange", "retire", "offer") },
  "/cards/:id": { ...CHANGED, intents: acts("make", "profile", "delete") },
  "/profiles/:id": { ...CHANGED, intents: acts("make", "save") },
  "/people": { see: "look", change: "keep", intents: acts("keep", "add", "level", "password", "retire") },
  "/upkeep": { see: "keep", change: "keep", intents: acts("keep", "look", "remove") },
  "/me": {
    see: "look",
    change: "look",
    intents: acts("look", "token", "revoke", "password", "end", "end-others"),
  },
  "/*": SEEN,
};

/** Every call of the HTTP interface, below /api/v1, and what else answers. */
export const CALLS: Record<string, Access> = {
  "GET /openapi.json": "anyone",
  "GET /intakes": "look",
  "POST /intakes": "make",
  "POST /intakes/begin": "make",
  "GET /intakes/:id/uploads": "look",
  "POST /intakes/:id/complete": "make",
  "GET /intakes/:id": "look",
  "POST /intakes/:id/accept": "make",
  "POST /intakes/:id/hold": "make",
  "POST /intakes/:id/again": "make",
  "POST /intakes/:id/fetch": "make",
  "GET /intakes/:id/account": "look",
  "GET /intakes/:id/questions": "look",
  "POST /intakes/:id/answers": "make",
  "POST /intakes/:id/moves": "make",
  "POST /moves/:id/undo": "make",
  "GET /merges": "look",
  "POST /merges/plan": "look",
  "POST /merges": "make",
  "POST /merges/:id/undo": "make",
  "GET /answers": "look",
  "DELETE /answers/:id": "make",
  "GET /catalogue": "look",
  "POST /fetches": "make",
  "GET /lines": "look",
  "GET /lines/:id": "look",
  "POST /lines/import": "make",
  "GET /lines/imports": "look",
  "GET /lines/imports/:id": "look",
  "PATCH /lines/imports/:id": "make",
  "POST /lines/imports/:id/make": "make",
  "POST /lines/imports/:id/undo": "make",
  "DELETE /lines/imports/:id": "make",
  "GET /tidy": "look",
  "POST /tidy/twins": "make",
  "POST /tidy/collections": "keep",
  "POST /tidy/originals": "make",
  "GET /licences/:id": "look",
  "PATCH /licences/:id": "make",
  "POST /licences/:id/restore": "make",
  "GET /materials/:id/facts/history": "look",
  "POST /materials/:id/facts/restore": "make",
  "POST /remakes": "make",
  "GET /remakes/:id": "look",
  "POST /remakes/:id/stop": "make",
  "POST /remakes/:id/undo": "make",
  "GET /likenesses": "look",
  "PUT /likenesses": "make",
  "GET /materials": "look",
  "POST /materials": "make",
  "GET /materials/:id": "look",
  "PATCH /materials/:id": "make",
  "PATCH /materials/:id/facts": "make",
  "PUT /materials/:id/corrections/:profile": "make",
  "POST /materials/:id/restore": "make",
  "GET /materials/:id/wearers": "look",
  "GET /cards": "look",
  "POST /cards": "make",
  "GET /cards/:id": "look",
  "POST /cards/:id/picture": "make",
  "POST /cards/:id/profile": "make",
  "DELETE /cards/:id": "make",
  "GET /mends": "look",
  "POST /mends": "make",
  "POST /sought-pictures": "look",
  "GET /sought-pictures/:id": "look",
  "GET /materials/:id/references": "look",
  "POST /materials/:id/references": "make",
  "PATCH /materials/:id/references/:reference": "make",
  "DELETE /materials/:id/references/:reference": "make",
  "POST /materials/:id/wearers": "make",
  "GET /conditions": "look",
  "POST /conditions": "make",
  "PATCH /conditions/:id": "make",
  "DELETE /conditions/:id": "make",
  "GET /environments": "look",
  "GET /environments/:sha256/panorama": "look",
  "GET /changes": "look",
  "POST /changes/plan": "make",
  // Taking out of the library is for those who keep it, which the command asks.
  "POST /changes": "make",
  "GET /changes/:id": "look",
  "POST /changes/:id/undo": "make",
  "GET /searches": "look",
  "POST /searches": "make",
  "DELETE /searches/:id": "make",
  "GET /grades": "look",
  "POST /grades": "make",
  "PUT /grades/:id": "make",
  "DELETE /grades/:id": "make",
  "GET /licences": "look",
  "DELETE /materials/:id": "keep",
  "PUT /materials/:id/repeat": "make",
  "POST /materials/:id/hand-on": "make",
  "GET /materials/:id/uses": "look",
  "GET /materials/:id/revisions": "look",
  "GET /materials/:id/changes": "look",
  "GET /materials/:id/judgement": "look",
  "GET /materials/:id/picture": "look",
  "GET /materials/:id/difference": "look",
  "GET /materials/:id/color": "look",
  "GET /materials/:id/flattenings": "look",
  "POST /materials/:id/flattenings": "make",
  "GET /materials/:id/mends": "look",
  "POST /materials/:id/mends": "make",
  "POST /materials/:id/mends/:mend/keep": "make",
  "DELETE /materials/:id/mends/:mend": "make",
  "GET /materials/:id/modules": "look",
  "GET /sizes": "look",
  "GET /formats": "look",
  "POST /formats": "make",
  "DELETE /formats/:id": "make",
  "GET /profiles": "look",
  "GET /profiles/:profile": "look",
  "POST /profiles": "make",
  "PUT /profiles": "make",
  "PUT /profiles/:profile": "make",
  "DELETE /profiles/:profile": "make",
  "POST /profiles/:profile/offer": "make",
  "GET /collections": "look",
  "GET /collections/:id": "look",
  "POST /collections": "make",
  "PATCH /collections/:id": "make",
  "DELETE /collections/:id": "keep",
  "PUT /collections/:id/materials": "make",
  "GET /projects": "look",
  "GET /projects/:id": "look",
  "PATCH /projects/:id": "make",
  "POST /projects/:id/move-on": "make",
  "POST /projects/:id/move-back": "make",
  "PUT /projects/:id/camera": "make",
  "POST /projects": "make",
  "PUT /projects/:id/collections": "make",
  "PUT /projects/:id/materials": "make",
  "GET /projects/:id/destinations": "look",
  "PUT /projects/:id/destinations": "make",
  "GET /destinations": "look",
  "POST /destinations": "make",
  "PATCH /destinations/:id": "make",
  "POST /destinations/:id/check": "make",
  "GET /destinations/:id/check": "look",
  "POST /links/check": "look",
  "POST /links/lists": "make",
  "GET /links/lists": "look",
  "GET /links/lists/:id": "look",
  "DELETE /links/lists/:id": "make",
  "POST /deliveries/plan": "look",
  "GET /jobs/:id": "look",
  "GET /deliveries": "look",
  "POST /deliveries": "make",
  "GET /deliveries/out-of-date": "look",
  "POST /deliveries/bring-up-to-date": "make",
  "GET /deliveries/:id": "look",
  "GET /deliveries/:id/proofs": "look",
  "POST /deliveries/:id/cancel": "make",
  "POST /deliveries/:id/again": "make",
  "GET /deliveries/:id/archive": "look",
  "GET /people": "look",
  "POST /people": "keep",
  "PATCH /people/:id": "keep",
  "DELETE /people/:id": "keep",
  "GET /me": "look",
  "PUT /password": "look",
  "GET /sessions": "look",
  "DELETE /sessions/:id": "look",
  "GET /tokens": "look",
  "POST /tokens": "look",
  "DELETE /tokens/:id": "look",
  "GET /upkeep": "keep",
  "POST /sweeps": "keep",
  "GET /sweeps/:id": "keep",
  "POST /sweeps/:id/remove": "keep",
  "GET /events": "look",
  // Uploads that go on where they were; only the sender of an intake, besides.
  "* /uploads": "make",
  // Not below /api/v1, but by the same rule.
  "GET /files/:sha256": "look",
  "GET /previews/:sha256/:channel/:part": "look",
};

/** @throws {Problem} 401 or 403; undefined comes where anyone may and nobody is signed in. */
function requireAccess(person: Person | undefined, access: Access | undefined): Person | undefined {
  if (access === "anyone") return person;
  if (access === undefined) throw new Problem(403, "Not allowed", "Nobody may do this here.");
  return requireLevel(person, access);
}

/** Somebody who may make a call. @throws {Problem} 401 or 403 */
export function requireCall(person: Person | undefined, call: string): Person {
  return requireAccess(person, CALLS[call]) ?? requireLevel(person, "look");
}

/**
 * Somebody who may see a screen, or send its form.
 * @param pattern of the route, as the router itself has matched it: what has no row is refused
 * @param intent what the form says that it is for
 * @throws {Problem} 401 or 403, and 422 for an intent that the screen does not have
 */
export function requireScreen(
  person: Person | undefined,
  pattern: string,
  way: "see" | "change",
  intent?: string,
): Person {
  const row = `/${pattern.replaceAll(/^\/+|\/+$/g, "")}`;
  const screen = Object.hasOwn(SCREENS, row) ? SCREENS[row] : undefined;
  const known = intent ? new Map(Object.entries(screen?.intents ?? {})).get(intent) : undefined;
  if (intent && screen && known === undefined)
    throw badField("/intent", "That is nothing that can be done here. Load the page again and repeat it.");
  const needed = known ?? screen?.[way];
  return requireAccess(person, needed) ?? requireLevel(person, "look");
}
