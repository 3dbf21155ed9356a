import { useId } from "react";
import { Form as Fields } from "react-bootstrap";
import { MORE_MAPS, QUESTIONS, takesMap, withOrWithoutMap } from "#core/convert/questions";
import type { Profile } from "#core/convert/profile";
import type { FinishField } from "#core/finish/finish";
import { ENTERED_VALUES } from "#core/finish/enteredValues";
import { FINISH_VALUES } from "#core/finish/valueFacts";
import { ROLE_NAMES } from "#core/roles/roles";
import { Button } from "../components/Button";

interface ProfileFieldsProps {
  profile: Profile;
  /** Whether it is only to be read. */
  isFixed: boolean;
  onChange(profile: Profile): void;
}

/** A profile as questions to whoever uses the renderer, and below them how it calls things. */
export function ProfileFields({ profile, isFixed, onChange }: ProfileFieldsProps) {
  const change = (values: Partial<Profile>) => onChange({ ...profile, ...values });
  return (
    <fieldset disabled={isFixed} className="profile-fields">
      <legend className="visually-hidden">What the renderer wants</legend>
      {!isFixed && (
        <>
          <Text label="Name" value={profile.name} max={80} onChange={(name) => change({ name })} />
          <Text
            label="In a sentence"
            value={profile.description}
            max={600}
            onChange={(description) => change({ description })}
          />
        </>
      )}
      <h2>Questions</h2>
      {QUESTIONS.filter(({ applies }) => applies?.(profile) !== false).map((question) => (
        <Asked key={question.id} question={question} profile={profile} onChange={onChange} />
      ))}
      <div className="asked">
        <span id="more-maps">Which of these does it take an image for?</span>
        <div role="group" aria-labelledby="more-maps" className="more-maps">
          {MORE_MAPS.map((role) => (
            <Fields.Check
              key={role}
              id={`takes-${role}`}
              label={ROLE_NAMES[role]}
              checked={takesMap(profile, role)}
              onChange={(event) => onChange(withOrWithoutMap(profile, role, event.target.checked))}
            />
          ))}
        </div>
      </div>
      <Inputs profile={profile} onChange={onChange} />
      <Values profile={profile} onChange={onChange} />
      <Names profile={profile} onChange={onChange} />
      <Steps profile={profile} onChange={onChange} isFixed={isFixed} />
    </fieldset>
  );
}

type Part = Pick<ProfileFieldsProps, "profile" | "onChange">;

function Text(props: { label: string; value: string; max: number; onChange(value: string): void }) {
  const { label, value, max, onChange } = props;
  return (
    <Fields.Group controlId={useId()} className="mb-2">
      <Fields.Label>{label}</Fields.Label>
      <Fields.Control
        size="sm"
        value={value}
        maxLength={max}
        onChange={(event) => onChange(event.target.value)}
      />
    </Fields.Group>
  );
}

function Asked({ question, profile, onChange }: Part & { question: (typeof QUESTIONS)[number] }) {
  const { id, asks, hint, options } = question;
  const value = question.read(profile);
  return (
    <div className="asked">
      <label htmlFor={`asked-${id}`}>{asks}</label>
      <Fields.Select
        size="sm"
        id={`asked-${id}`}
        value={value}
        aria-describedby={hint && `hint-${id}`}
        onChange={(event) => onChange(question.answer(profile, event.target.value))}
      >
        {value === "other" && <option value="other">otherwise than any of these</option>}
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.says}
          </option>
        ))}
      </Fields.Select>
      {hint && (
        <p id={`hint-${id}`} className="dim">
          {hint}
        </p>
      )}
    </div>
  );
}

const CHANNELS = ["red", "green", "blue"];

