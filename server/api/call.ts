import type { Request, Response } from "express";
import type { z } from "zod";
import type { Level, Person } from "#server/db/people";

interface CallShape<B extends z.ZodType, Q extends z.ZodType, A extends z.ZodType> {
  method: "get" | "post" | "put" | "patch" | "delete";
  /** Below /api/v1, with `:name` for path parameters, which are ids. */
  path: string;
  summary: string;
  /** Who may do it. */
  level: Level;
  body?: B;
  query?: Q;
  /** Status and shape of the answer. */
  status: number;
  answer: A;
  handle(input: {
    person: Person;
    params: Record<string, string>;
    body: z.infer<B>;
    query: z.infer<Q>;
    request: Request;
    response: Response;
  }): Promise<z.input<A>>;
}

/** A call that writes its own answer: an upload, a download, a stream. */
export interface RawCall {
  method: "get" | "post";
  path: string;
  summary: string;
  level: Level;
  status: number;
  /** Media types taken and given, for the description. */
  takes?: Record<string, unknown>;
  gives: Record<string, unknown>;
  raw(input: {
    person: Person;
    params: Record<string, string>;
    request: Request;
    response: Response;
  }): Promise<void>;
}

export type Call = CallShape<z.ZodType, z.ZodType, z.ZodType> | RawCall;

/** A call of the HTTP interface: who may make it, what it takes and gives, and what it does, in one place. */
export function call<B extends z.ZodType, Q extends z.ZodType, A extends z.ZodType>(
  shape: CallShape<B, Q, A>,
): Call {
  return shape as unknown as Call;
}
