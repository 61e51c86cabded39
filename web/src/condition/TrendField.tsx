import type { ReactNode, RefObject } from 'react';
import { useNavigate } from 'react-router';
import type { TrendMark, TrendPoint, TrendVisit } from '../api/types';
import { fraction, linearTicks, logTicks, type Axis } from '../draw/scale';
import { recordAddress } from '../record/words';
import { dayAt, figure, VERDICT_WORDS, withUnit } from '../state/words';
import { Mark } from '../ui/Mark';
import { useFieldSize } from '../ui/useFieldSize';

/** A test point with the device it is of. */
export interface Shown {
  readonly point: TrendPoint;
  readonly marks: readonly TrendMark[];
  /** What tells it from others in the field. */
  readonly name: string;
}

interface Props {
  /** One, or several over each other; limits, marks and verdicts are those of the first. */
  shown: readonly Shown[];
  zone: string;
  /** Without what a small field has no room for. */
  small?: boolean;
  svg?: RefObject<SVGSVGElement | null>;
}

const DAY = 86_400_000;
const MONTH = 30.4 * DAY;
const DASHES = ['', '7 4', '2 4', '10 3 2 3'];

/** What happened between tests, in a letter or two above the field. */
const KINDS: Readonly<Record<string, string>> = {
  repair: 'repaired',
  failure: 'failed in service',
  adjustment: 'adjusted',
  installed: 'installed',
  takenOut: 'taken out',
  baseline: 'baseline',
};

const ms = (at: string): number => Date.parse(at);

/** From before the first visit to behind the last line, ms. */
function timeSpan(shown: readonly Shown[]): [number, number] {
  const times = shown.flatMap((s) => [
    ...s.point.visits.map((v) => ms(v.at)),
    ...s.point.fans.flatMap((f) => [f.at[0] ?? 0, f.at[f.at.length - 1] ?? 0]),
  ]);
  const first = Math.min(...times, Date.now());
  const last = Math.max(...times, Date.now());
  const room = Math.max(MONTH, (last - first) * 0.03);
  return [first - room, last + room];
}

/** The first one's axis, made to hold the values of the others. */
function valueAxis(shown: readonly Shown[]): Axis {
  const [first, ...others] = shown;
  const log = first?.point.scale === 'logarithmic';
  const values = others
    .flatMap((s) => s.point.visits.map((v) => v.value))
    .filter((v) => Number.isFinite(v) && (!log || v > 0));
  const from = Math.min(first?.point.from ?? 0, ...values);
  const to = Math.max(first?.point.to ?? 1, ...values);
  return { from, to, log };
}

function yearTicks([from, to]: readonly [number, number], most: number): number[] {
  const years: number[] = [];
  for (let y = new Date(from).getUTCFullYear() + 1; Date.UTC(y, 0, 1) < to; y++) {
    years.push(y);
  }
  const step = Math.max(1, Math.ceil(years.length / most));
  return years.filter((y) => y % step === 0);
}

/** What a value says when it is pointed at. */
export function visitWords(v: TrendVisit, unit: string, zone: string): string {
  return [
    `${withUnit(v.figure, unit)}, ${VERDICT_WORDS[v.verdict].toLowerCase()}, ${dayAt(v.at, zone)}`,
    v.asFoundFigure === undefined ? '' : `as found ${withUnit(v.asFoundFigure, unit)}`,
    v.uncertainty === undefined ? '' : `U ${withUnit(figure(v.uncertainty), unit)}`,
    v.gear ?? '',
    v.with ?? '',
    ...v.flags,
    v.number,
  ]
    .filter((w) => w !== '')
    .join('; ');
}

/**
 * A test point over time: the limit as it was at each visit, what happened between them, the fitted line with its fan.
 * Every value opens its record.
 */
export function TrendField({ shown, zone, small = false, svg }: Props) {
  const [box, size] = useFieldSize(60);
  return (
    <div ref={box} className="relative h-full min-h-0 w-full" data-trend-field>
      {size === null ? null : (
        <Drawn
          shown={shown}
          zone={zone}
          small={small}
          width={size.width}
          height={size.height}
          {...(svg ? { svg } : {})}
        />
      )}
    </div>
  );
}

