import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { traces } from '../api/records';
import type { TracesView } from '../api/types';
import { isCloud, linearTicks, merged } from '../draw/scale';
import { Plot, type PlotAxis, type Series } from '../ui/Plot';

const DASHES: readonly (readonly number[])[] = [[], [7, 3], [2, 2], [10, 3, 2, 3]];
const ROOM = 0.2;

/** An axis around values, with room above and below, and its figures with their unit. */
function around(values: readonly number[], unit: string, least: number): PlotAxis {
  const low = values.reduce((a, b) => Math.min(a, b), Infinity);
  const high = values.reduce((a, b) => Math.max(a, b), -Infinity);
  const room = Math.max((high - low) * ROOM, least);
  const ticks = linearTicks(low - room, high + room, 4);
  return {
    from: low - room,
    to: high + room,
    log: false,
    ticks,
    words: (v) => `${String(v).replace('-', '\u2212')}\u2006${unit}`,
  };
}

interface Drawn {
  readonly x: number[];
  readonly series: Series[];
  readonly axis: PlotAxis;
}

function drawn(view: TracesView): { lines: Drawn; difference: Drawn | null; xAxis: PlotAxis; cloud: boolean } {
  const common = merged(view.lines);
  const all = view.lines.flatMap((l) => l.y);
  const size = all.reduce((a, b) => Math.max(a, Math.abs(b)), 1e-9);
  const to = common.x[common.x.length - 1] ?? 1;
  // A trace counts from where it begins; a spectrum may lie on both sides of its middle.
  const from = Math.min(0, common.x[0] ?? 0);
  const cloud = isCloud(view.xUnit, common.x.length);
  const series = common.y.map((y, i): Series => ({
    y,
    spans: true,
    ...(cloud ? { dots: i === 0 ? ('full' as const) : ('hollow' as const) } : {}),
    colour: i === 0 ? '--ink' : '--quiet',
    width: i === 0 ? 1.75 : 1.25,
    dash: DASHES[i % DASHES.length] ?? [],
  }));
  const between = view.difference;
  return {
    cloud,
    xAxis: {
      from: from * 1.02,
      to: to * 1.02,
      log: false,
      ticks: linearTicks(from, to, 8),
      words: (v) => `${String(v).replace('-', '\u2212')}\u2006${view.xUnit}`,
    },
    lines: { x: common.x, series, axis: around(all, view.yUnit, size * 0.005) },
    difference:
      between === undefined || between.x.length === 0
        ? null
        : {
            x: between.x,
            series: [{ y: between.y, colour: '--ink', width: 1.5 }],
            axis: around([...between.y, 0], view.yUnit, size * 0.001),
          },
  };
}

interface Props {
  blobs: readonly string[];
  names: readonly string[];
  /** Whether the first less the second is drawn below: of one thing at two times, not of two lanes. */
  difference?: boolean;
}

/** Captured traces over each other, told apart by their dashes. */
export function TraceField({ blobs, names, difference = false }: Props) {
  const view = useQuery({ queryKey: ['traces', blobs], queryFn: () => traces(blobs), staleTime: Infinity });
  const field = useMemo(() => (view.data === undefined ? null : drawn(view.data)), [view.data]);
  if (field === null) {
    return <p className="h-44 py-4 text-quiet">{view.isError ? view.error.message : 'Fetching the trace…'}</p>;
  }
  return (
    <div data-traces={blobs.length}>
      <p className="flex flex-wrap gap-x-5 font-condensed text-[14px]">
        {names.map((name, i) => (
          <span key={`${name}${i}`} className="flex items-center gap-2">
            <svg width="34" height="8" aria-hidden="true">
              {field.cloud ? (
                <circle
                  cx="28"
                  cy="4"
                  r="2.5"
                  fill={i === 0 ? 'var(--ink)' : 'none'}
                  stroke={i === 0 ? 'none' : 'var(--quiet)'}
                />
              ) : null}
              <line
                visibility={field.cloud ? 'hidden' : undefined}
                x1="0"
                x2="34"
                y1="4"
                y2="4"
                stroke={i === 0 ? 'var(--ink)' : 'var(--quiet)'}
                strokeWidth="2"
                strokeDasharray={DASHES[i % DASHES.length]?.join(' ')}
              />
            </svg>
            {name}
          </span>
        ))}
      </p>
      <div className="h-44">
        <Plot
          x={field.lines.x}
          series={field.lines.series}
          xAxis={field.xAxis}
          yAxis={field.lines.axis}
          label={`Traces of ${names.join(', ')}`}
        />
      </div>
      {difference && field.difference !== null ? (
        <>
          <p className="font-condensed text-[13px] text-quiet">
            {names[0]} less {names[1]}
          </p>
          <div className="h-28" data-trace-difference>
            <Plot
              x={field.difference.x}
              series={field.difference.series}
              xAxis={field.xAxis}
              yAxis={field.difference.axis}
              label={`Difference of ${names[0] ?? ''} and ${names[1] ?? ''}`}
            />
          </div>
        </>
      ) : null}
    </div>
  );
}
