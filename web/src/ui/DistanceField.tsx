import { useEffect, useMemo, useRef, useState, type PointerEvent, type WheelEvent } from 'react';
import type { Verdict } from '../api/types';
import { fitted, lower, thinned } from '../draw/thin';
import { linearTicks } from '../draw/scale';
import { Plot, type Series } from './Plot';
import { RouteRibbon, type RibbonPlace } from './RouteRibbon';
import { useFieldSize } from './useFieldSize';

/** Levels along a length. */
export interface LevelLine {
  readonly name: string;
  /** m, ascending. */
  readonly x: readonly number[];
  /** dB. */
  readonly y: readonly number[];
}

/** Something that was found on a line. */
export interface LevelEvent {
  readonly key: string;
  /** m. */
  readonly at: number;
  readonly words: string;
  readonly verdict: Verdict;
}

interface Props {
  /** The first is the one that was measured; others lie beneath it. */
  lines: readonly LevelLine[];
  events: readonly LevelEvent[];
  /** The first line less the second, dB over m; drawn beneath them. */
  difference?: { readonly x: readonly number[]; readonly y: readonly number[] };
  /** What stands along it, on the axis of the lines; empty for no ribbon. */
  route: readonly RibbonPlace[];
  chosen: string | null;
  choose: (key: string | null) => void;
  label: string;
}

const LEFT = 58;
const RIGHT = 10;
const NEAREST = 20;
/** How far an event is looked at to either side, part of the whole. */
const LOOK = 0.06;
const BAD: ReadonlySet<Verdict> = new Set(['fail', 'marginalOutside']);

const km = (metres: number): string => (metres / 1000).toFixed(3).replace('-', '\u2212');
const decibels = (value: number): string => value.toFixed(3).replace('-', '\u2212');

