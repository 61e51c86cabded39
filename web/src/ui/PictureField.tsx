import type { Verdict } from '../api/types';
import { SpotsField } from './SpotsField';
import type { Pictured } from './pictured';
import { spotsOf } from './spots';

/** A row to be marked in a picture. */
export interface Place {
  readonly row: string;
  readonly verdict: Verdict;
}

/** What the drawing needs and no reader does. */
const SIZE: ReadonlySet<string> = new Set(['width', 'height']);

/** A picture that gear took, with the rows that were found in it marked by their numbers, and what belongs to it. */
export function PictureField({ capture, places }: { capture: Pictured; places: readonly Place[] }) {
  const spots = spotsOf(capture);
  if (spots.length > 0) {
    return <SpotsField capture={capture} spots={spots} />;
  }
  const facts = Object.entries(capture.facts).filter(([name]) => !name.startsWith('#') && !SIZE.has(name));
  return (
    <figure className="flex min-h-0 flex-1 flex-col">
      <div className="relative min-h-0 flex-1">
        <img
          src={`/api/blobs/${capture.sha256}`}
          alt={capture.name}
          className="absolute inset-0 h-full w-full bg-sheet object-contain"
        />
        <svg
          viewBox={`0 0 ${number(capture.facts['width'], 100)} ${number(capture.facts['height'], 100)}`}
          preserveAspectRatio="xMidYMid meet"
          className="absolute inset-0 h-full w-full"
          aria-hidden="true"
        >
          <Shapes capture={capture} />
          {places.map((p) => (
            <Spot key={p.row} place={p} capture={capture} />
          ))}
        </svg>
      </div>
      <figcaption className="px-1 pt-1 font-condensed text-[14px] text-quiet">
        {[capture.name, ...facts.map(([name, value]) => `${name} ${value}`)].join(', ')}
      </figcaption>
    </figure>
  );
}

/** Circles of zones, and boxes round what was found in them; `unit` is how much of the picture is shown, its pixels. */
export function Shapes({ capture, unit }: { capture: Pictured; unit?: number }) {
  const width = number(capture.facts['width'], 100);
  const shown = unit ?? width;
  const thin = shown / 500;
  const of = (kind: string): [string, string[]][] =>
    Object.entries(capture.facts)
      .filter(([name]) => name.startsWith(`#${kind} `))
      .map(([name, value]) => [name.slice(kind.length + 2), value.split(' ')]);
  return (
    <>
      {of('ring').map(([name, [cx, cy, r]]) => (
        <g key={name}>
          <circle
            cx={Number(cx) * width}
            cy={Number(cy) * width}
            r={Number(r) * width}
            fill="none"
            stroke="var(--lake)"
            strokeWidth={thin}
            strokeDasharray={`${4 * thin} ${3 * thin}`}
          />
          <text
            x={Number(cx) * width + Number(r) * width * 0.72}
            y={Number(cy) * width - Number(r) * width * 0.72}
            fontSize={shown / 32}
            fontWeight={600}
            fill="var(--lake)"
            stroke="var(--sheet)"
            strokeWidth={2 * thin}
            paintOrder="stroke"
          >
            {name}
          </text>
        </g>
      ))}
      {of('box').map(([name, [x0, y0, x1, y1, standing, ...words]]) => {
        const bad = standing === 'bad';
        const pad = shown / 120;
        return (
          <g key={name}>
            <rect
              x={Number(x0) * width - pad}
              y={Number(y0) * width - pad}
              width={(Number(x1) - Number(x0)) * width + 2 * pad}
              height={(Number(y1) - Number(y0)) * width + 2 * pad}
              fill="none"
              stroke={bad ? 'var(--brick)' : 'var(--quiet)'}
              strokeWidth={bad ? 2 * thin : thin}
            />
            {bad ? (
              <text
                x={Number(x1) * width + 2 * pad}
                y={Number(y0) * width}
                fontSize={shown / 34}
                fontWeight={600}
                fill="var(--brick)"
                stroke="var(--sheet)"
                strokeWidth={2 * thin}
                paintOrder="stroke"
              >
                {words.join(' ')}
              </text>
            ) : null}
          </g>
        );
      })}
    </>
  );
}

function Spot({ place, capture }: { place: Place; capture: Pictured }) {
  const [x, y] = (capture.facts[`#${place.row}`] ?? '').split(' ').map(Number);
  if (x === undefined || y === undefined || Number.isNaN(x) || Number.isNaN(y)) {
    return null;
  }
  const width = number(capture.facts['width'], 100);
  const height = number(capture.facts['height'], 100);
  const size = Math.max(width, height) / 24;
  const bad = place.verdict === 'fail' || place.verdict === 'marginalOutside';
  return (
    <g>
      <circle cx={x * width} cy={y * height} r={size} fill="none" stroke="var(--sheet)" strokeWidth={size / 3} />
      <circle
        cx={x * width}
        cy={y * height}
        r={size}
        fill="none"
        stroke={bad ? 'var(--brick)' : 'var(--ink)'}
        strokeWidth={size / 6}
        strokeDasharray={bad ? undefined : `${size / 3} ${size / 4}`}
      />
      <text
        x={x * width + 1.3 * size}
        y={y * height - 1.1 * size}
        fontSize={1.4 * size}
        fontWeight={600}
        fill={bad ? 'var(--brick)' : 'var(--ink)'}
        stroke="var(--sheet)"
        strokeWidth={size / 4}
        paintOrder="stroke"
      >
        {place.row}
      </text>
    </g>
  );
}

const number = (text: string | undefined, otherwise: number): number =>
  text === undefined || Number.isNaN(Number(text)) ? otherwise : Number(text);