function Inputs({ profile, onChange }: Part) {
  const set = (at: number, change: { slot?: string; suffix?: string }) =>
    onChange({
      ...profile,
      outputs: profile.outputs.map((output, i) => (i === at ? { ...output, ...change } : output)),
    });
  return (
    <>
      <h2>What it calls its inputs</h2>
      <table className="ledger tight">
        <thead>
          <tr>
            <th scope="col">Gets</th>
            <th scope="col">Input</th>
            <th scope="col">Ending of the file name</th>
          </tr>
        </thead>
        <tbody>
          {profile.outputs.map((output, at) => {
            const gets =
              output.kind === "map"
                ? ROLE_NAMES[output.role]
                : output.channels.map((role, i) => `${CHANNELS[i]} ${ROLE_NAMES[role]}`).join(", ");
            return (
              <tr key={gets}>
                <th scope="row">{gets}</th>
                <td>
                  <Fields.Control
                    size="sm"
                    aria-label={`Input for ${gets}`}
                    value={output.slot}
                    onChange={(event) => set(at, { slot: event.target.value })}
                  />
                </td>
                <td>
                  <Fields.Control
                    size="sm"
                    className="number"
                    aria-label={`Ending of the file name for ${gets}`}
                    value={output.suffix}
                    onChange={(event) => set(at, { suffix: event.target.value })}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </>
  );
}

function Values({ profile, onChange }: Part) {
  const set = (field: FinishField, name: string | undefined) => {
    const { [field]: _, ...rest } = profile.values;
    onChange({ ...profile, values: name === undefined ? rest : { ...rest, [field]: name } });
  };
  return (
    <details>
      <summary>
        Values that are entered by hand: {Object.keys(profile.values).length} of {ENTERED_VALUES.length}
      </summary>
      <table className="ledger tight">
        <tbody>
          {ENTERED_VALUES.map((field) => {
            const { name } = FINISH_VALUES[field];
            const input = profile.values[field];
            return (
              <tr key={field}>
                <th scope="row">
                  <Fields.Check
                    id={`value-${field}`}
                    label={name}
                    checked={input !== undefined}
                    onChange={(event) => set(field, event.target.checked ? name : undefined)}
                  />
                </th>
                <td>
                  {input !== undefined && (
                    <Fields.Control
                      size="sm"
                      aria-label={`Input for the value ${name}`}
                      value={input}
                      onChange={(event) => set(field, event.target.value)}
                    />
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}

function Names({ profile, onChange }: Part) {
  const set = (change: Partial<Profile["names"]>) =>
    onChange({ ...profile, names: { ...profile.names, ...change } });
  return (
    <details>
      <summary>
        Names:{" "}
        <span className="file">{[profile.names.folder, profile.names.file].filter(Boolean).join("/")}</span>
      </summary>
      <Text
        label="Folder of each material; empty where all lie beside each other"
        value={profile.names.folder}
        max={120}
        onChange={(folder) => set({ folder })}
      />
      <Text label="File" value={profile.names.file} max={120} onChange={(file) => set({ file })} />
      <p className="dim">
        {"{material}"} stands for the material’s file name, {"{code}"} for its code, {"{suffix}"} for the
        ending above.
      </p>
    </details>
  );
}

const WHEN: Record<Profile["steps"][number]["when"], string> = {
  always: "always",
  images: "where there are images",
  repeat: "where there is a size",
  normal: "with a normal map",
  height: "with a height",
  opacity: "with an opacity map",
  values: "where values are to be entered",
  wear: "with wear",
  plain: "for plain colours",
};

function Steps({ profile, onChange, isFixed }: ProfileFieldsProps) {
  const set = (steps: Profile["steps"]) => onChange({ ...profile, steps });
  const change = (at: number, step: Partial<Profile["steps"][number]>) =>
    set(profile.steps.map((one, i) => (i === at ? { ...one, ...step } : one)));
  return (
    <details>
      <summary>What is left to do at the receiving end: {profile.steps.length} sentences</summary>
      {profile.steps.map(({ when, text }, at) => (
        <div key={at} className="step-fields">
          <Fields.Select
            size="sm"
            aria-label={`When sentence ${at + 1} holds`}
            value={when}
            onChange={(event) => change(at, { when: event.target.value as keyof typeof WHEN })}
          >
            {Object.entries(WHEN).map(([value, says]) => (
              <option key={value} value={value}>
                {says}
              </option>
            ))}
          </Fields.Select>
          <Fields.Control
            as="textarea"
            rows={2}
            size="sm"
            aria-label={`Sentence ${at + 1}`}
            maxLength={500}
            value={text}
            onChange={(event) => change(at, { text: event.target.value })}
          />
          {!isFixed && (
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() => set(profile.steps.filter((_, i) => i !== at))}
            >
              Remove
            </Button>
          )}
        </div>
      ))}
      {!isFixed && (
        <Button
          size="sm"
          variant="outline-secondary"
          onClick={() => set([...profile.steps, { when: "always", text: "" }])}
        >
          Add a sentence
        </Button>
      )}
      <p className="dim">
        {"{width}"}, {"{height}"}, {"{unit}"}, {"{amplitude}"}, {"{middle}"}, {"{name}"} and {"{values}"} are
        filled in.
      </p>
    </details>
  );
}
