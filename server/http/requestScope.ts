import { AsyncLocalStorage } from "node:async_hooks";

/** The number of the request that work is done for, by which the log is searched, from the page to the job. */
const scope = new AsyncLocalStorage<string>();

export const inRequest = <T>(id: string, work: () => T): T => scope.run(id, work);

export const requestId = (): string | undefined => scope.getStore();
