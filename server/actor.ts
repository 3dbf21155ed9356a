import { AsyncLocalStorage } from "node:async_hooks";

const actors = new AsyncLocalStorage<string>();

/** Does work in somebody's name: what a transaction inside it changes is noted as theirs. @param person their id */
export const actingFor = <T>(person: string, work: () => T): T => actors.run(person, work);

/** In whose name the present code works; undefined where it works by itself. */
export const currentActor = (): string | undefined => actors.getStore();
