import { AsyncLocalStorage } from "node:async_hooks";

/** A piece of work of its own: a request or a job, and how it is ended where something of it errs that nobody listens to. */
export interface Scope {
  /** The number by which the log is searched, from the page to the job. */
  request: string;
  what: string;
  /** Somebody waits for it at their screen. */
  isUrgent?: boolean;
  end(error: Error): void;
}

const scopes = new AsyncLocalStorage<Scope>();

export const inScope = <T>(scope: Scope, work: () => T): T => scopes.run(scope, work);

/** The work that the present code belongs to. */
export const currentScope = (): Scope | undefined => scopes.getStore();
