import { useId, useState } from "react";
import { Link, useFetcher } from "react-router";
import type { Question } from "#core/candidates/questions";
import { lastName } from "#core/maps/lastName";
import { fileOf } from "#core/roles/channel";
import type { action } from "../routes/answers";
import { ActLink } from "../components/ActLink";
import { Button } from "../components/Button";
import { previewUrl } from "../components/previewUrl";
import { Refusal } from "../components/Refusal";
import { refusalOf } from "../refusal";
import { answerWords, channelOf } from "./answerWords";
import { RoleOptions } from "./RoleOptions";

/** So many of its files are shown with a question; the others are counted. */
const PICTURES = 8;

/** A question with the first of its files. */
export type QuestionShown = Question & { count: number };

export const shownQuestion = (question: Question): QuestionShown => ({
  ...question,
  files: question.files.slice(0, PICTURES),
  count: question.files.length,
});

interface QuestionsProps {
  intake: string;
  questions: QuestionShown[];
  /** How many there are in all, about how many files. */
  total: { questions: number; files: number };
  answers: AnswerShown[];
  /** How many candidates are being judged anew, since somebody has told of them. */
  judging: number;
  mayMake: boolean;
}

export interface AnswerShown {
  id: string;
  asks: Question["asks"];
  channel: Question["channel"];
  mark: string;
  answer: Parameters<typeof answerWords>[0];
  isKept: boolean;
  by: string;
  files: number;
  examples: { file: string; sha256: string; channel: Question["channel"] }[];
}

/** What is asked about an intake: once for all files that share it, with their pictures; and what was answered. */
export function Questions({ intake, questions, total, answers, judging, mayMake }: QuestionsProps) {
  if (questions.length === 0 && answers.length === 0 && judging === 0) return null;
  return (
    <section className="questions" aria-label="Questions">
      {total.questions > 0 && (
        <h2>
          {total.questions === 1 ? "One question" : `${total.questions} questions`} about{" "}
          {total.files === 1 ? "one file" : `${total.files} files`}
          {total.questions > questions.length && `: the first ${questions.length}`}
        </h2>
      )}
      {mayMake &&
        questions.map((question) => (
          <Asked key={question.key} intake={intake} question={question} isDrawn={judging === 0} />
        ))}
      {answers.length > 0 && (
        <ul className="done-list">
          {answers.map((answer) => (
            <Given key={answer.id} answer={answer} mayMake={mayMake} />
          ))}
        </ul>
      )}
      {judging > 0 && (
        <p className="dim" role="status">
          {judging === 1 ? "One candidate is" : `${judging} candidates are`} being judged again…
        </p>
      )}
      <p className="aside">
        <Link to="/answers">Answers that are kept for later files</Link>
      </p>
    </section>
  );
}

interface AskedProps {
  intake: string;
  question: QuestionShown;
  /** Whether pictures of single channels are there: they are drawn while a set is judged. */
  isDrawn: boolean;
}

function Asked({ intake, question, isDrawn }: AskedProps) {
  const { key, asks, mark, companions, channel, likely, apart, files, count } = question;
  const fetcher = useFetcher<typeof action>();
  const [answer, setAnswer] = useState("");
  const label = useId();
  const isBusy = fetcher.state !== "idle";
  const many = count > 1;
  const data = fetcher.data;
  const left = (data && !refusalOf(data) && "answered" in data && data.answered?.left) || 0;
  return (
    <fetcher.Form method="post" action="/answers" className="question" aria-labelledby={label}>
      <input type="hidden" name="intent" value="answer" />
      <input type="hidden" name="intake" value={intake} />
      <input type="hidden" name="question" value={key} />
      <ul className="question-files">
        {files.map((file) => (
          <li key={`${file.candidate} ${file.file}`}>
            <img key={String(isDrawn)} src={previewUrl(file.sha256, 256, channel)} alt="" loading="lazy" />
            <span className="file">{lastName(fileOf({ ...file, channel }))}</span>
          </li>
        ))}
        {count > files.length && <li className="dim">and {count - files.length} more</li>}
      </ul>
      <p id={label} className="question-words">
        {many
          ? asks === "direction"
            ? `${count} normal maps`
            : channel === "color"
              ? `${count} files`
              : `${channelOf(channel)} of ${count} files`
          : asks === "direction"
            ? "A normal map"
            : channel === "color"
              ? "A file"
              : `${channelOf(channel)} of a file`}
        {mark !== "" && (
          <>
            {" "}
            {many ? "that end in" : "that ends in"} <span className="file">{mark}</span>
            {companions.length > 0 && `, beside ${companions.slice(0, 5).join(", ")}`}
          </>
        )}
      </p>
      <div className="question-acts">
        <label>
          {asks === "direction" ? "Green points" : many ? "They are" : "It is"}{" "}
          <select
            name="answer"
            value={answer}
            required
            onChange={(event) => setAnswer(event.target.value)}
            disabled={isBusy}
          >
            <option value="" disabled>
              choose…
            </option>
            {asks === "direction" ? (
              <>
                <option value="+Y">up, +Y</option>
                <option value="-Y">down, −Y</option>
              </>
            ) : (
              <RoleOptions likely={likely} leaveOut="to be left out" apart={apart} />
            )}
          </select>
        </label>
        {mark !== "" && (
          <label>
            <input type="checkbox" name="keep" /> later files named like {many ? "these" : "this"} too
          </label>
        )}
        <Button
          type="submit"
          size="sm"
          disabled={answer === "" || isBusy}
          title={answer === "" ? "Choose an answer first." : undefined}
        >
          {isBusy ? "Answering…" : many ? `Answer for all ${count}` : "Answer"}
        </Button>
      </div>
      {left > 0 && (
        <p className="aside" role="status">
          {left === 1 ? "The set of this one has" : "The sets of these have"} such a map already: say
          something else, or leave {left === 1 ? "it" : "them"} out.
        </p>
      )}
      <Refusal result={data} />
    </fetcher.Form>
  );
}

function Given({ answer, mayMake }: { answer: AnswerShown; mayMake: boolean }) {
  const { id, mark, files, by, isKept, examples } = answer;
  return (
    <li>
      {examples.slice(0, 3).map(({ file, sha256, channel }) => (
        <img key={file} className="thumb" src={previewUrl(sha256, 64, channel)} alt="" loading="lazy" />
      ))}{" "}
      {files === 1 ? "One file" : `${files} files`}
      {mark !== "" && (
        <>
          {" "}
          in <span className="file">{mark}</span>
        </>
      )}
      : {answerWords(answer.answer)}, said {by}
      {isKept && ", for later files too"}{" "}
      {mayMake && (
        <ActLink to="/answers" fields={{ intent: "take-back", answer: id }}>
          Take back
        </ActLink>
      )}
    </li>
  );
}
