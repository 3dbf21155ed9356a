import { useMemo } from "react";
import { Alert } from "react-bootstrap";
import { Form, Link, redirect, useNavigation, useSearchParams } from "react-router";
import type { SizeState } from "#core/finish/material";
import { mayDo } from "#server/auth/levels";
import { database } from "#server/db/database";
import { listReadings } from "#server/images/queries";
import { findIntake, listIgnored, waitingCandidates } from "#server/intake/queries";
import { say } from "#core/findings/say";
import { SHOWN } from "#core/candidates/shown";
import { listMoves } from "#server/intake/arrange/sql";
import { fileOf } from "#core/roles/channel";
import { questionsAbout } from "#server/intake/questions/commands";
import { listAnswersOf } from "#server/intake/questions/sql";
import { commonFindings, reviewCandidates, waitingFolders } from "#server/intake/review";
import { listUploads } from "#server/intake/receiving/sql";
import type { Person } from "#server/auth/person";
import { readStudio } from "#server/studio/sql";
import { accept } from "#server/intake/acceptance";
import { holdIntake, readAgain } from "#server/intake/commands";
import { readOptions } from "#server/intake/intakeOptions";
import { tryAgain } from "#server/intake/commands";
import { changeFetch } from "#server/intake/fetching";
import { Button } from "../components/Button";
import { Refusal } from "../components/Refusal";
import { act, found, idOf, look } from "../guard";
import { pageIn } from "../pageIn";
import { Aside } from "../intake/Aside";
import { BatchBar } from "../intake/BatchBar";
import { Arrange } from "../intake/Arrange";
import { Candidate } from "../intake/Candidate";
import { SHOWN_WORDS } from "../intake/shownWords";
import { Fetching } from "../intake/Fetching";
import { Questions, shownQuestion } from "../intake/Questions";
import { Reading } from "../intake/Reading";
import { titleOf } from "../intake/titleOf";
import { DropPlace } from "../intake/DropPlace";
import { readAcceptOptions, readChoices } from "../intake/readChoices";
import { refusalOf } from "../refusal";
import { useCatchUp, useFresh } from "../view/live";
import { useKept } from "../view/useKept";
import type { Route } from "./+types/intake";

export const meta: Route.MetaFunction = () => [{ title: "Intake – Kalonomy" }];

/** Rows on one page. */
const PAGE = 25;
/** Most questions that are shown at once; when they are answered, the next ones come. */
const QUESTIONS = 12;
/** So many moves of files are offered to be undone. */
const MOVES = 5;

export const loader = look(async ({ params, request, person }: Route.LoaderArgs & { person: Person }) => {
  const id = idOf(params);
  const db = database();
  const intake = found(await findIntake(db, id), "intake");
  const search = new URL(request.url).searchParams;
  const shown = SHOWN.find((kind) => kind === search.get("show")) ?? "all";
  const words = search.get("words") ?? "";
  const asked = pageIn(request);
  const at = (page: number) =>
    reviewCandidates(db, id, { shown, words, offset: (page - 1) * PAGE, limit: PAGE });
  const [first, waiting, common, questions, answers] = await Promise.all([
    at(asked),
    waitingFolders(db, id),
    commonFindings(db, id),
    intake.state === "review" ? questionsAbout(id) : [],
    intake.state === "review" ? listAnswersOf(db, id) : [],
  ]);
  const pages = Math.max(1, Math.ceil(first.total / PAGE));
  const page = Math.min(pages, asked);
  const here = page === asked ? first.items : (await at(page)).items;
  const readings = await listReadings(
    db,
    here.flatMap(({ maps }) => maps.map(({ sha256 }) => sha256)),
  );
  return {
    intake,
    here: here.map((candidate) => ({ ...candidate, findings: say(candidate.findings) })),
    filtered: first.total,
    counts: first.counts,
    waiting,
    common: common.map(({ count, finding }) => ({ count, ...say([finding])[0] })),
    questions: questions.slice(0, QUESTIONS).map(shownQuestion),
    asked: {
      questions: questions.length,
      // Channels of one file are questions of their own.
      files: new Set(
        questions.flatMap(({ channel, files }) =>
          files.map(({ candidate, file }) => `${candidate} ${fileOf({ file, channel })}`),
        ),
      ).size,
    },
    answers,
    moves: await listMoves(db, id, MOVES),
    shown,
    words,
    page,
    pages,
    readings: Object.fromEntries(
      readings.map(({ sha256, reading, repetition }) => [sha256, { reading, repetition }]),
    ),
    ignored: await listIgnored(db, id),
    nameRule: (await readStudio(db)).nameRule,
    arrived: intake.state === "receiving" ? await listUploads(db, id) : [],
    own: intake.personId === person.id,
    mayMake: mayDo(person, "make"),
  };
});

