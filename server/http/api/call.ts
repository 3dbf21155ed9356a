import type { Request, Response } from "express";
import type { z } from "zod";
import type { Person } from "#server/auth/person";

interface CallShape<B extends z.ZodType, Q extends z.ZodType, A extends z.ZodType> {
  method: "get" | "post" | "put" | "patch" | "delete";
  /** Below /api/v1, with `:name` for path parameters, which are ids. */
  path: string;
  summary: string;
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

/** A call of the HTTP interface: what it takes and gives, and what it does, in one place. */
export function call<B extends z.ZodType, Q extends z.ZodType, A extends z.ZodType>(
  shape: CallShape<B, Q, A>,
): Call {
  return shape as unknown as Call;
}

/** How the table of who may do what names a call. */
export const nameOf = ({ method, path }: Call): string => `${method.toUpperCase()} ${path}`;