/** Level over distance with what was found, above the land it runs through; zoomed by wheel, keys and its buttons. */
export function DistanceField({ lines, difference, events, route, chosen, choose, label }: Props) {
  const [box, size] = useFieldSize(80);
  const first = lines[0];
  const whole = useMemo((): [number, number] => {
    const from = Math.min(0, first?.x[0] ?? 0);
    const end = first?.x[first.x.length - 1] ?? 1;
    // Behind the end of what was found there is noise only: a little of it is enough.
    const last = events.reduce((a, e) => Math.max(a, e.at), 0);
    return [from, last > 0 ? Math.min(end, last * 1.03 + 20) : end];
  }, [first, events]);
  const [span, setSpan] = useState<[number, number]>(whole);
  const [cursors, setCursors] = useState<[number, number] | null>(null);
  const dragged = useRef<{ what: 'pan' | 0 | 1; x: number; span: [number, number] } | null>(null);
  useEffect(() => setSpan(whole), [whole]);
  const length = whole[1] - whole[0];
  useEffect(() => {
    const event = events.find((e) => e.key === chosen);
    if (event !== undefined) {
      setSpan([Math.max(whole[0], event.at - LOOK * length), Math.min(whole[1], event.at + LOOK * length)]);
    }
    // Only a choice moves the view, not what is measured meanwhile.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  const width = Math.max(100, (size?.width ?? 600) - LEFT - RIGHT);
  const drawn = useMemo(() => lines.map((l) => thinned(l.x, l.y, span[0], span[1], width)), [lines, span, width]);
  const common = useMemo(() => merged(drawn), [drawn]);
  const [low, high] = useMemo(
    () =>
      bounds(
        first,
        span,
        events.reduce((a, e) => Math.max(a, e.at), 0),
      ),
    [first, span, events],
  );
  const place = (px: number): number => span[0] + ((px - LEFT) / width) * (span[1] - span[0]);
  const zoom = (by: number, about: number): void =>
    setSpan(([a, b]) => {
      const wide = Math.min(length, Math.max(NEAREST, (b - a) * by));
      const share = (about - a) / (b - a);
      const from = Math.min(whole[1] - wide, Math.max(whole[0], about - share * wide));
      return [from, from + wide];
    });
  const pan = (by: number, of: [number, number]): void => {
    const wide = of[1] - of[0];
    const from = Math.min(whole[1] - wide, Math.max(whole[0], of[0] + by));
    setSpan([from, from + wide]);
  };
  const px = (e: PointerEvent | WheelEvent): number => e.clientX - (box.current?.getBoundingClientRect().left ?? 0);
  const middle = (span[0] + span[1]) / 2;
  const x = (at: number): number => LEFT + ((at - span[0]) / (span[1] - span[0])) * width;
  const seen = (at: number): boolean => at >= span[0] && at <= span[1];
  return (
    <div className="flex h-full min-h-0 flex-col" data-distance>
      <p className="flex flex-wrap items-center gap-x-1.5 gap-y-1 px-1 font-condensed text-[14px]">
        {lines.map((l, i) => (
          <span key={l.name} className="flex items-center gap-1.5 text-quiet">
            <svg width="22" height="8" aria-hidden="true">
              <line x1="0" x2="22" y1="4" y2="4" stroke={i === 0 ? 'var(--lake)' : 'var(--quiet)'} strokeWidth="2" />
            </svg>
            {l.name}
          </span>
        ))}
        <span className="flex-1" />
        {(
          [
            ['+', () => zoom(0.5, middle)],
            ['\u2212', () => zoom(2, middle)],
            ['Whole', () => (choose(null), setSpan(whole))],
            [
              cursors === null ? 'Cursors' : 'No cursors',
              () =>
                setCursors(
                  cursors === null ? [span[0] + 0.4 * (span[1] - span[0]), span[0] + 0.6 * (span[1] - span[0])] : null,
                ),
            ],
          ] as const
        ).map(([word, act]) => (
          <button
            key={word}
            type="button"
            className="min-h-8 min-w-8 border border-quiet bg-sheet px-2 font-semibold max-[1000px]:min-h-11 max-[1000px]:min-w-11"
            aria-label={word === '+' ? 'Nearer' : word === '\u2212' ? 'Farther' : undefined}
            onClick={act}
          >
            {word}
          </button>
        ))}
      </p>
      {cursors !== null && first !== undefined ? <Between line={first} cursors={cursors} /> : null}
      <div
        ref={box}
        className="relative min-h-0 flex-[3] touch-none"
        role="group"
        aria-label={label}
        tabIndex={0}
        onWheel={(e) => zoom(e.deltaY > 0 ? 1.25 : 0.8, place(px(e)))}
        onKeyDown={(e) => {
          const step = (span[1] - span[0]) / 10;
          const act: Record<string, () => void> = {
            ArrowLeft: () => pan(-step, span),
            ArrowRight: () => pan(step, span),
            '+': () => zoom(0.5, middle),
            '-': () => zoom(2, middle),
            '0': () => setSpan(whole),
          };
          if (act[e.key] !== undefined && !e.ctrlKey && !e.metaKey) {
            e.preventDefault();
            act[e.key]?.();
          }
        }}
        onPointerDown={(e) => {
          const near = cursors?.findIndex((c) => Math.abs(x(c) - px(e)) < 8) ?? -1;
          dragged.current = { what: near === 0 ? 0 : near === 1 ? 1 : 'pan', x: px(e), span };
          e.currentTarget.setPointerCapture(e.pointerId);
        }}
        onPointerMove={(e) => {
          const drag = dragged.current;
          if (drag === null) {
            return;
          }
          if (drag.what === 'pan') {
            pan(((drag.x - px(e)) / width) * (drag.span[1] - drag.span[0]), drag.span);
          } else if (cursors !== null) {
            const moved: [number, number] = [...cursors];
            moved[drag.what] = Math.min(span[1], Math.max(span[0], place(px(e))));
            setCursors(moved);
          }
        }}
        onPointerUp={() => {
          dragged.current = null;
        }}
      >
        <Plot
          x={common.x}
          series={common.y.map((y, i): Series => ({
            y,
            colour: i === 0 ? '--lake' : '--quiet',
            width: i === 0 ? 1.4 : 1,
            spans: true,
          }))}
          xAxis={{
            from: span[0],
            to: span[1],
            log: false,
            ticks: linearTicks(span[0], span[1], 7),
            words: (v) => `${Number((v / 1000).toFixed(3))} km`.replace('-', '\u2212'),
          }}
          yAxis={{
            from: low,
            to: high,
            log: false,
            ticks: linearTicks(low, high, 6),
            words: (v) => String(v).replace('-', '\u2212'),
          }}
          label={label}
        />
        {size === null ? null : (
          <svg className="pointer-events-none absolute inset-0" width={size.width} height={size.height}>
            <text x={LEFT - 10} y={10} fontSize={12} textAnchor="end" fill="var(--ink)">
              dB
            </text>
            {events
              .filter((e) => seen(e.at))
              .map((e) => (
                <line
                  key={e.key}
                  x1={x(e.at)}
                  x2={x(e.at)}
                  y1={10}
                  y2={size.height - 28}
                  stroke={BAD.has(e.verdict) ? 'var(--brick)' : e.key === chosen ? 'var(--ink)' : 'var(--rule)'}
                  strokeWidth={BAD.has(e.verdict) || e.key === chosen ? 1.5 : 1}
                />
              ))}
            {cursors?.map((c, i) =>
              seen(c) ? (
                <g key={i}>
                  <line
                    x1={x(c)}
                    x2={x(c)}
                    y1={10}
                    y2={size.height - 28}
                    stroke="var(--lake)"
                    strokeWidth={1.5}
                    strokeDasharray="5 3"
                  />
                  <text x={x(c) + 4} y={20} fontSize={12} fontWeight={600} fill="var(--lake)">
                    {i === 0 ? 'A' : 'B'}
                  </text>
                </g>
              ) : null,
            )}
            <Named events={events.filter((e) => seen(e.at))} chosen={chosen} x={x} width={size.width} />
          </svg>
        )}
      </div>
      {difference === undefined ? null : (
        <Difference of={difference} span={span} end={events.reduce((a, e) => Math.max(a, e.at), 0)} width={width} />
      )}
      {route.length === 0 ? null : (
        <div className="min-h-[96px] flex-1">
          <RouteRibbon
            places={route}
            from={span[0]}
            to={span[1]}
            left={LEFT}
            right={RIGHT}
            chosen={null}
            choose={(i) => {
              const at = route[i]?.at;
              const nearest = [...events].sort((a, b) => Math.abs(a.at - (at ?? 0)) - Math.abs(b.at - (at ?? 0)))[0];
              if (at !== undefined && nearest !== undefined && Math.abs(nearest.at - at) < 0.02 * length) {
                choose(nearest.key);
              }
            }}
            label="What stands along it"
          />
        </div>
      )}
    </div>
  );
}

/** How far two lines are apart, up to the end of what was found: what is behind it is noise of both. */
function Difference({
  of,
  span,
  end,
  width,
}: {
  of: { readonly x: readonly number[]; readonly y: readonly number[] };
  span: [number, number];
  end: number;
  width: number;
}) {
  const drawn = useMemo(() => {
    const count = end > 0 ? lower(of.x, end) : of.x.length;
    return thinned(of.x.slice(0, count), of.y.slice(0, count), span[0], span[1], width);
  }, [of, span, end, width]);
  // A peak that is one sample off would press flat what the field is for: a loss that came.
  const sizes = drawn.y.map(Math.abs).sort((a, b) => a - b);
  const most = Math.max(0.1, sizes[Math.floor(0.97 * (sizes.length - 1))] ?? 0) * 1.3;
  return (
    <div className="flex min-h-[84px] flex-[0.9] flex-col" data-distance-difference>
      <p className="px-1 font-condensed text-[13px] text-quiet">now less then, dB</p>
      <div className="min-h-0 flex-1">
        <Plot
          x={drawn.x}
          series={[{ y: drawn.y, colour: '--ink', width: 1.1 }]}
          xAxis={{ from: span[0], to: span[1], log: false, ticks: [], words: () => '' }}
          yAxis={{
            from: -most,
            to: most,
            log: false,
            ticks: linearTicks(-most, most, 2),
            words: (v) => String(v).replace('-', '\u2212'),
          }}
          label="Now less then"
        />
      </div>
    </div>
  );
}

/** What lies between two cursors: as the line has it there, and by lines fitted before and behind. */
function Between({ line, cursors }: { line: LevelLine; cursors: [number, number] }) {
  const a = Math.min(...cursors);
  const b = Math.max(...cursors);
  const level = (at: number): number => line.y[Math.min(line.y.length - 1, lower(line.x, at))] ?? 0;
  const wide = Math.max(100, b - a);
  const before = fitted(line.x, line.y, a - wide, a);
  const behind = fitted(line.x, line.y, b, b + wide);
  const within = fitted(line.x, line.y, a, b);
  return (
    <p className="px-1 font-condensed text-[15px]" data-between>
      A <b className="font-mono font-semibold">{km(cursors[0])}</b> km, B{' '}
      <b className="font-mono font-semibold">{km(cursors[1])}</b> km: two points{' '}
      <b className="font-mono font-semibold">{decibels(level(a) - level(b))}</b> dB; fitted both sides, at A{' '}
      <b className="font-mono font-semibold">
        {before === null || behind === null ? 'no room' : `${decibels(before.at(a) - behind.at(a))} dB`}
      </b>
      {within === null ? '' : `; between them ${decibels(-within.slope * 1000)} dB/km`}
    </p>
  );
}

/** Words of the chosen event, or of the worst ones. */
function Named({
  events,
  chosen,
  x,
  width,
}: {
  events: readonly LevelEvent[];
  chosen: string | null;
  x: (at: number) => number;
  width: number;
}) {
  const told = events.filter((e) => e.key === chosen || (chosen === null && BAD.has(e.verdict))).slice(0, 3);
  return told.map((e, i) => {
    const right = x(e.at) + 7.2 * e.words.length > width;
    return (
      <text
        key={e.key}
        x={x(e.at) + (right ? -6 : 6)}
        y={34 + 18 * i}
        fontSize={13.5}
        fontWeight={600}
        textAnchor={right ? 'end' : 'start'}
        fill={BAD.has(e.verdict) ? 'var(--brick)' : 'var(--ink)'}
        stroke="var(--sheet)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {e.words}
      </text>
    );
  });
}

function bounds(line: LevelLine | undefined, [from, to]: [number, number], end: number): [number, number] {
  if (line === undefined) {
    return [0, 1];
  }
  let low = Infinity;
  let high = -Infinity;
  // Behind the last of what was found there is noise, which would press all else together.
  const until = end > from && end < to ? end : to;
  for (let i = lower(line.x, from); i < line.x.length && (line.x[i] ?? 0) <= until; i++) {
    low = Math.min(low, line.y[i] ?? 0);
    high = Math.max(high, line.y[i] ?? 0);
  }
  // Noise goes far down where nothing comes back; it is cut where it says nothing any more.
  const room = Math.max(0.05 * Math.min(45, high - low), 0.05);
  return high > low ? [Math.max(low - room, high - 45), high + room] : [low - 1, high + 1];
}

/** Lines of their own x on one. */
function merged(lines: readonly { x: number[]; y: number[] }[]): { x: number[]; y: (number | null)[][] } {
  if (lines.length === 1) {
    return { x: lines[0]?.x ?? [], y: [lines[0]?.y ?? []] };
  }
  const x = [...new Set(lines.flatMap((l) => l.x))].sort((a, b) => a - b);
  const index = new Map(x.map((v, i) => [v, i]));
  return {
    x,
    y: lines.map((l) => {
      const y = new Array<number | null>(x.length).fill(null);
      l.x.forEach((v, i) => {
        y[index.get(v) ?? 0] = l.y[i] ?? null;
      });
      return y;
    }),
  };
}
