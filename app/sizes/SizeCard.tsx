import { useMemo, useState } from "react";
import { Link } from "react-router";
import { SURE } from "#core/gauge/findModules";
import type { Format } from "#core/gauge/formats";
import { kindsOf } from "#core/gauge/proposeSizes";
import type { LengthUnit } from "#core/length/parseLength";
import { Button } from "../components/Button";
import { BOND_WORDS } from "../gauge/bondWords";
import type { CardEdit, CardState } from "./cardState";
import { CountedPicture } from "./CountedPicture";
import { KeepFormat } from "./KeepFormat";
import { ModuleField } from "./ModuleField";
import { reasonWords } from "./sizeChoice";

interface SizeCardProps {
  state: CardState;
  /** How many others on the sheet are laid as this one is. */
  alike: number;
  formats: readonly Format[];
  unit: LengthUnit;
  /** Where to come back to. */
  sheet: string;
  mayMake: boolean;
  /** It has been asked for already. */
  isTaken: boolean;
  onEdit(edit: CardEdit): void;
  onTake(withAlike: boolean): void;
}

/** One material without a size: its picture, what is counted in it, what it is made of, and the size that follows. */
export function SizeCard({
  state,
  alike,
  formats,
  unit,
  sheet,
  mayMake,
  isTaken,
  onEdit,
  onTake,
}: SizeCardProps) {
  const { item, across, down, count, lattice, choice, size, trouble, isSure, isMuch } = state;
  const [asked, setAsked] = useState(false);
  const { name, code, modules, family } = item;
  const kinds = useMemo(() => kindsOf({ family, words: [name] }), [family, name]);
  const columns = count?.across !== undefined && !count.bond.startsWith("herringbone");
  const to = `/materials/${item.id}/gauge?${new URLSearchParams({ sheet })}`;
  const take = (withAlike: boolean) => {
    if (isMuch && !asked) return setAsked(true);
    onTake(withAlike);
  };
  const number = (key: "across" | "down", value: string, label: string) => (
    <input
      className="form-control form-control-sm number"
      inputMode="numeric"
      aria-label={`${label} in ${name}`}
      value={value}
      placeholder="–"
      disabled={!mayMake}
      onChange={(event) => onEdit({ [key]: event.target.value.trim() })}
    />
  );
  return (
    <li className={`size-card${isTaken ? " taken" : ""}`} aria-label={name}>
      <CountedPicture
        image={item.image}
        lattice={lattice}
        columns={columns}
        repeat={size?.repeat}
        isSure={isSure}
      />
      <p className="size-name">
        <Link to={to} title={name}>
          {name}
        </Link>{" "}
        <span className="number dim">{code}</span>
      </p>
      <p className="size-count">
        {number("across", across, "Modules across")} × {number("down", down, "Courses up")}{" "}
        <CountWords modules={modules} isEdited={count?.sure === 0} />
      </p>
      <ModuleField
        name={name}
        proposals={item.proposals}
        formats={formats}
        kinds={kinds}
        isCounted={count !== undefined}
        unit={unit}
        chosen={choice}
        onChoose={(chosen) => onEdit({ choice: chosen })}
      />
      <p className="size-why">
        {trouble ? (
          <span className="mark look">{trouble}</span>
        ) : choice?.reason ? (
          <>
            {isSure ? "sure: " : <span className="mark look">not sure:</span>} {reasonWords(choice)}
            {size && Math.abs(size.stretchPercent) >= 0.5 && (
              <span className="number dim"> stretch {size.stretchPercent.toFixed(1)} %</span>
            )}
          </>
        ) : choice ? (
          <span className="dim">
            {size && `stretch ${size.stretchPercent.toFixed(1)} %`}
            {"module" in choice && choice.isTyped && mayMake && (
              <KeepFormat module={choice.module} family={item.family} />
            )}
          </span>
        ) : (
          <span className="dim">
            {modules === null
              ? "Once it is counted, sizes are proposed."
              : "Nothing is proposed. Say what it is, or how large."}
          </span>
        )}
      </p>
      {mayMake && (
        <div className="size-acts">
          <Button
            size="sm"
            variant={isSure ? "primary" : "outline-secondary"}
            disabled={!size || isTaken}
            title={size ? undefined : "Say what it is, or how large, first."}
            aria-label={`Take for ${name}`}
            onClick={() => take(false)}
          >
            {isTaken
              ? "Taken"
              : asked && isMuch
                ? `Stretch by ${size!.stretchPercent.toFixed(1)} %?`
                : "Take"}
          </Button>
          {alike > 0 && size && !isTaken && (
            <Button
              size="sm"
              variant="outline-secondary"
              aria-label={`Take for ${name} and ${alike} alike`}
              onClick={() => take(true)}
            >
              and {alike} alike
            </Button>
          )}
        </div>
      )}
    </li>
  );
}

function CountWords({ modules, isEdited }: { modules: CardState["item"]["modules"]; isEdited: boolean }) {
  if (modules === null) return <span role="status">counting…</span>;
  const count = modules?.count;
  if (isEdited) return <span className="dim">as you count</span>;
  if (!count || (count.across === undefined && count.down === undefined))
    return <span className="dim">{modules === undefined ? "nothing to count" : "nothing repeats"}</span>;
  const isSure = count.sure >= SURE;
  return (
    <span className={isSure ? "dim" : "mark look"}>
      {isSure ? "counted" : "perhaps"}
      {BOND_WORDS[count.bond]}
    </span>
  );
}
