import { useMemo, type ReactNode } from 'react';
import { isCloud, linearTicks, merged } from '../draw/scale';
import type { PictureLine } from '../state/run';
import { figure, withUnit } from '../state/words';
import { Plot, type Placing, type PlotAxis, type Series } from './Plot';

interface Mark {
  readonly value: number;
  readonly unit: string;
  readonly words: string;
}

interface Props {
  /** One or two short traces of one x; the second is drawn over the first. */
  lines: readonly PictureLine[];
  /** Limits that stand in the unit of the traces. */
  marks: readonly Mark[];
  label: string;
  /** What else stands over it. */
  over?: ((place: Placing, first: PictureLine) => ReactNode) | undefined;
}

const minus = (v: number): string => String(v).replace('-', '\u2212');

function bounds(values: readonly number[]): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (const v of values) {
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  return low === high ? [low - 1, high + 1] : [low, high];
}

/** Hertz are told in kilohertz where they are many. */
function scaled(unit: string, from: number, to: number): { unit: string; by: number } {
  return unit === 'Hz' && Math.max(Math.abs(from), Math.abs(to)) >= 2000 ? { unit: 'kHz', by: 1000 } : { unit, by: 1 };
}

function axis(from: number, to: number, unit: string, count: number): PlotAxis {
  const told = scaled(unit, from, to);
  const ticks = linearTicks(from, to, count);
  return {
    from,
    to,
    log: false,
    ticks,
    words: (v) => (told.unit === '' ? minus(v) : withUnit(minus(Number((v / told.by).toPrecision(6))), told.unit)),
  };
}

/** Whether a picture is a search: a step a measurement, with a point at each. */
const isSearch = (line: PictureLine): boolean => line.xUnit === '' && !isCloud(line.xUnit, line.x.length);

function drawn(
  lines: readonly PictureLine[],
  marks: readonly Mark[],
): { x: number[]; series: Series[]; xAxis: PlotAxis; yAxis: PlotAxis; inside: Mark[] } {
  const first = lines[0];
  const own = lines.filter((l) => l.yUnit === first?.yUnit && l.xUnit === first.xUnit);
  const common = merged(own);
  const [x0, x1] = bounds(common.x);
  const all = own.flatMap((l) => l.y);
  const [low, high] = bounds(all);
  const mine = marks.filter((m) => m.unit === first?.yUnit);
  const spectrum = first?.yUnit === 'dB' && first.xUnit === 'Hz';
  const search = first !== undefined && isSearch(first);
  const cloud = first !== undefined && isCloud(first.xUnit, first.x.length);
  // A limit near what is seen belongs into the picture; one far away would flatten it.
  const inside = spectrum
    ? []
    : mine.filter((m) => m.value > low - 2 * (high - low) - 1 && m.value < high + 2 * (high - low) + 1);
  const [from, to] = spectrum
    ? [Math.max(low - 5, -120), Math.max(high + 5, 5)]
    : bounds([low, high, ...inside.map((m) => m.value)]);
  const room = spectrum ? 0 : (to - from) * 0.08;
  return {
    x: common.x,
    series: common.y.map((y, i): Series => ({
      y,
      spans: true,
      ...(cloud ? { dots: 'full' as const } : {}),
      colour: i === 0 ? '--ink' : '--lake',
      width: i === 0 ? 1.5 : 2,
    })),
    xAxis: search
      ? {
          ...axis(0.5, x1 + 0.5, '', Math.min(10, x1)),
          ticks: linearTicks(1, Math.max(2, x1), Math.min(8, x1)).filter((t) => Number.isInteger(t)),
        }
      : axis(x0, x1, first?.xUnit ?? '', 6),
    yAxis: axis(from - room, to + room, first?.yUnit ?? '', 5),
    inside,
  };
}

/**
 * Where the last figure stands, px from the top: above its point, or below it where a limit's line and words
 * would be struck.
 */
function besideLimits(point: number, limits: readonly number[]): number {
  return point < 30 || limits.some((l) => l < point && l > point - 48) ? point + 8 : point - 30;
}

/** A signal as it was taken in: a spectrum with what is left of it, deviation over time, a search closing in. */
export function SignalField({ lines, marks, label, over }: Props) {
  const field = useMemo(() => drawn(lines, marks), [lines, marks]);
  const first = lines[0];
  const last = first === undefined ? undefined : { x: first.x[first.x.length - 1], y: first.y[first.y.length - 1] };
  return (
    <Plot
      x={field.x}
      series={field.series}
      xAxis={field.xAxis}
      yAxis={field.yAxis}
      label={label}
      over={(place) => (
        <>
          <svg
            className="absolute inset-0 overflow-visible"
            width={place.width}
            height={place.height}
            aria-hidden="true"
          >
            {field.inside.map((m) => (
              <line
                key={`${m.value}`}
                x1={0}
                x2={place.width}
                y1={place.y(m.value)}
                y2={place.y(m.value)}
                stroke="var(--pine)"
                strokeWidth="1.5"
                strokeDasharray="6 4"
              />
            ))}
            {first !== undefined && isSearch(first)
              ? first.x.map((x, i) => (
                  <circle
                    key={x}
                    cx={place.x(x)}
                    cy={place.y(first.y[i] ?? 0)}
                    r={i === first.x.length - 1 ? 5.5 : 3.5}
                    fill={i === first.x.length - 1 ? 'var(--lake)' : 'var(--sheet)'}
                    stroke="var(--ink)"
                    strokeWidth="1.5"
                  />
                ))
              : null}
          </svg>
          {first === undefined ? null : over?.(place, first)}
          {field.inside.map((m) => (
            <span
              key={m.words}
              className={`halo absolute right-1 px-0.5 font-condensed text-[13px] text-quiet ${field.inside.some((o) => o.value > m.value) ? '' : '-translate-y-full'}`}
              style={{ top: place.y(m.value) }}
            >
              {m.words}
            </span>
          ))}
          {first !== undefined && isSearch(first) && last?.x !== undefined && last.y !== undefined ? (
            <span
              className="halo absolute -translate-x-1/2 px-0.5 font-mono text-[15px] font-semibold whitespace-nowrap"
              style={{
                left: Math.min(place.width - 50, Math.max(50, place.x(last.x))),
                top: besideLimits(
                  place.y(last.y),
                  field.inside.map((m) => place.y(m.value)),
                ),
              }}
            >
              {withUnit(
                (first.yUnit.startsWith('dB') ? last.y.toFixed(1) : figure(last.y)).replace('-', '\u2212'),
                first.yUnit,
              )}
            </span>
          ) : null}
        </>
      )}
    />
  );
}