export const action = act(
  async ({ params, form, person }: Route.ActionArgs & { form: FormData; person: Person }) => {
    const id = idOf(params);
    const fetching = form.get("fetch");
    if (fetching === "again" || fetching === "stop") {
      await changeFetch(id, fetching, person);
      return { materials: [], skipped: [] };
    }
    if (form.get("again") === "set-aside") {
      const { itemSeconds, itemMib } = readOptions({
        itemSeconds: String(form.get("itemSeconds") ?? ""),
        itemMib: String(form.get("itemMib") ?? ""),
      });
      return redirect(`/intakes/${(await tryAgain(id, { itemSeconds, itemMib }, person)).id}`);
    }
    const hold = form.get("hold");
    if (hold === "read-again") {
      await readAgain(id);
      return { materials: [], skipped: [] };
    }
    if (hold === "pause" || hold === "go-on" || hold === "stop") {
      await holdIntake(id, hold);
      return { materials: [], skipped: [] };
    }
    const choices = readChoices(form, await waitingCandidates(database(), id));
    return accept(id, choices, person, readAcceptOptions(form));
  },
);

export default function Intake({ loaderData, actionData: answer }: Route.ComponentProps) {
  const actionData = useKept(answer);
  const { intake, here, waiting, ignored, mayMake } = loaderData;
  const busy = useNavigation().state === "submitting";
  useCatchUp(
    intake.id,
    intake.state === "reading" ||
      intake.judging > 0 ||
      (intake.fetch !== null && intake.state === "receiving"),
  );
  useFresh((event) => event.topic === "intake" && event.id === intake.id && !event.progress);
  const accepted = actionData && !refusalOf(actionData) && "materials" in actionData ? actionData : undefined;
  const tells = accepted && accepted.materials.length + accepted.skipped.length > 0;
  const reading = intake.state === "reading";
  const targets = useMemo(
    () => here.filter(({ state }) => state === "waiting").map(({ id, name }) => ({ id, name })),
    [here],
  );
  const rows = here.map((candidate) => (
    <Candidate
      key={candidate.id}
      candidate={candidate}
      readings={loaderData.readings}
      mayMake={mayMake}
      busy={busy}
      onClash={intake.onClash}
      common={loaderData.common.map(({ code }) => code)}
    />
  ));
  const candidates =
    mayMake && intake.state === "review" ? (
      <Arrange intake={intake.id} targets={targets} moves={loaderData.moves}>
        {rows}
      </Arrange>
    ) : (
      rows
    );

  return (
    <div className="page">
      <p className="path">
        <Link to="/intakes">Intake</Link>
      </p>
      <h1>{titleOf(intake) || intake.fetch?.line || "Coming in"}</h1>
      {intake.fetch && <Fetching key={intake.state} intake={intake} fetch={intake.fetch} mayMake={mayMake} />}
      {intake.state === "receiving" && !intake.fetch && mayMake && loaderData.own && (
        <DropPlace goOn={{ id: intake.id, expected: intake.expected ?? 0, arrived: loaderData.arrived }} />
      )}
      {reading && (
        <Form method="post">
          <Reading intake={intake} mayMake={mayMake} />
        </Form>
      )}
      {intake.failure && !(intake.fetch && intake.files === 0) && (
        <Alert variant="danger">
          <p>{intake.failure} Nothing was taken into the library; the files are kept.</p>
          {mayMake && (
            <Form method="post">
              <Button type="submit" name="hold" value="read-again" size="sm">
                Read again
              </Button>
            </Form>
          )}
        </Alert>
      )}
      <Refusal result={actionData} />
      {tells && <Accepted {...accepted} intake={intake.id} />}
      <Questions
        intake={intake.id}
        questions={loaderData.questions}
        total={loaderData.asked}
        answers={loaderData.answers}
        judging={intake.judging}
        mayMake={mayMake}
      />
      <Common common={loaderData.common} waiting={loaderData.counts.waiting} />
      {loaderData.counts.all > 0 && <Sentence {...loaderData} />}
      <Form method="post">
        {mayMake && waiting.first && loaderData.counts.waiting > 1 && (
          <BatchBar
            folders={waiting.folders}
            first={waiting.first}
            waiting={loaderData.counts.waiting}
            nameRule={loaderData.nameRule}
            shown={here.filter(({ state }) => state === "waiting").length}
            busy={busy}
          />
        )}
        {candidates}
      </Form>
      <Pages page={loaderData.page} pages={loaderData.pages} />
      {intake.state === "review" && loaderData.counts.all === 0 && (
        <Alert variant="warning">Nothing in it could be read as a texture. The list below says why.</Alert>
      )}
      {ignored.length > 0 && (
        <Aside
          key={intake.id}
          ignored={ignored}
          mayMake={mayMake && !reading}
          limits={{ seconds: intake.itemSeconds, mebibytes: intake.itemMib }}
        />
      )}
      {!reading && (
        <p className="acts">
          <a href={`/api/v1/intakes/${intake.id}/account`}>Account of every file, as a table (CSV)</a>
        </p>
      )}
    </div>
  );
}

