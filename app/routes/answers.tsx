import { Link } from "react-router";
import { z } from "zod";
import { ANSWERS } from "#core/candidates/questions";
import { mayDo } from "#server/auth/levels";
import type { Person } from "#server/auth/person";
import { database } from "#server/db/database";
import { readPage } from "#server/db/page";
import { answerQuestion, takeAnswerBack } from "#server/intake/questions/commands";
import { listKeptAnswers, type GivenAnswer } from "#server/intake/questions/sql";
import { ActLink } from "../components/ActLink";
import { Empty } from "../components/Empty";
import { LedgerHead } from "../components/LedgerHead";
import { Pages } from "../components/Pages";
import { previewUrl } from "../components/previewUrl";
import { fieldsOf, intent, intents } from "../fieldsOf";
import { act, look } from "../guard";
import { answerWords, channelOf } from "../intake/answerWords";
import { pageIn } from "../pageIn";
import { moment } from "../view/moment";
import type { Route } from "./+types/answers";

export const meta: Route.MetaFunction = () => [{ title: "Kept answers – Kalonomy" }];

export const loader = look(async ({ request, person }: Route.LoaderArgs & { person: Person }) => ({
  ...(await readPage(pageIn(request), (slice) => listKeptAnswers(database(), slice))),
  mayMake: mayDo(person, "make"),
}));

const ACTS = intents(
  intent("answer", {
    intake: z.uuid(),
    question: z.string().max(20_000),
    answer: z.enum(ANSWERS),
    keep: z.boolean().default(false),
  }),
  intent("take-back", { answer: z.uuid() }),
);

export const action = act(async ({ form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
  const fields = fieldsOf(form, ACTS);
  if (fields.intent === "answer") {
    const { intake, question, answer, keep } = fields;
    return { answered: await answerQuestion(intake, { question, answer, keep }, person) };
  }
  await takeAnswerBack(fields.answer);
  return {};
});

/** The answers that hold for later files of their sources, with what each did. */
export default function Answers({ loaderData: { items, page, next, mayMake } }: Route.ComponentProps) {
  return (
    <div className="page">
      <p className="path">
        <Link to="/intakes">Intake</Link>
      </p>
      <h1>Kept answers</h1>
      {items.length === 0 && page === 1 ? (
        <Empty title="No answer is kept">
          <p>
            What is asked about an <Link to="/intakes">intake</Link> can be answered for later files that are
            named alike: such answers stand here, and can be taken back.
          </p>
        </Empty>
      ) : (
        <table className="ledger">
          <LedgerHead columns={["Files that end in", "Are", "Said by", "What it did", ""]} />
          <tbody>
            {items.map((answer) => (
              <Kept key={answer.id} answer={answer} mayMake={mayMake} />
            ))}
          </tbody>
        </table>
      )}
      <Pages page={page} next={next} />
    </div>
  );
}

function Kept({ answer, mayMake }: { answer: GivenAnswer; mayMake: boolean }) {
  const { id, mark, channel, asks, companions, by, at, files, intakes, examples } = answer;
  return (
    <tr>
      <th scope="row">
        <span className="file">{mark}</span>
        {asks === "role" && channel !== "color" && `, ${channelOf(channel).toLowerCase()}`}
        {companions.length > 0 && <span className="dim"> beside {companions.slice(0, 6).join(", ")}</span>}
      </th>
      <td>{answerWords(answer.answer)}</td>
      <td>
        {by}, {moment(at)}
      </td>
      <td>
        {examples.map(({ file, sha256, channel, name, intake, material }) => (
          <Link
            key={`${intake} ${file}`}
            to={material ? `/materials/${material}` : `/intakes/${intake}`}
            title={`${name}: ${file}`}
          >
            <img
              className="thumb"
              src={previewUrl(sha256, 64, channel)}
              alt={`${name}: ${file}`}
              loading="lazy"
            />
          </Link>
        ))}{" "}
        {files === 1 ? "one file" : `${files} files`} of {intakes === 1 ? "one intake" : `${intakes} intakes`}
      </td>
      <td>
        {mayMake && (
          <ActLink
            to="/answers"
            fields={{ intent: "take-back", answer: id }}
            title="Later files are asked about again, and so are those that wait. What is in the library stays."
          >
            Take back
          </ActLink>
        )}
      </td>
    </tr>
  );
}