function Drawn({
  shown,
  zone,
  small,
  width: whole,
  height: high,
  svg,
}: Props & { small: boolean; width: number; height: number }) {
  const go = useNavigate();
  const [first] = shown;
  if (first === undefined) {
    return null;
  }
  const { point } = first;
  const axis = valueAxis(shown);
  const ticks = small
    ? []
    : axis.log
      ? logTicks(axis.from, axis.to, axis.to / axis.from > 60 ? [1] : [1, 2, 5])
      : linearTicks(axis.from, axis.to, 5);
  const tickWords = ticks.map((t) => String(t).replace('-', '\u2212'));
  const left = small ? 4 : 18 + 7 * Math.max(2, ...tickWords.map((w) => w.length));
  const room = { left, right: small ? 4 : 16, top: small ? 6 : 26, bottom: small ? 20 : 26 };
  const width = whole - room.left - room.right;
  const height = high - room.top - room.bottom;
  const span = timeSpan(shown);
  const x = (time: number): number => ((time - span[0]) / (span[1] - span[0])) * width;
  const y = (value: number): number => (1 - Math.min(1.5, Math.max(-0.5, fraction(axis, value)))) * height;
  const inY = (value: number): number => Math.min(height, Math.max(0, y(value)));
  const years = yearTicks(span, Math.max(2, Math.floor(width / 52)));
  const marks = first.marks.filter(
    (m) =>
      m.kind !== 'baseline' &&
      ms(m.at) >= span[0] &&
      (m.touches.length === 0 || m.touches.includes(`${point.series} ${point.lane}`)),
  );
  const last = point.visits[point.visits.length - 1];
  const words = `${point.label}: ${point.visits.map((v) => `${dayAt(v.at, zone)} ${v.figure}`).join(', ')} ${point.unit}. ${point.outlook}`;
  const now = x(Date.now());
  return (
    <svg
      ref={svg}
      width={whole}
      height={high}
      viewBox={`0 0 ${whole} ${high}`}
      fontSize="12"
      fill="var(--ink)"
      role="group"
      aria-label={words}
      className="absolute inset-0 overflow-visible"
    >
      <g transform={`translate(${room.left} ${room.top})`}>
        <rect width={width} height={height} fill="var(--sheet)" />
        <Limits visits={point.visits} x={x} y={inY} width={width} height={height} words={!small} point={point} />
        {years.map((year) => (
          <g key={year}>
            <line
              x1={x(Date.UTC(year, 0, 1))}
              x2={x(Date.UTC(year, 0, 1))}
              y1={small ? height : 0}
              y2={height + 4}
              stroke="var(--rule)"
            />
            <text x={x(Date.UTC(year, 0, 1))} y={height + 17} textAnchor="middle" fill="var(--quiet)">
              {year}
            </text>
          </g>
        ))}
        {ticks.map((t, i) => (
          <g key={t}>
            <line x1={0} x2={width} y1={y(t)} y2={y(t)} stroke="var(--rule)" opacity="0.6" />
            <text x={-8} y={y(t) + 4} textAnchor="end">
              {tickWords[i]}
            </text>
          </g>
        ))}
        <line x1={now} x2={now} y1={0} y2={height} stroke="var(--quiet)" strokeDasharray="2 3" />
        {small ? null : (
          <text x={now} y={-6} textAnchor="middle" fill="var(--quiet)">
            today
          </text>
        )}
        {marks.map((m) => (
          <Happened key={`${m.at} ${m.words}`} mark={m} at={x(ms(m.at))} height={height} zone={zone} words={!small} />
        ))}
        {shown.map((s, i) => (
          <Lines
            key={s.name}
            shown={s}
            dash={DASHES[i % DASHES.length] ?? ''}
            x={x}
            y={y}
            height={height}
            width={width}
          />
        ))}
        {shown.map((s, i) =>
          s.point.visits.map((v) => (
            <Visit
              key={`${s.name} ${v.run}`}
              visit={v}
              unit={s.point.unit}
              zone={zone}
              at={[x(ms(v.at)), y(v.value)]}
              found={v.asFound === undefined ? null : inY(v.asFound)}
              height={height}
              other={i > 0}
              small={small}
              open={() => void go(recordAddress(v.number))}
            />
          )),
        )}
        {small && last !== undefined ? <Bound visit={last} unit={point.unit} right={width - 5} y={inY} /> : null}
        <rect width={width} height={height} fill="none" stroke="var(--rule)" />
      </g>
    </svg>
  );
}

