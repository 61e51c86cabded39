import { useId, useRef, type KeyboardEvent, type PointerEvent } from 'react';
import type { Verdict } from '../api/types';
import { useFieldSize } from './useFieldSize';

/** Something that stands on a route. */
export interface RibbonPlace {
  /** On the axis of the ribbon. */
  readonly at: number;
  readonly name: string;
  /** Above sea, m. */
  readonly height: number;
  /** How what stands there was judged; absent where nothing was. */
  readonly verdict?: Verdict;
  /** Whether its name has to be read even where names are dense. */
  readonly first?: boolean;
}

interface Props {
  places: readonly RibbonPlace[];
  from: number;
  to: number;
  /** Px between the edges of the ribbon and its axis, so that it lies under a plot. */
  left?: number;
  right?: number;
  chosen?: number | null;
  choose?: (place: number) => void;
  /** Takes a place along; absent where the route is not changed here. */
  move?: (place: number, to: number) => void;
  /** Something was put at a point of the line that has nothing yet. */
  add?: (at: number) => void;
  /** Steps of the arrow keys along the axis. */
  step?: number;
  label: string;
}

const TOP = 14;
const FOOT = 26;
/** Px that a letter of a name takes. */
const LETTER = 6.4;

const MARKS: Partial<Record<Verdict, string>> = {
  pass: 'var(--pine)',
  marginalInside: 'var(--ochre)',
  marginalOutside: 'var(--ochre)',
  fail: 'var(--brick)',
};

/** A line of the land with what stands along it, to scale: the higher, the higher up. */
export function RouteRibbon(props: Props) {
  const { places, from, to, left = 12, right = 12 } = props;
  const [box, size] = useFieldSize(60);
  return (
    <div ref={box} className="relative h-full min-h-[96px] w-full" role="group" aria-label={props.label}>
      {size === null || places.length === 0 || !(to > from) ? null : (
        <Drawing {...props} left={left} right={right} width={size.width} height={size.height} />
      )}
    </div>
  );
}

function Drawing(props: Props & { left: number; right: number; width: number; height: number }) {
  const { places, from, to, left, right, width, height, chosen, choose, move, add, step = 0.01 } = props;
  const svg = useRef<SVGSVGElement>(null);
  const clip = useId();
  const dragged = useRef<number | null>(null);
  const x = (at: number): number => left + ((at - from) / (to - from)) * (width - left - right);
  const value = (px: number): number => from + ((px - left) / (width - left - right)) * (to - from);
  const low = Math.min(...places.map((p) => p.height));
  const high = Math.max(...places.map((p) => p.height));
  const floor = height - FOOT;
  const y = (h: number): number =>
    high === low ? (TOP + floor) / 2 : floor - 12 - ((h - low) / (high - low)) * (floor - 12 - TOP);
  const line = places.map((p) => `${x(p.at).toFixed(1)},${y(p.height).toFixed(1)}`).join(' ');
  const first = places[0];
  const last = places[places.length - 1];
  const inside = (p: RibbonPlace): boolean => p.at >= from && p.at <= to;
  const named = names(places, inside, x, width);
  const at = (e: PointerEvent): number =>
    Math.round(value(e.clientX - (svg.current?.getBoundingClientRect().left ?? 0)) / step) * step;
  const keys = (e: KeyboardEvent, i: number): void => {
    const p = places[i];
    const by = e.key === 'ArrowLeft' ? -step : e.key === 'ArrowRight' ? step : 0;
    if (by !== 0 && move !== undefined && p !== undefined) {
      e.preventDefault();
      move(i, p.at + by * (e.shiftKey ? 10 : 1));
    } else if (e.key === 'Enter' || e.key === ' ') {
      e.preventDefault();
      choose?.(i);
    }
  };
  return (
    <svg
      ref={svg}
      width={width}
      height={height}
      className={`block touch-none select-none ${add === undefined ? '' : 'cursor-copy'}`}
      onPointerMove={(e) => {
        if (dragged.current !== null && move !== undefined) {
          move(dragged.current, at(e));
        }
      }}
      onPointerUp={() => {
        dragged.current = null;
      }}
      onDoubleClick={(e) =>
        add?.(Math.round(value(e.clientX - (svg.current?.getBoundingClientRect().left ?? 0)) / step) * step)
      }
    >
      <clipPath id={clip}>
        <rect x={left} y={0} width={width - left - right} height={height} />
      </clipPath>
      <polygon
        clipPath={`url(#${clip})`}
        points={`${x(first?.at ?? from)},${floor} ${line} ${x(last?.at ?? to)},${floor}`}
        fill="var(--paper)"
        stroke="none"
      />
      {places.map(
        (p, i) =>
          inside(p) && (
            <line
              key={i}
              x1={x(p.at)}
              x2={x(p.at)}
              y1={y(p.height)}
              y2={floor}
              stroke={i === chosen ? 'var(--lake)' : 'var(--rule)'}
              strokeWidth={i === chosen ? 1.5 : 1}
            />
          ),
      )}
      <polyline
        clipPath={`url(#${clip})`}
        points={line}
        fill="none"
        stroke="var(--ink)"
        strokeWidth={1.6}
        strokeLinejoin="round"
      />
      {places.map(
        (p, i) =>
          inside(p) && (
            <g
              key={i}
              transform={`translate(${x(p.at)} ${y(p.height)})`}
              tabIndex={choose === undefined ? undefined : 0}
              role={choose === undefined ? undefined : 'button'}
              aria-label={choose === undefined ? undefined : p.name}
              aria-pressed={choose === undefined ? undefined : i === chosen}
              className={`focus-visible:outline-2 ${move === undefined ? (choose === undefined ? '' : 'cursor-pointer') : 'cursor-ew-resize'}`}
              onKeyDown={(e) => keys(e, i)}
              onPointerDown={(e) => {
                choose?.(i);
                if (move !== undefined) {
                  dragged.current = i;
                  svg.current?.setPointerCapture(e.pointerId);
                }
              }}
              data-place={i}
            >
              <rect x={-11} y={-14} width={22} height={28} fill="transparent" />
              <Spot verdict={p.verdict} chosen={i === chosen} />
            </g>
          ),
      )}
      {places.map((p, i) => {
        const n = named.get(i);
        return n === undefined ? null : (
          <text
            key={i}
            x={n.x}
            y={height - 8}
            textAnchor={n.anchor}
            fontSize={12}
            className="font-condensed"
            fontWeight={i === chosen ? 600 : 400}
            fill="var(--ink)"
          >
            {p.name}
          </text>
        );
      })}
    </svg>
  );
}

