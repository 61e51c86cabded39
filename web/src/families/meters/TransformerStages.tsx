import { useQuery } from '@tanstack/react-query';
import { useMemo, type ReactNode } from 'react';
import { record as fetchRecord, traces as fetchTraces } from '../../api/records';
import type { PointView, StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { LanesStage } from '../../bench/kit/LanesStage';
import { PointFigure } from '../../bench/kit/PointFigure';
import { Sentence, type StageWords } from '../../bench/kit/Sentence';
import { SignalStage } from '../../bench/kit/SignalStage';
import { logTicks, merged } from '../../draw/scale';
import { counts, openConfirmations, pointsOf, standingOf } from '../../state/steps';
import { figure, withUnit, yearOf } from '../../state/words';
import { Mark } from '../../ui/Mark';
import { Plot, type PlotAxis, type Series } from '../../ui/Plot';
import { together } from './block';
import { TestBlock } from './TestBlock';

const QUIET: StageWords = {
  live: () => 'It is being read. Nothing is switched on, nothing is opened.',
  safe: () => 'Nothing is switched on, and no secondary is opened.',
};
const LOAD: StageWords = {
  live: () => 'Current flows into the load. Keep hands off the test block.',
  safe: () => 'Safe. Nothing is injected.',
};
const ALONE: StageWords = {
  live: () => 'Voltage is on the transformer. Keep hands off its terminals, primary and secondary.',
  safe: () => 'Safe. Nothing is switched on.',
};

const SIZE = 300;
const EDGE = 34;

/** Burdens as vectors: how far they reach beside the rated one and its floor, and at which angle. */
export function BurdenStage({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  const measured = points.filter((p) => p.point === 'vaNominal');
  const words = step.method === 'ct.burdenLoad' ? LOAD : QUIET;
  if (measured.every((p) => p.counting === undefined)) {
    return <LanesStage step={step} words={words} />;
  }
  return (
    <LanesStage
      step={step}
      words={words}
      field={
        <div className="flex h-full items-center gap-6 overflow-auto px-2" data-burden>
          <Vectors step={step} points={points} />
          <dl className="flex w-[46%] shrink-0 flex-col gap-2">
            {measured.map((p) => (
              <div key={p.key} data-point={p.key}>
                <dt className="font-condensed text-[15px]">
                  {p.lane}{' '}
                  <span className="text-quiet">
                    at the nominal {step.method === 'vt.burden' ? 'voltage' : 'current'}, VA
                  </span>
                </dt>
                <dd>
                  <PointFigure point={p} />
                  {p.counting !== undefined && p.strip === undefined && p.why !== undefined ? (
                    <span className="text-[14px] text-quiet">{p.why}</span>
                  ) : null}
                </dd>
              </div>
            ))}
          </dl>
        </div>
      }
    />
  );
}

function Vectors({ step, points }: { step: StepView; points: readonly PointView[] }) {
  const lanes = step.lanes.flatMap((lane) => {
    const va = points.find((p) => p.point === 'vaNominal' && p.lane === lane.id)?.counting?.value;
    const of = (id: string): number | undefined =>
      points.find((p) => p.point === id && p.lane === lane.id)?.counting?.value ?? undefined;
    const factor = Math.min(1, Math.max(-1, of('powerFactor') ?? 1));
    return va === undefined || va === null
      ? []
      : [{ id: lane.id, va, angle: of('angle') ?? (Math.acos(factor) * 180) / Math.PI }];
  });
  const strip = points.find((p) => p.point === 'vaNominal' && p.strip?.high !== undefined)?.strip;
  const rated = strip?.high ?? undefined;
  const floor = strip?.low ?? undefined;
  const most = 1.15 * Math.max(rated ?? 0, ...lanes.map((l) => l.va));
  const scale = (SIZE - 2 * EDGE) / most;
  const at = (va: number, degrees: number): { x: number; y: number } => ({
    x: EDGE + va * scale * Math.cos((degrees * Math.PI) / 180),
    y: SIZE - EDGE - va * scale * Math.sin((degrees * Math.PI) / 180),
  });
  const arc = (va: number): string => {
    const from = at(va, 0);
    const to = at(va, 90);
    return `M${from.x},${from.y} A${va * scale},${va * scale} 0 0 0 ${to.x},${to.y}`;
  };
  const origin = at(0, 0);
  return (
    <svg viewBox={`0 0 ${SIZE} ${SIZE}`} className="h-full max-h-[360px] min-w-0 flex-1 font-condensed" role="img">
      <title>Burden of each phase beside what the transformers are rated for</title>
      {rated === undefined || floor === undefined ? null : (
        <path
          d={`${arc(rated)} L${at(floor, 90).x},${at(floor, 90).y} A${floor * scale},${floor * scale} 0 0 1 ${at(floor, 0).x},${at(floor, 0).y} Z`}
          fill="var(--band)"
          stroke="none"
        />
      )}
      <line x1={origin.x} y1={origin.y} x2={SIZE - 8} y2={origin.y} stroke="var(--ink)" />
      <line x1={origin.x} y1={origin.y} x2={origin.x} y2={12} stroke="var(--ink)" />
      <text x={SIZE - 8} y={origin.y + 18} textAnchor="end" fontSize="13" fill="var(--quiet)">
        in phase, VA
      </text>
      <text x={origin.x - 4} y={10} fontSize="13" fill="var(--quiet)">
        lagging, VA
      </text>
      {[
        { va: rated, words: 'rated' },
        { va: floor, words: 'floor, 25 %' },
      ].map(({ va, words }) =>
        va === undefined ? null : (
          <g key={words}>
            <path d={arc(va)} fill="none" stroke="var(--pine)" strokeWidth="1.5" />
            <text x={at(va, 62).x + 4} y={at(va, 62).y - 4} fontSize="13" fill="var(--ink)">
              {words} {figure(va)}
            </text>
          </g>
        ),
      )}
      {lanes.map((l) => {
        const end = at(l.va, l.angle);
        return (
          <g key={l.id} data-vector={l.id}>
            <line x1={origin.x} y1={origin.y} x2={end.x} y2={end.y} stroke="var(--lake)" strokeWidth="3" />
            <circle cx={end.x} cy={end.y} r="4.5" fill="var(--lake)" />
          </g>
        );
      })}
      {together(lanes.map((l) => ({ id: l.id, ...at(l.va, l.angle) }))).map((g) => (
        <text key={g.name} x={g.x + 9} y={g.y + 4} fontSize="14" fontWeight="600" fill="var(--ink)">
          {g.name}
        </text>
      ))}
    </svg>
  );
}

/** Shorting a secondary and taking the short off: the block over what was measured. */
export function ShortStage({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const shorting = step.method === 'ct.shorted';
  const now = progress?.values['current']?.value;
  const words: StageWords = {
    live: () =>
      shorting
        ? 'Short this secondary now. It waits until its current has fallen to nothing.'
        : 'Take the short of this secondary off now. It waits until the current is back.',
    safe: () => 'An energised secondary is never opened. Nothing is switched on by this step.',
  };
  if (openConfirmations(view, step).length > 0 && view.output.mode === 'safe') {
    return <LanesStage step={step} words={words} />;
  }
  return (
    <>
      <div className="min-h-0 flex-1 overflow-auto px-6 py-3">
        {live ? (
          <p className="pb-2" data-watched>
            <b className="font-mono text-[40px] leading-none font-semibold">
              {now === undefined ? '…' : withUnit(figure(now), 'A')}
            </b>
          </p>
        ) : null}
        <TestBlock step={step} />
        <dl className="mt-3 grid grid-cols-3 gap-x-6">
          {pointsOf(view, step.id)
            .filter((p) => p.point === 'current')
            .map((p) => (
              <div key={p.key} data-point={p.key}>
                <dt className="font-condensed text-[15px]">{p.label}</dt>
                <dd>
                  <PointFigure point={p} />
                </dd>
              </div>
            ))}
        </dl>
      </div>
      <Sentence step={step} words={words} />
    </>
  );
}

/** An excitation curve on two logarithmic axes, its knees, and the curve of an earlier record. */
export function ExcitationStage({ step }: { step: StepView }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const picked = overlay?.kind === 'attempt' ? overlay.attempt : null;
  const last = [...view.attempts]
    .reverse()
    .find((a) => a.step === step.id && counts(a) && (picked === null || a.id === picked));
  const own = view.captures.find((c) => c.attempt === last?.id && c.kind === 'trace')?.sha256;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const waiting = openConfirmations(view, step).length > 0 && view.output.mode === 'safe';
  if (own === undefined || live || waiting) {
    return <SignalStage step={step} words={ALONE} about={null} table={<Knees step={step} />} />;
  }
  return (
    <>
      <div className="min-h-0 flex-1 px-3 pt-2 pb-1">
        <Curves step={step} own={own} />
      </div>
      <Knees step={step} />
      <Sentence step={step} words={ALONE} />
    </>
  );
}

/** What else is done to a transformer by itself. */
export function AloneStage({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const elapsed = progress?.values['elapsed']?.value;
  const points = pointsOf(view, step.id);
  const field = live ? (
    <p className="px-4 pt-6 text-[22px] font-semibold">
      {elapsed === undefined ? 'Beginning…' : `${elapsed.toFixed(1)} s`}
    </p>
  ) : points.every((p) => p.counting === undefined) ? (
    <p className="px-4 pt-6 text-[22px] leading-snug font-semibold">{step.text}</p>
  ) : (
    <dl className="grid grid-cols-2 gap-x-10 gap-y-6 px-4 pt-6" data-alone>
      {points.map((p) => (
        <div key={p.key} data-point={p.key}>
          <dt className="font-condensed text-[16px] leading-tight">
            {p.name} <span className="text-quiet">{p.unit}</span>
          </dt>
          <dd>
            <PointFigure point={p} />
          </dd>
        </div>
      ))}
    </dl>
  );
  return <LanesStage step={step} words={ALONE} field={field} />;
}

function Knees({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  return (
    <dl className="grid grid-cols-4 gap-x-5 gap-y-2 border-t border-rule px-4 py-2 max-[1000px]:grid-cols-2">
      {pointsOf(view, step.id).map((p) => (
        <div key={p.key} data-point={p.key}>
          <dt className="font-condensed text-[14px] leading-tight">
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

function Curves({ step, own }: { step: StepView; own: string }) {
  const { ready, overlay } = useBench();
  const points = pointsOf(ready.view, step.id);
  const past = points.flatMap((p) => p.strip?.past ?? []);
  const latest = past.reduce<(typeof past)[number] | undefined>(
    (best, p) => (best === undefined || p.at > best.at ? p : best),
    undefined,
  );
  const number = overlay?.kind === 'record' ? overlay.record : (latest?.record ?? null);
  const then = useQuery({
    queryKey: ['record', number],
    queryFn: () => fetchRecord(number ?? ''),
    enabled: number !== null,
    staleTime: 60_000,
  });
  const before = then.data?.record.traces.find((t) => t.step === step.id)?.blob;
  const blobs = before === undefined ? [own] : [own, before];
  const drawn = useQuery({
    queryKey: ['traces', blobs],
    queryFn: () => fetchTraces(blobs),
    staleTime: Infinity,
    placeholderData: (was) => was,
  });
  const lines = useMemo(() => (drawn.data?.lines ?? []).slice(0, blobs.length), [drawn.data, blobs.length]);
  const field = useMemo(() => (lines.length === 0 ? null : fieldOf(lines)), [lines]);
  if (field === null) {
    return <p className="p-4 text-quiet">{drawn.error?.message ?? 'Fetching the curve…'}</p>;
  }
  const of = (id: string): number | undefined => points.find((p) => p.point === id)?.counting?.value ?? undefined;
  const knees = [
    { volts: of('knee'), amperes: of('kneeCurrent'), words: 'knee, IEC 61869-2' },
    { volts: of('knee45'), amperes: of('knee45Current'), words: 'knee, slope of one' },
  ];
  const at = past.find((p) => p.record === number)?.at;
  return (
    <div className="flex h-full flex-col" data-excitation>
      <p className="flex flex-wrap gap-x-5 px-1 font-condensed text-[14px] text-quiet">
        <b className="text-[15px] font-semibold text-ink">Voltage on the secondary over the current that magnetises</b>
        {before === undefined || at === undefined ? null : (
          <span>
            dashed: {yearOf(at)}, record {number}
          </span>
        )}
      </p>
      <div className="min-h-0 flex-1">
        <Plot
          x={field.x}
          series={field.series}
          xAxis={field.xAxis}
          yAxis={field.yAxis}
          label="Excitation curve"
          over={(place): ReactNode =>
            knees.map(({ volts, amperes, words }) =>
              volts === undefined || amperes === undefined ? null : (
                <span
                  key={words}
                  className="absolute"
                  style={{ left: place.x(amperes) - 6, top: place.y(volts) - 6 }}
                  data-knee={words}
                >
                  <svg width="12" height="12" aria-hidden="true">
                    <circle cx="6" cy="6" r="4.5" fill="var(--sheet)" stroke="var(--lake)" strokeWidth="2.5" />
                  </svg>
                  <span
                    className={`halo absolute left-4 px-0.5 font-condensed text-[13px] whitespace-nowrap ${words.includes('IEC') ? 'top-1' : 'top-4'}`}
                  >
                    {words} {withUnit(figure(volts), 'V')}
                  </span>
                </span>
              ),
            )
          }
        />
      </div>
    </div>
  );
}

function fieldOf(lines: readonly { readonly x: readonly number[]; readonly y: readonly number[] }[]): {
  x: ArrayLike<number>;
  series: Series[];
  xAxis: PlotAxis;
  yAxis: PlotAxis;
} {
  const common = merged(lines.map((l) => ({ x: [...l.x], y: [...l.y] })));
  const span = (values: readonly number[]): [number, number] => {
    const good = values.filter((v) => v > 0);
    const low = good.reduce((a, b) => Math.min(a, b), Infinity);
    const high = good.reduce((a, b) => Math.max(a, b), 0);
    return [low / 1.4, high * 1.4];
  };
  const [fromX, toX] = span(lines.flatMap((l) => [...l.x]));
  const [fromY, toY] = span(lines.flatMap((l) => [...l.y]));
  const steps = [1, 2, 5];
  return {
    x: common.x,
    series: common.y.map((y, i): Series => ({
      y,
      spans: true,
      colour: i === 0 ? '--ink' : '--quiet',
      width: i === 0 ? 2 : 1.5,
      ...(i === 0 ? {} : { dash: [6, 3] }),
    })),
    xAxis: { from: fromX, to: toX, log: true, ticks: logTicks(fromX, toX, [1]), words: amperes },
    yAxis: {
      from: fromY,
      to: toY,
      log: true,
      ticks: logTicks(fromY, toY, steps),
      room: 74,
      words: (v) => withUnit(figure(v), 'V'),
    },
  };
}

const amperes = (value: number): string =>
  value < 0.999 ? withUnit(figure(value * 1000), 'mA') : withUnit(figure(value), 'A');

/** What the lead from a voltage transformer drops, phase by phase, from both of its ends. */
export function DropStage({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  return (
    <LanesStage
      step={step}
      words={QUIET}
      field={
        <table className="w-full table-fixed" data-drop>
          <thead>
            <tr className="text-left text-[13px] text-quiet">
              <th className="w-[12%] py-2 pl-3 font-semibold">phase</th>
              <th className="w-[19%] px-2 font-semibold">transformer, V</th>
              <th className="w-[17%] px-2 font-semibold">meter, V</th>
              <th className="px-2 font-semibold">less at the meter, %</th>
              <th className="px-2 font-semibold">phase, minutes</th>
            </tr>
          </thead>
          <tbody>
            {step.lanes.map((lane) => {
              const of = (id: string): PointView | undefined =>
                points.find((p) => p.point === id && p.lane === lane.id);
              return (
                <tr key={lane.id} className="border-t border-rule align-top">
                  <th scope="row" className="py-2 pl-3 text-left font-condensed text-[16px]">
                    {lane.id}
                  </th>
                  <td className="px-2 py-2 font-mono text-[17px]">{of('terminals')?.counting?.figure ?? '–'}</td>
                  <td className="px-2 py-2 font-mono text-[17px]">{of('meter')?.counting?.figure ?? '–'}</td>
                  {['drop', 'phase'].map((id) => {
                    const point = of(id);
                    return (
                      <td key={id} className="px-2 py-2" data-point={point?.key}>
                        {point?.counting === undefined ? '–' : <PointFigure point={point} />}
                      </td>
                    );
                  })}
                </tr>
              );
            })}
          </tbody>
        </table>
      }
    />
  );
}

/** Ratios phase by phase with what was entered and what was measured side by side. */
export function RatioStage({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  const rated = step.params['ratedRatio']?.value;
  return (
    <LanesStage
      step={step}
      words={QUIET}
      field={
        <table className="w-full table-fixed" data-ratios>
          <thead>
            <tr className="text-left text-[13px] text-quiet">
              <th className="w-[12%] py-2 pl-3 font-semibold">phase</th>
              <th className="w-[16%] px-2 font-semibold">entered</th>
              <th className="w-[18%] px-2 font-semibold">measured</th>
              <th className="px-2 font-semibold">deviation, %</th>
              <th className="px-2 font-semibold">phase, minutes</th>
            </tr>
          </thead>
          <tbody>
            {step.lanes.map((lane) => {
              const of = (id: string): PointView | undefined =>
                points.find((p) => p.point === id && p.lane === lane.id);
              const error = of('error');
              const phase = of('phase');
              return (
                <tr key={lane.id} className="border-t border-rule align-top">
                  <th scope="row" className="py-2 pl-3 text-left font-condensed text-[16px]">
                    {lane.id}
                  </th>
                  <td className="px-2 py-2 font-mono text-[17px]">
                    {rated === undefined || rated === null ? '–' : rated === 0 ? 'to measure' : figure(rated)}
                  </td>
                  <td className="px-2 py-2 font-mono text-[17px]">{of('ratio')?.counting?.figure ?? '–'}</td>
                  <td className="px-2 py-2" data-point={error?.key}>
                    {error?.counting === undefined ? '–' : <PointFigure point={error} />}
                  </td>
                  <td className="px-2 py-2" data-point={phase?.key}>
                    {phase?.counting === undefined ? (
                      '–'
                    ) : (
                      <span className="flex items-center gap-2">
                        <Mark standing={standingOf(view, phase)} size={12} />
                        <b className="font-mono text-[17px]">{phase.counting.figure}</b>
                      </span>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      }
    />
  );
}
