import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { curve as curveOf } from '../../api/calls';
import type { StepView } from '../../api/types';
import { LanesStage, nextLane, overlaid } from '../../bench/kit/LanesStage';
import { usePainted } from '../../bench/kit/usePainted';
import { useBench, type Overlay } from '../../bench/context';
import type { Ready } from '../../state/run';
import { countingReadings, laneName, pointsOf, stepOf } from '../../state/steps';
import { duration, withUnit, yearOf } from '../../state/words';
import { TimeCurrentField, type Measured } from '../../ui/TimeCurrentField';

const WORDS = { live: liveSentence, safe: () => 'Safe. Nothing is switched on.' };

/** A timed injection: the trips in the field of time and current, the running test moving along its current. */
export function InjectionStage({ step }: { step: StepView }) {
  return (
    <LanesStage step={step} words={WORDS} field={step.window !== undefined ? <TripField step={step} /> : <NoBand />} />
  );
}

/** Contact resistance: the lanes side by side. */
export function ContactStage({ step }: { step: StepView }) {
  return <LanesStage step={step} words={WORDS} />;
}

const RESIDUAL_WORDS = {
  live: () => 'It trips at any moment; what it feeds loses its supply.',
  safe: () => 'Safe. No residual current flows; the installation is live.',
};

/** Residual currents: both halves of the wave side by side. */
export function ResidualStage({ step }: { step: StepView }) {
  return <LanesStage step={step} words={RESIDUAL_WORDS} />;
}

function NoBand() {
  return (
    <p className="px-6 py-8 text-lg">
      No time-current curve is known for this device: what is measured here is recorded and not judged.
    </p>
  );
}

function trips(ready: Ready, step: StepView, overlay: Overlay | null): Measured[] {
  const { view } = ready;
  const current = step.window?.current ?? 0;
  const now = [...countingReadings(view, step.id)].map(([lane, r]): Measured => ({
    key: r.attempt,
    current,
    time: r.value,
    label: `${laneName(step, lane)} ${withUnit(r.figure, 's')}`,
    standing: r.verdict,
  }));
  const point = pointsOf(view, step.id).find((p) => p.lane === (view.output.lane ?? nextLane(view, step)));
  const last = point?.strip?.past[0];
  const record = overlaid(overlay);
  const past =
    record !== null
      ? pointsOf(view, step.id).flatMap((p) =>
          (p.strip?.past ?? [])
            .filter((t) => t.record === record)
            .map((t): Measured => ({
              key: `${record}${p.lane}`,
              current,
              time: t.value,
              label: `${laneName(step, p.lane)} in ${yearOf(t.at)}: ${withUnit(t.figure, 's')}`,
              standing: 'past',
            })),
        )
      : last !== undefined
        ? [
            {
              key: 'last',
              current,
              time: last.value,
              label: `last time ${withUnit(last.figure, 's')}`,
              standing: 'past',
            } as Measured,
          ]
        : [];
  const attempt =
    overlay?.kind === 'attempt'
      ? view.readings.find((r) => r.attempt === overlay.attempt && r.key.startsWith(`${step.id}/`))
      : undefined;
  const picked: Measured[] =
    attempt !== undefined && !now.some((m) => m.key === attempt.attempt)
      ? [
          {
            key: 'picked',
            current,
            time: attempt.value,
            label: `earlier attempt ${withUnit(attempt.figure, 's')}`,
            standing: 'past',
          },
        ]
      : [];
  return [...now, ...past, ...picked];
}

function TripField({ step }: { step: StepView }) {
  const bench = useBench();
  const { ready, overlay } = bench;
  const { view, progress } = ready;
  const curve = useQuery({ queryKey: ['curve', ready.run], queryFn: () => curveOf(ready.run), staleTime: Infinity });
  const measured = useMemo(() => trips(ready, step, overlay), [ready, step, overlay]);
  const current = progress?.values['current']?.value;
  const elapsed = progress?.values['elapsed']?.value;
  const live =
    view.output.mode === 'live' && current !== undefined && elapsed !== undefined ? { current, elapsed } : null;
  const window =
    live === null
      ? (step.window ?? null)
      : { earliest: progress?.values['earliest']?.value, latest: progress?.values['latest']?.value };
  usePainted(progress?.at);
  if (curve.data === undefined) {
    return <p className="px-4 py-6 text-quiet">{curve.isError ? curve.error.message : 'Fetching the curve…'}</p>;
  }
  return (
    <TimeCurrentField
      curve={curve.data}
      current={step.window?.current ?? 0}
      window={window}
      measured={measured}
      live={live}
      lane={laneName(step, view.output.lane ?? nextLane(view, step)) || 'the device'}
    />
  );
}

function liveSentence(ready: Ready, step: StepView): string {
  const { progress, view } = ready;
  const elapsed = progress?.values['elapsed']?.value;
  const earliest = progress?.values['earliest']?.value;
  const latest = progress?.values['latest']?.value;
  if (stepOf(view, view.output.step)?.window === undefined) {
    return 'Current is on until the reading is taken.';
  }
  if (elapsed === undefined) {
    return 'A small current checks the leads first.';
  }
  if (earliest !== undefined && elapsed < earliest) {
    return `The window opens in ${duration(earliest - elapsed)}. A trip now is too early.`;
  }
  if (latest === undefined) {
    return `No latest time is known at this current. It stops by itself at ${duration(step.maxima['time']?.value ?? 0)}.`;
  }
  if (elapsed <= latest) {
    return `${earliest === undefined ? 'The window' : `The window opened ${duration(elapsed - earliest)} ago and`} closes in ${duration(latest - elapsed)}. A trip now is in time.`;
  }
  return `The window closed ${duration(elapsed - latest)} ago. A trip now is too late.`;
}