function Spot({ verdict, chosen }: { verdict: Verdict | undefined; chosen: boolean }) {
  const colour = verdict === undefined ? undefined : MARKS[verdict];
  if (colour === undefined) {
    return (
      <circle
        r={4}
        fill="var(--sheet)"
        stroke={chosen ? 'var(--lake)' : 'var(--ink)'}
        strokeWidth={chosen ? 2.5 : 1.5}
      />
    );
  }
  return verdict === 'fail' || verdict === 'marginalOutside' ? (
    <path d="M0 -7.5 7.5 0 0 7.5 -7.5 0z" fill={colour} stroke="var(--sheet)" />
  ) : (
    <circle r={5.5} fill={colour} stroke="var(--sheet)" />
  );
}

interface Name {
  readonly x: number;
  readonly anchor: 'start' | 'middle' | 'end';
}

/** Which names have room: those that have to be read, then both ends, then the others as they come. */
function names(
  places: readonly RibbonPlace[],
  inside: (place: RibbonPlace) => boolean,
  x: (at: number) => number,
  width: number,
): Map<number, Name> {
  const order = places
    .map((p, i) => ({ i, weight: p.first === true ? 0 : i === 0 || i === places.length - 1 ? 1 : 2 }))
    .sort((a, b) => a.weight - b.weight);
  const taken: [number, number][] = [];
  const named = new Map<number, Name>();
  for (const { i } of order) {
    const p = places[i];
    if (p === undefined || !inside(p)) {
      continue;
    }
    const half = (p.name.length * LETTER) / 2;
    const px = x(p.at);
    const anchor = px - half < 0 ? 'start' : px + half > width ? 'end' : 'middle';
    const begin = anchor === 'start' ? 0 : anchor === 'end' ? width - 2 * half : px - half;
    const end = begin + 2 * half;
    if (taken.every(([a, b]) => end + 8 < a || begin - 8 > b)) {
      taken.push([begin, end]);
      named.set(i, { x: anchor === 'start' ? 0 : anchor === 'end' ? width : px, anchor });
    }
  }
  return named;
}
