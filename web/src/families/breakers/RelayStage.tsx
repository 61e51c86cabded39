import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { curve as curveOf } from '../../api/calls';
import type { PointView, RunView, StepView } from '../../api/types';
import { LanesStage, nextLane } from '../../bench/kit/LanesStage';
import { PointFigure } from '../../bench/kit/PointFigure';
import { useBench } from '../../bench/context';
import { linearTicks } from '../../draw/scale';
import { onWheel } from '../../draw/wheel';
import { laneName, pointsOf, standingOf } from '../../state/steps';
import { figure, withUnit } from '../../state/words';
import { Mark } from '../../ui/Mark';
import { Plot } from '../../ui/Plot';
import { TimeCurrentField, type Measured } from '../../ui/TimeCurrentField';
import { restraint, sector } from './relay';

const WORDS = {
  live: () => 'Currents flow into the relay, time and again.',
  safe: () => 'Safe. Nothing is injected.',
};

/** Elements of a relay: those with a characteristic over it, the others lane by lane. */
export function RelayStage({ step }: { step: StepView }) {
  const field =
    step.method === 'relay.directional' ? (
      <Direction step={step} />
    ) : step.method === 'relay.differential' ? (
      <Difference step={step} />
    ) : step.method === 'relay.time' ? (
      <Times step={step} />
    ) : undefined;
  return <LanesStage step={step} words={WORDS} {...(field === undefined ? {} : { field })} />;
}

/** Times over the curve of the device, each lane at its own current. */
function Times({ step }: { step: StepView }) {
  const { ready } = useBench();
  const { view, progress } = ready;
  const curve = useQuery({ queryKey: ['curve', ready.run], queryFn: () => curveOf(ready.run), staleTime: Infinity });
  const points = pointsOf(view, step.id);
  const measured = useMemo(
    () =>
      points.flatMap((p): Measured[] => {
        const current = ownCurrent(view, step, p.lane, 'pickUpSetting');
        const value = p.counting?.value;
        return current === undefined || value === undefined
          ? []
          : [
              {
                key: p.key,
                current,
                time: value,
                label: `${laneName(step, p.lane)} ${withUnit(p.counting?.figure ?? '', p.unit)}`,
                standing: standingOf(view, p),
              },
            ];
      }),
    [points, view, step],
  );
  if (curve.data === undefined) {
    return <p className="px-4 py-6 text-quiet">{curve.isError ? curve.error.message : 'Fetching the curve…'}</p>;
  }
  const next = view.output.lane ?? nextLane(view, step);
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const current = progress?.values['current']?.value;
  const elapsed = progress?.values['elapsed']?.value;
  return (
    <TimeCurrentField
      curve={curve.data}
      current={ownCurrent(view, step, next, 'pickUpSetting') ?? 1}
      window={null}
      measured={measured}
      live={live && current !== undefined && elapsed !== undefined ? { current, elapsed } : null}
      lane={laneName(step, next) || 'the relay'}
      own
    />
  );
}

const SIZE = 360;
const MIDDLE = SIZE / 2;
const RADIUS = 140;