/** The allowed span around each visit, with its limits as lines: a limit that was moved is a step. */
function Limits({
  visits,
  x,
  y,
  width,
  height,
  words,
  point,
}: {
  visits: readonly TrendVisit[];
  x: (time: number) => number;
  y: (value: number) => number;
  width: number;
  height: number;
  words: boolean;
  point: TrendPoint;
}) {
  const pieces = visits.map((v, i) => {
    const before = visits[i - 1];
    const after = visits[i + 1];
    return {
      v,
      from: before === undefined ? 0 : (x(ms(before.at)) + x(ms(v.at))) / 2,
      to: after === undefined ? width : (x(ms(v.at)) + x(ms(after.at))) / 2,
    };
  });
  const last = visits[visits.length - 1];
  return (
    <g>
      {pieces.map(({ v, from, to }) => {
        if (v.low === undefined && v.high === undefined) {
          return null;
        }
        const top = v.high === undefined ? 0 : y(v.high);
        const bottom = v.low === undefined ? height : y(v.low);
        return (
          <g key={v.run}>
            <rect x={from} y={top} width={to - from + 0.3} height={Math.max(0, bottom - top)} fill="var(--band)" />
            {v.high === undefined ? null : (
              <line x1={from} x2={to} y1={top} y2={top} stroke="var(--ink)" strokeWidth="1.4" />
            )}
            {v.low === undefined ? null : (
              <line x1={from} x2={to} y1={bottom} y2={bottom} stroke="var(--ink)" strokeWidth="1.4" />
            )}
          </g>
        );
      })}
      {words && last !== undefined ? <Bound visit={last} unit={point.unit} right={width - 5} y={y} /> : null}
    </g>
  );
}

/** What is allowed, in words at its line: inside, as what comes to a limit goes on outside of it. */
function Bound({
  visit,
  unit,
  right,
  y,
}: {
  visit: TrendVisit;
  unit: string;
  /** Where the words end, px: the limit they tell is the last one. */
  right: number;
  y: (value: number) => number;
}) {
  const words = (value: number, which: string): string =>
    `${which} ${withUnit(Number(value.toPrecision(4)).toString().replace('-', '\u2212'), unit)}`;
  return (
    <>
      {visit.high === undefined ? null : (
        <text x={right} y={y(visit.high) + 14} textAnchor="end" className="on-band-svg">
          {words(visit.high, 'at most')}
        </text>
      )}
      {visit.low === undefined ? null : (
        <text x={right} y={y(visit.low) - 5} textAnchor="end" className="on-band-svg">
          {words(visit.low, 'at least')}
        </text>
      )}
    </>
  );
}

function Happened({
  mark,
  at,
  height,
  zone,
  words,
}: {
  mark: TrendMark;
  at: number;
  height: number;
  zone: string;
  words: boolean;
}) {
  return (
    <g data-hint={`${dayAt(mark.at, zone)}: ${mark.words}`} tabIndex={words ? 0 : undefined} data-happened={mark.kind}>
      <line x1={at} x2={at} y1={0} y2={height} stroke="transparent" strokeWidth="12" />
      <line x1={at} x2={at} y1={0} y2={height} stroke="var(--ink)" strokeWidth="1.2" strokeDasharray="4 2" />
      {words ? (
        <text x={at} y={-6} textAnchor="middle">
          {KINDS[mark.kind] ?? mark.kind}
        </text>
      ) : null}
    </g>
  );
}

