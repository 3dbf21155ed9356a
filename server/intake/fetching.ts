import { ROLE_NAMES } from "#core/roles/roles";
import { type Order, type Line, keyOf } from "#core/supply/catalogue";
import type { Person } from "#server/auth/person";
import { inTransaction } from "#server/db/database";
import { announce } from "#server/events/events";
import { type IntakeRow, findIntake } from "#server/intake/queries";
import { type IntakeOptions, insertIntake, lockFetch, setIntakeState } from "#server/intake/writes";
import { addJob } from "#server/jobs/queue";
import { Problem, badField, notFound, conflict } from "#server/problem";
import { readCatalogue } from "#server/supplier/catalogue";

/** Why there is no catalogue: the service has a fault, or none is set up. */
export const noCatalogue = (fault: string | null) =>
  fault === null
    ? new Problem(404, "No catalogue", "No suppliers' service is set up: KALONOMY_SUPPLIERS names none.")
    : new Problem(503, "No catalogue", fault);

/** Begins an intake whose files a supplier sends. @throws {Problem} where the order does not fit what is on offer */
export async function startFetch(order: Order, options: IntakeOptions, person: Person): Promise<IntakeRow> {
  const { catalogue, fault } = await readCatalogue();
  if (!catalogue) throw noCatalogue(fault);
  const line = checkOrder(order, catalogue.lines);
  return inTransaction(async (db) => {
    const id = await insertIntake(db, person.id, {
      ...options,
      fetch: { order, supplier: line.supplier, line: line.name },
    });
    await addJob(db, "fetch-products", { intake: id });
    await announce(db, { topic: "intake", id, state: "receiving" });
    return (await findIntake(db, id))!;
  });
}

/** The line of an order. @throws {Problem} by the field that does not fit what is on offer */
export function checkOrder(order: Order, lines: Line[]): Line {
  const line = lines.find(({ id }) => id === order.line);
  if (!line) throw badField("/line", `There is no line “${order.line}”.`);
  const seen = new Set<string>();
  for (const [at, { code, joint }] of order.products.entries()) {
    if (seen.has(keyOf(code, joint))) throw badField(`/products/${at}`, `“${code}” is asked for twice.`);
    seen.add(keyOf(code, joint));
    const product = line.products.find((one) => one.code === code);
    if (!product) throw badField(`/products/${at}/code`, `${line.name} has no product “${code}”.`);
    if (joint === null ? product.joints.length > 0 : !product.joints.some(({ id }) => id === joint))
      throw badField(
        `/products/${at}/joint`,
        `${product.name} comes with ${product.joints.map(({ id }) => id).join(", ") || "no joint"}.`,
      );
  }
  if (line.layout !== "plain" && !line.pixels.includes(order.pixels))
    throw badField("/pixels", `${line.name} comes in ${line.pixels.join(", ")} px.`);
  if (line.layout === "plain") return line;
  if (order.roles.length === 0) throw badField("/roles", "Choose one map or more.");
  const lacking = order.roles.find((role) => !line.roles.includes(role));
  if (lacking) throw badField("/roles", `${line.name} has no ${ROLE_NAMES[lacking]} map.`);
  if (!line.types.includes(order.type))
    throw badField("/type", `${line.name} comes as ${line.types.join(", ")}, not as ${order.type}.`);
  return line;
}

/** Tries a failed fetch again, or breaks a running one off. @throws {Problem} where that cannot be */
export async function changeFetch(id: string, wish: "again" | "stop", person: Person): Promise<IntakeRow> {
  return inTransaction(async (db) => {
    const intake = await findIntake(db, id);
    if (!intake?.fetch) throw notFound("fetch");
    if (wish === "stop") {
      if (!(await lockFetch(db, id))) throw conflict("It is not being fetched any more.");
      await setIntakeState(db, id, "failed", `${person.name} stopped it before it had come.`);
    } else {
      if (intake.state !== "failed" || intake.files > 0)
        throw conflict(`It is “${intake.state}”; only a fetch that failed can be tried again.`);
      await setIntakeState(db, id, "receiving");
      await addJob(db, "fetch-products", { intake: id });
    }
    await announce(db, { topic: "intake", id, state: wish === "stop" ? "failed" : "receiving" });
    return (await findIntake(db, id))!;
  });
}
