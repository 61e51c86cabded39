import { useQuery } from '@tanstack/react-query';
import { useMemo, type ReactNode } from 'react';
import { record as fetchRecord, traces as fetchTraces } from '../../api/records';
import type { PointView, RunView, StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { PointFigure } from '../../bench/kit/PointFigure';
import { Sentence, type StageWords } from '../../bench/kit/Sentence';
import { SignalStage } from '../../bench/kit/SignalStage';
import { linearTicks, merged } from '../../draw/scale';
import { counts, openConfirmations, pointsOf } from '../../state/steps';
import { withUnit, yearOf } from '../../state/words';
import { Plot, type PlotAxis, type Series } from '../../ui/Plot';
import { barOf, spanOf, type Line } from './switching';

const TRAVEL = 'Travel';
const COIL = 'Coil current';
const POLES = ['A', 'B', 'C'];
const MOVES = { 'breaker.open': 'open', 'breaker.close': 'close', 'breaker.closeOpen': 'closeOpen' } as const;

/** An operation: its poles, the way of its drive and the current of its coil, over what they were before. */
export function OperationStage({ step, words }: { step: StepView; words: StageWords }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const picked = overlay?.kind === 'attempt' ? overlay.attempt : null;
  const of = (attempt: string | null): RunView['attempts'][number] | undefined =>
    [...view.attempts].reverse().find((a) => a.step === step.id && counts(a) && (attempt === null || a.id === attempt));
  const last = of(picked) ?? of(null);
  const blobs = [TRAVEL, COIL].map(
    (name) => view.captures.find((c) => c.attempt === last?.id && c.name === name)?.sha256,
  );
  const [travel, coil] = blobs;
  const waiting = openConfirmations(view, step).length > 0 && view.output.mode === 'safe';
  if (live || waiting || travel === undefined || coil === undefined) {
    return <SignalStage step={step} words={words} about={null} table={<Points step={step} />} />;
  }
  return (
    <>
      <div className="min-h-0 flex-1 px-3 pt-2 pb-1">
        <Kept step={step} travel={travel} coil={coil} />
      </div>
      <Points step={step} />
      <Sentence step={step} words={words} />
    </>
  );
}

/** The record that lies beneath: the one a person laid there, else the last one. */
function useEarlier(step: StepView): { words: string; travel?: string | undefined; coil?: string | undefined } | null {
  const { ready, overlay } = useBench();
  const past = pointsOf(ready.view, step.id).flatMap((p) => p.strip?.past ?? []);
  const last = past.reduce<(typeof past)[number] | undefined>(
    (best, p) => (best === undefined || p.at > best.at ? p : best),
    undefined,
  );
  const number = overlay?.kind === 'record' ? overlay.record : (last?.record ?? null);
  const then = useQuery({
    queryKey: ['record', number],
    queryFn: () => fetchRecord(number ?? ''),
    enabled: number !== null,
    staleTime: 60_000,
  });
  if (number === null) {
    return null;
  }
  if (then.data === undefined) {
    return { words: then.isError ? `record ${number}: ${then.error.message}` : 'Fetching the last record…' };
  }
  const own = then.data.record.traces.filter((t) => t.step === step.id);
  const at = past.find((p) => p.record === number)?.at;
  const name = at === undefined ? `record ${number}` : `record ${number}, ${yearOf(at)}`;
  return {
    words: own.length === 0 ? `${name}, nothing recorded` : name,
    travel: own.find((t) => t.name === TRAVEL)?.blob,
    coil: own.find((t) => t.name === COIL)?.blob,
  };
}

function useLines(blobs: (string | undefined)[]): { lines: Line[]; unit: string; fault: string | null } {
  const known = blobs.filter((b): b is string => b !== undefined);
  const view = useQuery({
    queryKey: ['traces', known],
    queryFn: () => fetchTraces(known),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  return {
    lines: (view.data?.lines ?? []).slice(0, known.length),
    unit: view.data?.yUnit ?? '',
    fault: view.error?.message ?? null,
  };
}

function Kept({ step, travel, coil }: { step: StepView; travel: string; coil: string }) {
  const { view } = useBench().ready;
  const earlier = useEarlier(step);
  const ways = useLines([travel, earlier?.travel]);
  const currents = useLines([coil, earlier?.coil]);
  const fault = ways.fault ?? currents.fault;
  const [way] = ways.lines;
  const [current] = currents.lines;
  if (way === undefined || current === undefined) {
    return <p className="p-4 text-quiet">{fault ?? 'Fetching what was recorded…'}</p>;
  }
  const span = spanOf([way, current]);
  return (
    <div className="flex h-full flex-col" data-picture="kept">
      <p className="flex flex-wrap items-baseline gap-x-5 px-1 font-condensed text-[14px] text-quiet">
        <b className="text-[15px] font-semibold text-ink">{step.title}: poles, travel and coil current</b>
        <span>ms from the command</span>
        {earlier === null ? null : <Key words={earlier.words} />}
      </p>
      <Poles step={step} span={span} />
      <div className="min-h-0 flex-[1.2]">
        <Track lines={ways.lines} unit={ways.unit} span={span} name="travel" />
      </div>
      <div className="min-h-0 flex-1">
        <Track
          lines={currents.lines}
          unit={currents.unit}
          span={span}
          name="coil"
          figures
          marks={moments(view, step)}
        />
      </div>
    </div>
  );
}

function Key({ words }: { words: string }) {
  return (
    <span className="flex items-center gap-2">
      <svg width="30" height="8" aria-hidden="true">
        <line x1="0" x2="30" y1="4" y2="4" stroke="var(--quiet)" strokeWidth="2" strokeDasharray="6 3" />
      </svg>
      {words}
    </span>
  );
}

/** Room that a plot takes for the figures of its axis, px; what stands over the plots is as wide. */
const AXIS = 74;
const RIGHT = 10;

function inMs(p: PointView | undefined): number | undefined {
  return p?.counting?.value;
}

/** Poles over the time: closed where there is a bar. */
function Poles({ step, span }: { step: StepView; span: readonly [number, number] }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  const moves = MOVES[step.method as keyof typeof MOVES];
  const share = (t: number): number => ((t - span[0]) / (span[1] - span[0])) * 100;
  if (moves === 'closeOpen') {
    return null;
  }
  return (
    <div className="flex flex-col gap-1 py-1" style={{ paddingRight: RIGHT }} data-poles>
      {POLES.map((pole, i) => {
        const point = points.find((p) => p.point === `pole${i + 1}`);
        const at = inMs(point);
        const bar = barOf(moves, span, at);
        const bad = point?.verdict === 'fail';
        return (
          <div key={pole} className="flex items-center" data-pole={pole}>
            <span className="shrink-0 pr-2 text-right font-condensed text-[13px]" style={{ width: AXIS }}>
              {pole} {at === undefined ? 'still' : withUnit(point?.counting?.figure ?? '', 'ms')}
            </span>
            <span className="relative h-3.5 flex-1 border-b border-rule">
              {bar === null ? null : (
                <span
                  className={`absolute top-0 h-full ${bad ? 'bg-brick' : 'bg-lake'}`}
                  style={{ left: `${share(bar.from)}%`, width: `${share(bar.to) - share(bar.from)}%` }}
                />
              )}
            </span>
          </div>
        );
      })}
    </div>
  );
}

/** Moments of the coil that are points of the step, ms. */
function moments(view: RunView, step: StepView): Moment[] {
  const named = { latch: 'armature strikes', coilEnds: 'interrupted' };
  return Object.entries(named).flatMap(([point, words]) => {
    const at = inMs(pointsOf(view, step.id).find((p) => p.point === point));
    return at === undefined ? [] : [{ at, words }];
  });
}

interface Moment {
  readonly at: number;
  readonly words: string;
}

/** A line over the time, before it what it was. */
function Track({
  lines,
  unit,
  span,
  name,
  figures = false,
  marks = [],
}: {
  lines: readonly Line[];
  unit: string;
  span: readonly [number, number];
  name: string;
  /** Whether the time is told beneath it. */
  figures?: boolean;
  marks?: readonly Moment[];
}) {
  const field = useMemo(() => {
    const inside = lines.map((l) => {
      const at = l.x.map((x) => x * 1000);
      const from = at.findIndex((x) => x >= span[0]);
      const last = at.findIndex((x) => x > span[1]);
      const to = last === -1 ? at.length : last;
      return { x: at.slice(from, to), y: l.y.slice(from, to) };
    });
    const common = merged(inside);
    const all = inside.flatMap((l) => l.y);
    const low = all.reduce((a, b) => Math.min(a, b), Infinity);
    const high = all.reduce((a, b) => Math.max(a, b), -Infinity);
    const room = Math.max(1e-9, (high - low) * 0.12);
    const yAxis: PlotAxis = {
      from: low - room,
      to: high + room,
      log: false,
      ticks: linearTicks(low, high, 3),
      room: AXIS,
      words: (v) => withUnit(String(v).replace('-', '\u2212'), unit),
    };
    const series = common.y.map((y, i): Series => ({
      y,
      spans: true,
      colour: i === 0 ? '--ink' : '--quiet',
      width: i === 0 ? 1.75 : 1.5,
      ...(i === 0 ? {} : { dash: [6, 3] }),
    }));
    return { x: common.x, yAxis, series };
  }, [lines, span, unit]);
  const xAxis: PlotAxis = {
    from: span[0],
    to: span[1],
    log: false,
    ticks: linearTicks(span[0], span[1], 8),
    words: (v) => (figures ? String(v).replace('-', '\u2212') : ''),
    ...(figures ? {} : { room: 4 }),
  };
  return (
    <Plot
      x={field.x}
      series={field.series}
      xAxis={xAxis}
      yAxis={field.yAxis}
      label={name}
      over={(place): ReactNode =>
        marks.map((m) => (
          <span
            key={m.words}
            className="absolute top-0 h-full border-l border-dashed border-lake"
            style={{ left: place.x(m.at) }}
          >
            <span className="halo absolute bottom-1 left-1 font-condensed text-[13px] whitespace-nowrap">
              {m.words}
            </span>
          </span>
        ))
      }
    />
  );
}

/** All points side by side: what was measured, how it stands. */
function Points({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  return (
    <dl
      className="grid max-h-[34%] grid-cols-4 gap-x-5 gap-y-1.5 overflow-auto border-t border-rule px-4 py-2 max-[1000px]:max-h-[44%] max-[1000px]:grid-cols-3"
      data-points
    >
      {pointsOf(view, step.id).map((p) => (
        <div key={p.key} data-point={p.key}>
          <dt className="truncate font-condensed text-[14px]" title={p.label}>
            {p.name} <span className="text-quiet">{p.unit}</span>
          </dt>
          <dd>
            <PointFigure point={p} />
          </dd>
        </div>
      ))}
    </dl>
  );
}