type Loaded = Route.ComponentProps["loaderData"];

/** What most of them have in common, said once. */
function Common({ common, waiting }: { common: Loaded["common"]; waiting: number }) {
  if (common.length === 0) return null;
  return (
    <details className="findings-folded">
      <summary>
        {common.length === 1 ? "One remark" : `${common.length} remarks`} on most of the {waiting} that wait
      </summary>
      <ul>
        {common.map(({ code, count, message }) => (
          <li key={code}>
            On {count}, for instance: {message}
          </li>
        ))}
      </ul>
    </details>
  );
}

/** Which candidates are shown: one sentence whose words are the controls. */
function Sentence({ counts, shown, words, filtered }: Loaded) {
  const [, setSearch] = useSearchParams();
  const set = (key: string, value: string) =>
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        if (value === "" || value === "all") next.delete(key);
        else next.set(key, value);
        next.delete("page");
        return next;
      },
      { preventScrollReset: true },
    );
  return (
    <div className="sentence">
      Showing{" "}
      <label>
        <span className="visually-hidden">Which candidates</span>
        <select value={shown} onChange={(event) => set("show", event.target.value)}>
          {SHOWN.filter((key) => key === shown || counts[key] > 0).map((key) => (
            <option key={key} value={key}>
              {SHOWN_WORDS[key]} ({counts[key]})
            </option>
          ))}
        </select>
      </label>{" "}
      <label>
        with the words{" "}
        <input
          type="search"
          defaultValue={words}
          placeholder="any"
          onKeyDown={(event) => {
            if (event.key === "Enter") set("words", event.currentTarget.value.trim());
          }}
          onBlur={(event) => {
            if (event.target.value.trim() !== words) set("words", event.target.value.trim());
          }}
        />
      </label>{" "}
      <span className="number dim">
        {filtered} of {counts.all}
      </span>
    </div>
  );
}

function Pages({ page, pages }: { page: number; pages: number }) {
  const [search] = useSearchParams();
  if (pages < 2) return null;
  const to = (n: number) => {
    const next = new URLSearchParams(search);
    next.set("page", String(n));
    return `?${next}`;
  };
  return (
    <nav className="pages" aria-label="Pages">
      {page > 1 && <Link to={to(page - 1)}>Earlier</Link>}
      <span className="number">
        {page} of {pages}
      </span>
      {page < pages && <Link to={to(page + 1)}>Later</Link>}
    </nav>
  );
}

/** Which of them have no size yet: a supplier may have given it. */
function sizesOf(materials: { sizeState: SizeState }[]): string {
  const unknown = materials.filter(({ sizeState }) => sizeState === "unknown").length;
  if (unknown === 0) return materials.length === 1 ? "Its size came with it." : "Their sizes came with them.";
  if (unknown < materials.length)
    return `${unknown} of them ${unknown === 1 ? "has" : "have"} no size until you gauge ${unknown === 1 ? "it" : "them"}.`;
  return materials.length === 1
    ? "Its size is unknown until you gauge it."
    : "Their sizes are unknown until you gauge them.";
}

function Accepted({
  materials,
  skipped,
  intake,
}: {
  intake: string;
  materials: { id: string; name: string; sizeState: SizeState }[];
  skipped: { name: string; reason: string }[];
}) {
  return (
    <Alert variant={materials.length > 0 ? "success" : "warning"}>
      {materials.length > 0 && (
        <p className="mb-1">
          In the library:{" "}
          {materials.slice(0, 12).map(({ id, name }, at) => (
            <span key={id}>
              {at > 0 && ", "}
              <Link to={`/materials/${id}/gauge`}>{name}</Link>
            </span>
          ))}
          {materials.length > 12 && ` and ${materials.length - 12} more`}. {sizesOf(materials)}{" "}
          {materials.some(({ sizeState }) => sizeState !== "known") && (
            <Link to={`/sizes?${new URLSearchParams({ intake })}`}>Find their sizes</Link>
          )}
        </p>
      )}
      {skipped.slice(0, 20).map(({ name, reason }, at) => (
        <p key={at} className="mb-0">
          {name}: {reason}
        </p>
      ))}
      {skipped.length > 20 && (
        <p className="mb-0">{skipped.length - 20} more were skipped; the account lists them.</p>
      )}
    </Alert>
  );
}