/** Which way it looks: the half it should operate in, the edges that were found, the voltage at 0°. */
function Direction({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const points = pointsOf(view, step.id);
  const of = (id: string): PointView | undefined => points.find((p) => p.point === id);
  const middle = step.params['angle']?.value ?? 0;
  const from = of('from')?.counting?.value;
  const to = of('to')?.counting?.value;
  const now = progress?.values['angle']?.value;
  const centre = of('centre');
  return (
    <div className="flex h-full items-center gap-6" data-direction>
      <svg viewBox={`0 0 ${SIZE} ${SIZE}`} className="h-full max-h-[420px] min-w-0 flex-1" role="img">
        <title>{`Direction of the element around ${figure(middle)}°`}</title>
        <path d={sector(middle - 90, middle + 90, RADIUS, MIDDLE)} fill="var(--band)" />
        {[0, 45, 90, 135, 180, 225, 270, 315].map((a) => {
          const end = onWheel(a, RADIUS, MIDDLE);
          const name = onWheel(a, RADIUS + 18, MIDDLE);
          return (
            <g key={a}>
              <line x1={MIDDLE} y1={MIDDLE} x2={end.x} y2={end.y} stroke="var(--rule)" />
              <text x={name.x} y={name.y + 4} textAnchor="middle" fontSize="12" fill="var(--quiet)">
                {a > 180 ? `\u2212${360 - a}°` : `${a}°`}
              </text>
            </g>
          );
        })}
        <circle cx={MIDDLE} cy={MIDDLE} r={RADIUS} fill="none" stroke="var(--ink)" strokeWidth="1.5" />
        <Ray angle={0} words="U" dashed={false} length={0.86} />
        <Ray angle={middle} words="set" dashed length={1} />
        {from === undefined ? null : <Ray angle={from} words="from" dashed={false} length={1} found />}
        {to === undefined ? null : <Ray angle={to} words="to" dashed={false} length={1} found />}
        {now === undefined ? null : <Ray angle={now} words="I" dashed={false} length={0.7} found />}
      </svg>
      <dl className="grid w-56 shrink-0 gap-3" data-points>
        {[centre, of('width'), of('from'), of('to')].map((p) =>
          p === undefined ? null : (
            <div key={p.key} data-point={p.key}>
              <dt className="font-condensed text-[14px]">{p.name}</dt>
              <dd>
                <PointFigure point={p} />
              </dd>
            </div>
          ),
        )}
      </dl>
    </div>
  );
}

function Ray({
  angle,
  words,
  dashed,
  length,
  found = false,
}: {
  angle: number;
  words: string;
  dashed: boolean;
  length: number;
  found?: boolean;
}) {
  const end = onWheel(angle, RADIUS * length, MIDDLE);
  const name = onWheel(angle, RADIUS * length * 0.72, MIDDLE);
  return (
    <g>
      <line
        x1={MIDDLE}
        y1={MIDDLE}
        x2={end.x}
        y2={end.y}
        stroke={found ? 'var(--lake)' : 'var(--ink)'}
        strokeWidth={found ? 3 : 1.5}
        {...(dashed ? { strokeDasharray: '6 4' } : {})}
      />
      <text x={name.x + 6} y={name.y - 5} fontSize="13" fontWeight="600" fill="var(--ink)">
        {words}
      </text>
    </g>
  );
}

/** The current of a lane: its multiple of a value of the plate, A. */
function ownCurrent(view: RunView, step: StepView, lane: string, of: string): number | undefined {
  const multiple = step.params['multiple']?.lanes?.[lane];
  const rated = view.asset.nameplate.ratings[of]?.value;
  return multiple === undefined || rated === undefined ? undefined : multiple * rated;
}

/** The difference it operates at over the restraint, with what is set and its tolerance. */
function Difference({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const ratings = view.asset.nameplate.ratings;
  const setting = ratings['differentialSetting']?.value ?? 0;
  const slope = (ratings['differentialSlope']?.value ?? 0) / 100;
  const points = pointsOf(view, step.id);
  const spots = points.flatMap((p) => {
    const at = ownCurrent(view, step, p.lane, 'ratedCurrent');
    return at === undefined ? [] : [{ p, at }];
  });
  const most = Math.max(1, ...spots.map((s) => s.at)) * 1.15;
  const line = restraint(setting, slope, most);
  const top = Math.max(...line.map((c) => c.value), ...spots.map((s) => s.p.counting?.value ?? 0)) * 1.25;
  return (
    <Plot
      x={line.map((c) => c.at)}
      series={[
        { y: line.map((c) => c.value * 1.1), colour: '--quiet', dash: [5, 4] },
        { y: line.map((c) => c.value * 0.9), colour: '--quiet', dash: [5, 4] },
        { y: line.map((c) => c.value), colour: '--pine', width: 2 },
      ]}
      bands={[[0, 1]]}
      xAxis={{
        from: 0,
        to: most,
        log: false,
        ticks: linearTicks(0, most, 6),
        words: (v) => withUnit(String(v), 'A'),
        label: 'restraint',
      }}
      yAxis={{ from: 0, to: top, log: false, ticks: linearTicks(0, top, 5), words: (v) => withUnit(String(v), 'A') }}
      label={`${step.title}: difference over restraint`}
      over={(place) =>
        spots.map(({ p, at }) =>
          p.counting?.value === undefined ? null : (
            <span
              key={p.key}
              data-point={p.key}
              // What stands far to the right has its words to the left.
              className={`absolute flex -translate-y-1/2 items-center gap-1 ${at > 0.7 * most ? 'translate-x-2 flex-row-reverse' : '-translate-x-2'}`}
              style={{
                ...(at > 0.7 * most ? { right: place.width - place.x(at) } : { left: place.x(at) }),
                top: place.y(p.counting.value),
              }}
            >
              <Mark standing={standingOf(view, p)} size={16} />
              <span className="halo font-condensed text-[14px] whitespace-nowrap">
                {laneName(step, p.lane)} <b className="font-mono">{p.counting.figure}</b>
              </span>
            </span>
          ),
        )
      }
    />
  );
}