/** Values joined within their segments, the fitted line and its fan. */
function Lines({
  shown,
  dash,
  x,
  y,
  width,
  height,
}: {
  shown: Shown;
  dash: string;
  x: (time: number) => number;
  y: (value: number) => number;
  width: number;
  height: number;
}) {
  const segments: [number, number][][] = [];
  let current: [number, number][] = [];
  for (const v of shown.point.visits) {
    if (v.cut && current.length > 0) {
      segments.push(current);
      current = [];
    }
    if (v.asFound !== undefined) {
      current.push([x(ms(v.at)), y(v.asFound)]);
      segments.push(current);
      current = [];
    }
    current.push([x(ms(v.at)), y(v.value)]);
  }
  segments.push(current);
  const path = (points: readonly (readonly [number, number])[]): string =>
    points.map(([px, py], i) => `${i === 0 ? 'M' : 'L'}${px.toFixed(1)} ${py.toFixed(1)}`).join('');
  const clip = `trend-${shown.name.replace(/\W/g, '-')}`;
  return (
    <g clipPath={`url(#${clip})`} pointerEvents="none">
      <clipPath id={clip}>
        <rect width={width} height={height} />
      </clipPath>
      {segments.map((s, i) => (
        <path
          key={i}
          d={path(s)}
          fill="none"
          stroke="var(--quiet)"
          strokeWidth="1.2"
          {...(dash === '' ? {} : { strokeDasharray: dash })}
        />
      ))}
      {shown.point.fans.map((f, i) => {
        const line = f.at.map((t, k): [number, number] => [x(t), y(f.line[k] ?? Number.NaN)]);
        const low = f.low.map((v, k): [number, number] => [x(f.at[k] ?? 0), y(v)]);
        const high = f.high.map((v, k): [number, number] => [x(f.at[k] ?? 0), y(v)]);
        return (
          <g key={`fan ${i}`}>
            {low.length === 0 ? null : (
              <path
                d={`${path(high)}${path([...low].reverse()).replace('M', 'L')}Z`}
                fill="var(--lake)"
                opacity="0.16"
              />
            )}
            <path
              d={path(line)}
              fill="none"
              stroke="var(--lake)"
              strokeWidth="2"
              {...(dash === '' ? {} : { strokeDasharray: dash })}
            />
          </g>
        );
      })}
    </g>
  );
}

function Visit({
  visit,
  unit,
  zone,
  at: [px, py],
  found,
  height,
  other,
  small,
  open,
}: {
  visit: TrendVisit;
  unit: string;
  zone: string;
  at: readonly [number, number];
  found: number | null;
  height: number;
  other: boolean;
  small: boolean;
  open: () => void;
}) {
  const size = small ? 11 : 14;
  const top = Math.min(height, Math.max(0, py));
  const words = visitWords(visit, unit, zone);
  const shape: ReactNode = other ? (
    <circle r={4.5} fill="var(--sheet)" stroke="var(--ink)" strokeWidth="1.6" />
  ) : (
    <g transform={`translate(${-size / 2} ${-size / 2})`}>
      <Mark standing={visit.verdict} size={size} silent />
    </g>
  );
  return (
    <>
      {found === null ? null : (
        <line x1={px - 6} x2={px + 6} y1={found} y2={found} stroke="var(--quiet)" strokeWidth="3" />
      )}
      {visit.baseline && !other ? (
        <path d={`M${px} ${top - 7}v-13l9 4-9 4`} fill="var(--ink)" stroke="var(--ink)" strokeWidth="1.2" />
      ) : null}
      {visit.step && !other ? (
        <circle
          cx={px}
          cy={top}
          r={size / 2 + 4}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.2"
          strokeDasharray="2 2"
        />
      ) : null}
      {py < 0 || py > height ? (
        <path
          d={py < 0 ? `M${px - 4} ${top + 12}l4-5 4 5` : `M${px - 4} ${top - 12}l4 5 4-5`}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.4"
        />
      ) : null}
      <a
        href={recordAddress(visit.number)}
        onClick={(e) => {
          if (!e.ctrlKey && !e.metaKey && !e.shiftKey) {
            e.preventDefault();
            open();
          }
        }}
        aria-label={`${words}. Opens the record.`}
        data-hint={words}
        data-visit={visit.number}
      >
        <g transform={`translate(${px} ${top})`}>
          <circle r={small ? 9 : 12} fill="transparent" />
          {shape}
        </g>
      </a>
    </>
  );
}
