import { useMemo } from 'react';
import type { Chart } from '../api/types';
import type { PastSpot } from '../bench/family';
import { apart, linearTicks, logTicks, type Axis } from '../draw/scale';
import type { Standing } from '../state/steps';
import { withUnit } from '../state/words';
import { Mark } from './Mark';
import { Plot, type Placing, type PlotAxis, type Series } from './Plot';

const ROOM = 0.15;
const LABEL_GAP = 17;
/** Labels whose places are nearer than this, px, are kept apart. */
const LABEL_WIDTH = 120;

/** An axis around values, with room on both sides. */
function around(values: readonly number[], { words, unit, logarithmic }: Chart['x'], label: boolean): PlotAxis {
  const placed = values.filter((v) => Number.isFinite(v) && (v > 0 || !logarithmic));
  const low = placed.length === 0 ? 1 : Math.min(...placed);
  const high = placed.length === 0 ? 1 : Math.max(...placed);
  // What is counted has no halves.
  const counted = unit === '' && placed.every(Number.isInteger);
  const room = Math.max((high - low) * ROOM, Math.max(Math.abs(high), 1e-9) * 0.05);
  const span: Axis = logarithmic
    ? { from: low * 0.7, to: high * 1.4, log: true }
    : { from: low - room, to: high + room, log: false };
  return {
    ...span,
    ticks: logarithmic
      ? logTicks(span.from, span.to, span.to / span.from > 60 ? [1] : [1, 2, 5])
      : linearTicks(span.from, span.to, 5).filter((t) => !counted || Number.isInteger(t)),
    words: (v) => withUnit(String(v).replace('-', '\u2212'), unit),
    ...(label ? { label: words } : {}),
  };
}

function fields(
  chart: Chart,
  past: readonly PastSpot[],
): { x: number[]; series: Series[]; xAxis: PlotAxis; yAxis: PlotAxis } {
  const bounds = chart.allowed.flatMap((p) => [p.low, p.high]).filter((v) => v !== undefined);
  const xAxis = around(
    [...chart.allowed, ...chart.spots, ...past].map((p) => p.at),
    chart.x,
    true,
  );
  const yAxis = around([...bounds, ...[...chart.spots, ...past].map((s) => s.value)], chart.y, false);
  // Where nothing is demanded the field is open: its edge lies beyond the axis.
  const span = yAxis.to - yAxis.from;
  const above = yAxis.log ? yAxis.to * 10 : yAxis.to + span;
  const below = yAxis.log ? yAxis.from / 10 : yAxis.from - span;
  return {
    x: chart.allowed.map((p) => p.at),
    series: [
      { y: chart.allowed.map((p) => p.high ?? above), colour: '--pine' },
      { y: chart.allowed.map((p) => p.low ?? below), colour: '--pine' },
    ],
    xAxis,
    yAxis,
  };
}

const BANDS: readonly [number, number][] = [[0, 1]];

/** Values over another one within their bounds, and those of before: what a family's chart is drawn by as a rule. */
export function ChartField({ chart, past }: { chart: Chart; past: readonly PastSpot[] }) {
  const field = useMemo(() => fields(chart, past), [chart, past]);
  return (
    <Plot
      x={field.x}
      series={field.series}
      bands={BANDS}
      xAxis={field.xAxis}
      yAxis={field.yAxis}
      label={chart.title}
      over={(place) => <Spots place={place} chart={chart} past={past} />}
    />
  );
}

function Spots({ place, chart, past }: { place: Placing; chart: Chart; past: readonly PastSpot[] }) {
  const all = [
    ...chart.spots.map((s, i) => ({
      key: `${s.lane}${i}`,
      at: place.x(s.at),
      y: place.y(s.value),
      words: `${s.lane} ${withUnit(s.figure, chart.y.unit)}${s.voided ? ', voided' : s.counts ? '' : ', as found'}`,
      standing: (s.voided ? 'notJudged' : s.verdict) as Standing,
    })),
    ...past.map((p) => ({ key: p.key, at: place.x(p.at), y: place.y(p.value), words: p.label, standing: undefined })),
  ].filter((s) => Number.isFinite(s.at) && Number.isFinite(s.y));
  const column = (at: number): number => Math.round(at / LABEL_WIDTH);
  return [...new Set(all.map((s) => column(s.at)))].flatMap((n) => {
    const here = all.filter((s) => column(s.at) === n);
    const tops = apart(
      here.map((s) => s.y),
      LABEL_GAP,
    );
    // On the right there is no room for words.
    const turned = (at: number): boolean => at > place.width - LABEL_WIDTH;
    return here.map((s, i) => (
      <span key={s.key} data-spot={s.standing ?? 'past'}>
        <span
          className="absolute -translate-x-1/2 -translate-y-1/2"
          style={{ left: s.at, top: s.y }}
          aria-hidden={s.standing === undefined}
        >
          {s.standing === undefined ? (
            <span className="block h-[2px] w-[10px] bg-quiet" />
          ) : (
            <Mark standing={s.standing} size={13} />
          )}
        </span>
        <span
          className={`halo absolute -translate-y-1/2 px-0.5 font-condensed text-[14px] whitespace-nowrap ${s.standing === undefined ? 'text-quiet' : ''}`}
          style={
            turned(s.at)
              ? { right: place.width - s.at + 10, top: tops[i] ?? s.y }
              : { left: s.at + 10, top: tops[i] ?? s.y }
          }
        >
          {s.words}
        </span>
      </span>
    ));
  });
}
