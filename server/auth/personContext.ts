import { createContext } from "react-router";
import type { Person } from "#server/auth/person";

/** Who asks for a page, for loaders and actions; null for somebody signed out. */
export const personContext = createContext<Person | null>(null);

/** The address that asks, for limiting attempts to sign in. */
export const addressContext = createContext<string>("unknown");

/** The number of the request, by which the log is searched. */
export const requestContext = createContext<string>("");

/** Lets the page's own scripts run under the content security policy. */
export const nonceContext = createContext<string>("");
