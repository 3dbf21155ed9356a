import type { Level, Person } from "#server/auth/person";
import { Problem } from "#server/problem";

const RANK: Record<Level, number> = { look: 0, make: 1, keep: 2 };

const MAY: Record<Level, string> = {
  look: "look at the library",
  make: "change the library",
  keep: "delete and manage people",
};

export function mayDo(person: Person, level: Level): boolean {
  return RANK[person.level] >= RANK[level];
}

/** @throws {Problem} 401 for nobody, 403 for somebody whose level is too low. */
export function requireLevel(person: Person | undefined, level: Level): Person {
  if (!person)
    throw new Problem(401, "Not signed in", "Sign in, or send a token as “Authorization: Bearer TOKEN”.");
  if (!mayDo(person, level))
    throw new Problem(
      403,
      "Not allowed",
      `This needs somebody who may ${MAY[level]}; ${person.name} may only ${MAY[person.level]}.`,
    );
  return person;
}
