import { Link } from 'react-router';
import type { AssetView, SeriesPoint, SeriesView } from '../api/types';
import { fraction, type Axis } from '../draw/scale';
import { recordAddress } from '../record/words';
import { dayAt, figure, withUnit, yearOf } from '../state/words';
import { Mark } from '../ui/Mark';
import { Cut } from '../ui/Hints';

interface Props {
  series: SeriesView;
  /** First and last time on the common axis, ms. */
  span: [number, number];
  repairs: AssetView['repairs'];
  zone: string;
}

const EDGE = 6;

/**
 * One test point over time, with the limits it was judged by then, and repairs as vertical marks. A point leads
 * to its record.
 */
export function SmallMultiple({ series, span, repairs, zone }: Props) {
  const { points, unit } = series;
  const axis: Axis = { from: series.from, to: series.to, log: series.scale === 'logarithmic' };
  const last = points[points.length - 1];
  const x = (at: string): number =>
    span[1] === span[0] ? 50 : EDGE + ((Date.parse(at) - span[0]) / (span[1] - span[0])) * (100 - 2 * EDGE);
  const y = (value: number): number => Math.min(100, Math.max(0, (1 - fraction(axis, value)) * 100));
  const mine = repairs.filter((r) => r.touches.includes(`${series.series} ${series.lane}`));
  const label = `${series.step}, ${series.name}: ${points.map((p) => `${yearOf(p.at)} ${p.figure}`).join(', ')} ${unit}`;
  return (
    <figure className="min-w-0 pt-2">
      <figcaption className="flex items-baseline justify-between gap-2 font-condensed text-[14px]">
        <Cut>{series.name}</Cut>
        {last === undefined ? null : (
          <span className="whitespace-nowrap">
            <b className="font-mono text-[16px] font-semibold">{last.figure}</b>{' '}
            <span className="text-[13px] text-quiet">{unit}</span>
          </span>
        )}
      </figcaption>
      <div className="relative h-[84px] border-b border-rule bg-sheet" aria-label={label} role="group">
        <svg
          className="absolute inset-0 h-full w-full"
          viewBox="0 0 100 100"
          preserveAspectRatio="none"
          aria-hidden="true"
        >
          {points.map((p, i) => (
            <Allowed
              key={p.run}
              point={p}
              from={i === 0 ? 0 : (x(points[i - 1]?.at ?? p.at) + x(p.at)) / 2}
              to={i === points.length - 1 ? 100 : (x(p.at) + x(points[i + 1]?.at ?? p.at)) / 2}
              y={y}
            />
          ))}
          {mine.map((r) => (
            <line
              key={r.at}
              x1={x(r.at)}
              x2={x(r.at)}
              y1="0"
              y2="100"
              stroke="var(--ink)"
              strokeWidth="1"
              strokeDasharray="3 2"
              vectorEffect="non-scaling-stroke"
            />
          ))}
          <polyline
            points={points.map((p) => `${x(p.at)},${y(p.value)}`).join(' ')}
            fill="none"
            stroke="var(--quiet)"
            strokeWidth="1"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
        {points
          .filter((p) => p.asFound !== undefined)
          .map((p) => (
            <span
              key={`f${p.run}`}
              className="absolute h-[3px] w-[9px] -translate-x-1/2 -translate-y-1/2 bg-quiet"
              style={{ left: `${x(p.at)}%`, top: `${y(p.asFound ?? p.value)}%` }}
              tabIndex={0}
              data-hint={`as found ${p.asFound === undefined ? '' : withUnit(figure(p.asFound), unit)}`}
            />
          ))}
        {points.map((p) => (
          <Link
            key={p.run}
            to={recordAddress(p.number)}
            className="absolute -translate-x-1/2 -translate-y-1/2 p-1.5"
            style={{ left: `${x(p.at)}%`, top: `${y(p.value)}%` }}
            data-hint={`${withUnit(p.figure, unit)}, ${dayAt(p.at, zone)}, ${p.number}`}
            aria-label={`${withUnit(p.figure, unit)}, record ${p.number}`}
          >
            <Mark standing={p.verdict} size={11} silent />
          </Link>
        ))}
      </div>
      <p className="flex justify-between font-condensed text-[12px] text-quiet">
        <span>{points[0] === undefined ? '' : yearOf(points[0].at)}</span>
        <span>{mine.length > 0 ? `adjusted ${mine.map((r) => yearOf(r.at)).join(', ')}` : ''}</span>
        <span>{last === undefined || points.length < 2 ? '' : yearOf(last.at)}</span>
      </p>
    </figure>
  );
}

/** The allowed span around one point in time, with its limits as lines. */
function Allowed({
  point,
  from,
  to,
  y,
}: {
  point: SeriesPoint;
  from: number;
  to: number;
  y: (value: number) => number;
}) {
  if (point.low === undefined && point.high === undefined) {
    return null;
  }
  const top = point.high === undefined ? 0 : y(point.high);
  const bottom = point.low === undefined ? 100 : y(point.low);
  return (
    <>
      <rect x={from} y={top} width={to - from + 0.2} height={Math.max(0, bottom - top)} fill="var(--band)" />
      {point.high === undefined ? null : (
        <line
          x1={from}
          x2={to}
          y1={top}
          y2={top}
          stroke="var(--ink)"
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
      )}
      {point.low === undefined ? null : (
        <line
          x1={from}
          x2={to}
          y1={bottom}
          y2={bottom}
          stroke="var(--ink)"
          strokeWidth="1"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </>
  );
}
