import type { RouteConfigEntry } from "@react-router/dev/routes";
import {
  matchRoutes,
  RouterContextProvider,
  type ActionFunctionArgs,
  type LoaderFunctionArgs,
  type RouteObject,
} from "react-router";
import { personContext } from "#server/auth/personContext";
import type { Person } from "#server/auth/person";
import routes from "../routes";

interface RouteModule {
  loader?(args: LoaderFunctionArgs): Promise<unknown>;
  action?(args: ActionFunctionArgs): Promise<unknown>;
}

/** What a screen answered: its status, where it leads, and what it has to show. */
export interface Answer {
  status: number;
  location: string | null;
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look at whatever comes
  data: any;
}

const asObjects = (entries: RouteConfigEntry[]): RouteObject[] =>
  entries.map(({ file, path, index, children }) =>
    index ? { id: file, index: true } : { id: file, path, children: children && asObjects(children) },
  );
const tree = asObjects(routes);

/** The screen at an address, without its layout: what it loads for a person, and what its form does. */
export function screensOf(person: Person | null) {
  async function call(
    kind: "loader" | "action",
    address: string,
    fields?: [string, string][],
  ): Promise<Answer> {
    const url = new URL(address, "http://studio.example");
    const matches = matchRoutes(tree, url);
    const match = matches?.at(-1);
    if (!match) throw new Error(`Nothing is at ${address}.`);
    const module = (await import(`../${match.route.id!}`)) as RouteModule;
    const work = module[kind];
    if (!work) throw new Error(`${match.route.id} has no ${kind}.`);
    const context = new RouterContextProvider();
    if (person) context.set(personContext, person);
    const request = new Request(url, fields && { method: "POST", body: new URLSearchParams(fields) });
    const pattern = matches!.flatMap(({ route }) => route.path ?? []).join("/");
    const args = { request, context, params: match.params, pattern } as unknown as LoaderFunctionArgs &
      ActionFunctionArgs;
    const outcome = await work(args).catch((thrown: unknown) => thrown);
    if (outcome instanceof Error) throw outcome;
    if (outcome instanceof Response)
      return { status: outcome.status, location: outcome.headers.get("Location"), data: undefined };
    const { init, data } = (outcome ?? {}) as { init?: { status?: number }; data?: unknown };
    return { status: init?.status ?? 200, location: null, data: init ? data : outcome };
  }
  return {
    see: (address: string) => call("loader", address),
    send: (address: string, ...fields: [string, string][]) => call("action", address, fields),
  };
}
