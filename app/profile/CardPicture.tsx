import {
  MARKS,
  MARK_RADII,
  middleOf,
  NUMBER_CELLS,
  PATCHES,
  PATCH_SIDE,
  SCALE,
  type Paint,
  type Patch,
} from "#core/card/layout";
import { bitsOfNumber } from "#core/card/number";

interface CardPictureProps {
  number: number;
  /** Hash of the card as a renderer drew it, from straight ahead; a drawing of it where there is none. */
  flat: string | null;
  /** Ids of patches that are pointed at. */
  patches: readonly string[];
}

/** A test card, with a frame around what is spoken of. */
export function CardPicture({ number, flat, patches }: CardPictureProps) {
  return (
    <svg className="card-picture" viewBox="0 0 1 1" role="img" aria-label={`Test card ${number}`}>
      {flat ? <image href={`/files/${flat}`} width="1" height="1" /> : <Drawn number={number} />}
      {PATCHES.filter(({ id }) => patches.includes(id)).map((patch) => (
        <rect key={patch.id} className="pointed-at" {...squareOf(patch, 0.006)} />
      ))}
    </svg>
  );
}

function squareOf(patch: Patch, wider = 0) {
  const { x, y } = middleOf(patch);
  const side = PATCH_SIDE + 2 * wider;
  return { x: x - side / 2, y: y - side / 2, width: side, height: side };
}

const css = (code: readonly number[]) => `rgb(${code.map((part) => Math.round(part * 255)).join(" ")})`;
const LIGHT = css([0.95, 0.95, 0.95]);
const DARK = css([0.05, 0.05, 0.05]);

function Drawn({ number }: { number: number }) {
  return (
    <>
      <rect width="1" height="1" fill={css([0.627, 0.627, 0.627])} />
      {MARKS.map(({ x, y, heart }) => (
        <g key={`${x} ${y}`} transform={`translate(${x} ${y})`}>
          <circle r={MARK_RADII.dark} fill={DARK} />
          <circle r={MARK_RADII.light} fill={LIGHT} />
          <circle r={MARK_RADII.core} fill={DARK} />
          {heart !== "plain" && <circle r={MARK_RADII.core * 0.66} fill={LIGHT} />}
          {heart === "ring" && <circle r={MARK_RADII.core * 0.33} fill={DARK} />}
        </g>
      ))}
      {bitsOfNumber(number).map((bit, cell) => (
        <rect
          key={cell}
          x={NUMBER_CELLS.x + cell * NUMBER_CELLS.side}
          y={NUMBER_CELLS.y}
          width={NUMBER_CELLS.side}
          height={NUMBER_CELLS.side}
          fill={bit ? DARK : LIGHT}
        />
      ))}
      <rect x={SCALE.x} y={SCALE.y} width={SCALE.width} height={SCALE.height} fill={LIGHT} />
      {Array.from({ length: SCALE.width * 100 + 1 }, (_, cm) => (
        <rect
          key={cm}
          x={SCALE.x + cm / 100}
          y={SCALE.y}
          width={0.002}
          height={SCALE.height * (cm % 10 === 0 ? 1 : cm % 5 === 0 ? 0.7 : 0.4)}
          fill={DARK}
        />
      ))}
      {PATCHES.map((patch) => (
        <g key={patch.id}>
          <Painted patch={patch} paint={patch.paint.color} />
          {isBump(patch) && (
            <circle
              cx={middleOf(patch).x}
              cy={middleOf(patch).y}
              r={PATCH_SIDE / 2}
              fill="none"
              stroke={LIGHT}
              strokeWidth={0.002}
            />
          )}
        </g>
      ))}
    </>
  );
}

const isBump = ({ paint }: Patch) => [paint.normal, paint.height].some((one) => one?.kind === "dome");

function Painted({ patch, paint }: { patch: Patch; paint: Paint | undefined }) {
  const square = squareOf(patch);
  if (paint?.kind === "flat") return <rect {...square} fill={css(paint.value)} />;
  if (paint?.kind === "halves")
    return (
      <>
        <rect {...square} width={PATCH_SIDE / 2} fill={css(paint.left)} />
        <rect {...square} x={square.x + PATCH_SIDE / 2} width={PATCH_SIDE / 2} fill={css(paint.right)} />
      </>
    );
  // Grains: as light as they are on the whole.
  const share = paint?.kind === "grains" ? paint.share / 100 : 0.5;
  return <rect {...square} fill={css([share, share, share])} />;
}
