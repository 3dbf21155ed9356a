import { Form as Fields } from "react-bootstrap";
import { MUCH_STRETCH, type GaugeResult, type Keep, type PixelSize } from "#core/gauge/repeat";
import { formatLength, formatSize } from "#core/length/formatLength";
import type { LengthUnit } from "#core/length/parseLength";

interface ResultProps {
  result: GaugeResult;
  image: PixelSize;
  /** Address of a small preview. */
  picture: string;
  keep: string;
  meant: boolean;
  unit: LengthUnit;
  onKeep(keep: Keep): void;
  onMeant(meant: boolean): void;
}

/** Half a millimetre in a metre is less than anybody can see or measure on an image, in percent. */
const AGREES = 0.05;

const CHOICES: [Keep, string][] = [
  ["both", "Stretch the image: both are right"],
  ["width", "Keep proportions, the width is right"],
  ["height", "Keep proportions, the height is right"],
  ["between", "Keep proportions, both a little off"],
];

/** Whether a stretch has to be meant by somebody before it is saved. */
export const isMuch = ({ stretchPercent }: Pick<GaugeResult, "stretchPercent">) =>
  Math.abs(stretchPercent) > MUCH_STRETCH;

/** What the numbers give, how far it may be off, and where width and height disagree, the choice of what to do about it. */
export function Result({ result, image, picture, keep, meant, unit, onKeep, onMeant }: ResultProps) {
  const off = result.disagreementPercent;
  return (
    <div className="gauge-result" role="status">
      <p className="gauge-size number">{formatSize(result.repeat, unit)}</p>
      <p className="number dim">
        {Math.round(result.densityX)} × {Math.round(result.densityY)} px/m
        {result.errorPercent > 0 && (
          <>
            {" "}
            · ± {result.errorPercent.toFixed(2)} %, {formatLength(result.errorPercent * 10, unit)} in a metre
          </>
        )}
      </p>
      {Math.abs(off) < AGREES ? (
        <p>Width and height agree: nothing is stretched.</p>
      ) : (
        <fieldset>
          <legend>
            Width and height disagree by <span className="number">{signed(off)} %</span>,{" "}
            {formatLength(Math.abs(off) * 10, unit)} in a metre.
          </legend>
          <BeforeAndAfter result={result} image={image} picture={picture} />
          {CHOICES.map(([value, label]) => (
            <Fields.Check
              key={value}
              type="radio"
              id={`keep-${value}`}
              name="keep"
              value={value}
              label={label}
              checked={keep === value}
              onChange={() => onKeep(value)}
            />
          ))}
          {isMuch(result) && (
            <Fields.Check
              className="mark-look"
              id="meant"
              name="meant"
              checked={meant}
              label={`More than ${MUCH_STRETCH} %: I mean this stretch`}
              onChange={(event) => onMeant(event.target.checked)}
            />
          )}
        </fieldset>
      )}
    </div>
  );
}

const SIDE_PX = 118;

/** The picture with square pixels, and as it will be, both as wide as high can be; the outline is the one before. */
function BeforeAndAfter({
  result,
  image,
  picture,
}: {
  result: GaugeResult;
  image: PixelSize;
  picture: string;
}) {
  const ratio = result.repeat.height / result.repeat.width;
  const tallest = Math.max(ratio, image.height / image.width);
  const width = Math.min(SIDE_PX, SIDE_PX / tallest);
  const before = { width, height: (width * image.height) / image.width };
  const after = { width, height: width * ratio };
  return (
    <div className="before-after">
      <figure>
        <span style={{ ...before, backgroundImage: `url(${picture})` }} />
        <figcaption>before</figcaption>
      </figure>
      <figure>
        <span style={{ ...after, backgroundImage: `url(${picture})` }}>
          <i style={before} />
        </span>
        <figcaption>after</figcaption>
      </figure>
    </div>
  );
}

const signed = (value: number) => `${value > 0 ? "+" : "−"}${Math.abs(value).toFixed(2)}`;
