import type { StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { PointFigure } from '../../bench/kit/PointFigure';
import { Sentence } from '../../bench/kit/Sentence';
import { SignalStage } from '../../bench/kit/SignalStage';
import { onWheel } from '../../draw/wheel';
import { counts, openConfirmations, pointsOf } from '../../state/steps';
import { figure, withUnit } from '../../state/words';
import { isReversed, wheelOf, wrongInputs, type Phasor, type Wheel } from './phasors';

const WORDS = {
  live: () => 'Voltages and currents are being read. Nothing is switched on.',
  safe: () => 'Nothing is switched on: the customer is supplied all the while.',
};
const SIZE = 380;
const MIDDLE = SIZE / 2;
const LONG = 158;
const SHORT = 104;

/** The first voltage stands upright. */
const tip = (radius: number, degrees: number): { x: number; y: number } => onWheel(degrees + 90, radius, MIDDLE);

/** The phasors at a meter, in words what that says of its wiring, beside it what to change. */
export function PhasorStage({ step }: { step: StepView }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const picked = overlay?.kind === 'attempt' ? overlay.attempt : null;
  const last = [...view.attempts]
    .reverse()
    .find((a) => a.step === step.id && counts(a) && (picked === null || a.id === picked));
  const wheel = last === undefined ? null : wheelOf(view.captures.filter((c) => c.attempt === last.id));
  const waiting = openConfirmations(view, step).length > 0 && view.output.mode === 'safe';
  const live = view.output.mode === 'live' && view.output.step === step.id;
  if (wheel === null || waiting || live) {
    return <SignalStage step={step} words={WORDS} about={null} table={<Figures step={step} />} />;
  }
  return (
    <>
      <div className="flex min-h-0 flex-1 items-stretch gap-3 overflow-auto px-3 pt-2 max-[1000px]:flex-col" data-wheel>
        <Drawing wheel={wheel} />
        <Said wheel={wheel} />
      </div>
      <Figures step={step} />
      <Sentence step={step} words={WORDS} />
    </>
  );
}

function Arrow({
  to,
  radius,
  name,
  colour,
  width,
  dash,
}: {
  to: Phasor;
  radius: number;
  name: string;
  colour: string;
  width: number;
  dash?: string;
}) {
  const end = tip(radius, to.degrees);
  const words = tip(radius + 15, to.degrees);
  const left = tip(radius - 11, to.degrees + 400 / radius);
  const right = tip(radius - 11, to.degrees - 400 / radius);
  return (
    <g stroke={colour} fill={colour} data-phasor={name}>
      <line x1={MIDDLE} y1={MIDDLE} x2={end.x} y2={end.y} strokeWidth={width} strokeDasharray={dash} />
      <path d={`M${end.x},${end.y} L${left.x},${left.y} L${right.x},${right.y} Z`} stroke="none" />
      <text
        x={words.x}
        y={words.y}
        stroke="none"
        fontSize="15"
        fontWeight="600"
        textAnchor="middle"
        dominantBaseline="central"
      >
        {name}
      </text>
    </g>
  );
}

function Drawing({ wheel }: { wheel: Wheel }) {
  const best = wheel.wirings[0];
  const most = (all: readonly (Phasor | null)[]): number => Math.max(1e-9, ...all.map((p) => p?.rms ?? 0));
  const u = most(wheel.voltages);
  const i = most(wheel.currents);
  const wrongU = wrongInputs(best, 'voltage');
  const wrongI = wrongInputs(best, 'current');
  return (
    <svg
      viewBox={`0 0 ${SIZE} ${SIZE}`}
      className="h-full max-h-[430px] min-h-[220px] min-w-0 flex-1 font-condensed"
      role="img"
      aria-label="Phasors of voltages and currents at the meter"
    >
      {[0, 1, 2].map((k) => (
        <circle
          key={k}
          cx={MIDDLE}
          cy={MIDDLE}
          r={(LONG * (k + 1)) / 3}
          fill="none"
          stroke="var(--rule)"
          strokeWidth="1"
        />
      ))}
      {Array.from({ length: 12 }, (_, k) => {
        const end = tip(LONG, 30 * k);
        return <line key={k} x1={MIDDLE} y1={MIDDLE} x2={end.x} y2={end.y} stroke="var(--rule)" strokeWidth="1" />;
      })}
      {wheel.voltages.map((p, k) =>
        p === null || p.rms < 0.03 * u ? null : (
          <Arrow
            key={k}
            to={p}
            radius={Math.max(30, (LONG * p.rms) / u)}
            name={`U${k + 1}`}
            colour={wrongU.includes(k + 1) ? 'var(--brick)' : 'var(--ink)'}
            width={2.5}
          />
        ),
      )}
      {wheel.currents.map((p, k) =>
        p === null || p.rms < 0.03 * i || !isReversed(best, k + 1) ? null : (
          <Arrow
            key={k}
            to={{ rms: p.rms, degrees: p.degrees + 180 }}
            radius={Math.max(30, (SHORT * p.rms) / i)}
            name={`I${k + 1} turned`}
            colour="var(--quiet)"
            width={2}
            dash="5 4"
          />
        ),
      )}
      {wheel.currents.map((p, k) =>
        p === null || p.rms < 0.03 * i ? null : (
          <Arrow
            key={k}
            to={p}
            radius={Math.max(30, (SHORT * p.rms) / i)}
            name={`I${k + 1}`}
            colour={wrongI.includes(k + 1) ? 'var(--brick)' : 'var(--lake)'}
            width={5}
          />
        ),
      )}
    </svg>
  );
}

const ROTATION: Readonly<Record<string, string>> = {
  POSITIVE: 'L1, L2, L3',
  NEGATIVE: 'L1, L3, L2: two voltages exchanged, or the network turns so',
  UNKNOWN: 'not known',
};

function Said({ wheel }: { wheel: Wheel }) {
  const [best, ...others] = wheel.wirings;
  const missing = wheel.missing === '' ? [] : wheel.missing.split('; ');
  const wrong = best !== undefined && best !== 'as it should be' ? best.split(', ') : [];
  const changes = [...missing, ...wrong];
  return (
    <div className="w-[40%] min-w-[220px] shrink-0 overflow-auto py-2 max-[1000px]:w-full max-[1000px]:px-4">
      <p className="font-condensed text-[14px] text-quiet">What to change</p>
      {best === undefined ? (
        <p className="text-[19px] leading-snug font-semibold" data-change>
          No wiring fits such a load
        </p>
      ) : changes.length === 0 ? (
        <p className="text-[19px] leading-snug font-semibold" data-change>
          Nothing: wired as it should be
        </p>
      ) : (
        <ol className="text-[19px] leading-snug font-semibold">
          {changes.map((words) => (
            <li key={words} data-change>
              {words.charAt(0).toUpperCase() + words.slice(1)}
            </li>
          ))}
        </ol>
      )}
      {others.length === 0 ? null : (
        <>
          <p className="mt-3 font-condensed text-[14px] text-quiet">The same phasors would also fit</p>
          <ul className="text-[15px] leading-snug">
            {others.map((words) => (
              <li key={words}>or {words}</li>
            ))}
          </ul>
        </>
      )}
      <p className="mt-3 font-condensed text-[14px] text-quiet">Taken for granted</p>
      <p className="text-[15px] leading-snug">{wheel.assumes}</p>
      <p className="mt-3 font-condensed text-[14px] text-quiet">Order of the voltages</p>
      <p className="text-[15px] leading-snug">{ROTATION[wheel.rotation] ?? wheel.rotation}</p>
    </div>
  );
}

const ROWS = [
  { id: 'u', name: 'Voltage', unit: 'V' },
  { id: 'i', name: 'Current', unit: 'A' },
  { id: 'angle', name: 'Lags', unit: '°' },
] as const;

/** Phase by phase, then what belongs to all. */
function Figures({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  const of = (id: string) => points.find((p) => p.point === id);
  const changes = of('changes');
  const rest = (['active', 'activePrimary', 'reactive', 'powerFactor', 'frequency', 'fitting'] as const).flatMap(
    (id) => of(id) ?? [],
  );
  return (
    <div className="flex flex-wrap items-start gap-x-8 gap-y-2 border-t border-rule px-4 py-2">
      {changes === undefined ? null : (
        <div data-point={changes.key} className="min-w-44">
          <p className="font-condensed text-[14px]">{changes.name}</p>
          <PointFigure point={changes} />
        </div>
      )}
      <table className="font-condensed text-[15px]">
        <thead>
          <tr className="text-left text-[13px] text-quiet">
            <th />
            {['L1', 'L2', 'L3'].map((l) => (
              <th key={l} className="px-3 text-right font-semibold">
                {l}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ROWS.map((row) => (
            <tr key={row.id}>
              <th scope="row" className="pr-3 text-left font-medium">
                {row.name} <span className="text-[13px] text-quiet">{row.unit}</span>
              </th>
              {[1, 2, 3].map((k) => (
                <td key={k} className="px-3 text-right font-mono">
                  {of(`${row.id}${k}`)?.counting?.figure ?? '–'}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <dl className="grid grid-cols-2 gap-x-5 font-condensed text-[15px]">
        {rest.map((p) => (
          <div key={p.key} className="flex gap-2" data-point={p.key}>
            <dt className="text-quiet">{p.name}</dt>
            <dd className="font-mono whitespace-nowrap">
              {p.counting === undefined ? '–' : withUnit(p.counting.figure ?? figure(p.counting.value ?? 0), p.unit)}
            </dd>
          </div>
        ))}
      </dl>
    </div>
  );
}
