import { useQuery } from '@tanstack/react-query';
import { useEffect, useMemo } from 'react';
import { band as bandOf } from '../../api/calls';
import type { PointView, RunView, StepView } from '../../api/types';
import type { Ready } from '../../state/run';
import {
  countingReadings,
  failed,
  laneName,
  nextAt,
  openConfirmations,
  pointsOf,
  standingOf,
  stepOf,
  ticks,
} from '../../state/steps';
import { capital, duration, VERDICT_WORDS, withUnit, yearOf } from '../../state/words';
import { Button } from '../../ui/controls';
import { PolesField, type Pole } from '../../ui/PolesField';
import { TimeCurrentField, type Measured } from '../../ui/TimeCurrentField';
import { useBench, type Overlay } from '../context';
import { Ticks } from '../Ticks';

/** A measuring step: its own confirmations first, then the picture that fits it. */
export function MeasureStage({ step }: { step: StepView }) {
  const bench = useBench();
  const { view } = bench.ready;
  if (openConfirmations(view, step).length > 0 && view.output.mode === 'safe') {
    return (
      <div className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
        <Ticks all={ticks(view, step)} large />
        <Greatest step={step} />
      </div>
    );
  }
  return (
    <>
      <div className="min-h-0 flex-1 px-3 pt-1 pb-1">
        {step.window !== undefined ? (
          <TripField step={step} />
        ) : timesTrip(view, step) ? (
          <NoBand />
        ) : (
          <LanesField step={step} />
        )}
      </div>
      <Sentence step={step} />
    </>
  );
}

/** What the client can never exceed, to be read before the first injection. */
export function Greatest({ step }: { step: StepView }) {
  const words: Record<string, string> = {
    current: 'Greatest current',
    time: 'Greatest time',
    ratedPower: 'Greatest power',
  };
  return (
    <dl className="mt-6 flex flex-wrap gap-x-10 gap-y-3">
      {Object.entries(step.maxima).map(([name, p]) => (
        <div key={name}>
          <dt className="text-quiet">{words[name] ?? name}</dt>
          <dd className="font-mono text-[30px] font-semibold">
            {p.value === undefined
              ? 'not known'
              : withUnit(p.value >= 100 ? p.value.toFixed(0) : String(Math.round(p.value * 10) / 10), p.unit)}
          </dd>
          {p.value === undefined ? <dd>{p.missing}</dd> : null}
        </div>
      ))}
    </dl>
  );
}

const timesTrip = (view: RunView, step: StepView): boolean => pointsOf(view, step.id).some((p) => p.unit === 's');

function NoBand() {
  return (
    <p className="px-6 py-8 text-lg">
      No time-current curve is known for this device: what is measured here is recorded and not judged.
    </p>
  );
}

function overlaid(view: RunView, overlay: Overlay | null): string | null {
  return overlay?.kind === 'record' ? overlay.record : null;
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
  const record = overlaid(view, overlay);
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

function nextLane(view: RunView, step: StepView): string {
  const next = nextAt(view, step);
  return next.kind === 'measure' ? next.point.lane : (step.lanes[step.lanes.length - 1]?.id ?? '-');
}

function TripField({ step }: { step: StepView }) {
  const bench = useBench();
  const { ready, overlay } = bench;
  const { view, progress } = ready;
  const band = useQuery({ queryKey: ['band', ready.run], queryFn: () => bandOf(ready.run), staleTime: Infinity });
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
  if (band.data === undefined) {
    return <p className="px-4 py-6 text-quiet">{band.isError ? band.error.message : 'Fetching the curve…'}</p>;
  }
  return (
    <TimeCurrentField
      band={band.data}
      current={step.window?.current ?? 0}
      window={window}
      measured={measured}
      live={live}
      pole={laneName(step, view.output.lane ?? nextLane(view, step)) || 'the device'}
    />
  );
}

const KEPT_MEASURES = 500;

/**
 * Notes how long a reading took from the server to the screen, where the browser's own tools and ./juratest
 * bench find it.
 */
function usePainted(at: number | undefined): void {
  useEffect(() => {
    if (at === undefined) {
      return undefined;
    }
    // The frame after the next one is on the screen by the time it begins.
    let second = 0;
    const first = requestAnimationFrame(() => {
      second = requestAnimationFrame(() => {
        const start = at - performance.timeOrigin;
        if (start > 0) {
          performance.measure('reading to pixel', { start, end: performance.now() });
          if (performance.getEntriesByName('reading to pixel').length > KEPT_MEASURES) {
            performance.clearMeasures('reading to pixel');
          }
        }
      });
    });
    return () => {
      cancelAnimationFrame(first);
      cancelAnimationFrame(second);
    };
  }, [at]);
}

function pole(view: RunView, step: StepView, point: PointView, overlay: Overlay | null, isNext: boolean): Pole {
  const record = overlaid(view, overlay);
  const attempt =
    overlay?.kind === 'attempt'
      ? view.readings.find((r) => r.attempt === overlay.attempt && r.key === point.key)
      : undefined;
  const past = [...(point.strip?.past ?? [])]
    .reverse()
    .map((t) => ({ value: t.value, year: yearOf(t.at), picked: t.record === record }));
  return {
    id: point.lane,
    label: laneName(step, point.lane),
    past,
    value: attempt?.value ?? point.counting?.value ?? null,
    figure: attempt?.figure ?? point.counting?.figure ?? null,
    standing: attempt?.verdict ?? standingOf(view, point),
    isNext,
  };
}

function LanesField({ step }: { step: StepView }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const points = pointsOf(view, step.id);
  const next = view.output.mode === 'safe' ? nextLane(view, step) : view.output.lane;
  const resolved = points.find((p) => p.strip?.high !== undefined);
  const waiting = points.find((p) => p.counting !== undefined && p.strip?.high === undefined);
  return (
    <PolesField
      poles={points.map((p) => pole(view, step, p, overlay, p.lane === next && nextAt(view, step).kind === 'measure'))}
      limit={resolved?.strip?.high ?? null}
      marginal={resolved?.strip?.marginalHigh ?? null}
      limitWords={
        resolved !== undefined
          ? `${withUnit(resolved.span ?? '', resolved.unit)}: ${resolved.source ?? ''}`
          : (waiting?.why ?? 'the limit comes from the lowest pole')
      }
      unit={points[0]?.unit ?? ''}
    />
  );
}

/** The sentence under the picture: what is going on, what it means, what to do. */
function Sentence({ step }: { step: StepView }) {
  const bench = useBench();
  const { ready } = bench;
  const bad = ready.view.output.mode === 'safe' ? failed(ready.view, step.id)[0] : undefined;
  const words = bad !== undefined ? failedWords(bad) : sentence(ready, step);
  return (
    <div className="flex min-h-12 items-center gap-3 border-t border-rule px-4 py-2">
      <p className="min-w-0 flex-1 font-semibold" aria-live="polite" data-sentence>
        {words}
      </p>
      {bad !== undefined && bench.mayAct ? (
        <Button onClick={() => bench.ask({ kind: 'adjust', point: bad })}>Adjusted…</Button>
      ) : null}
    </div>
  );
}

function failedWords(point: PointView): string {
  return `${point.label}: ${withUnit(point.counting?.figure ?? '', point.unit)}, allowed ${withUnit(point.span ?? '', point.unit)}. Adjust or repair it and measure again, or go on.`;
}

function sentence(ready: Ready, step: StepView): string {
  const { view } = ready;
  if (ready.link.status === 'lost') {
    return 'Nothing is heard at the moment. What stands here is what was heard last.';
  }
  if (view.output.mode === 'live') {
    return liveSentence(ready, step);
  }
  if (view.output.mode === 'armed') {
    return `If nothing is switched on within 15 s, the step falls back to safe by itself.`;
  }
  const last = [...view.attempts].reverse().find((a) => a.step === step.id);
  if (last?.outcome !== undefined && last.outcome !== 'valid') {
    const next = nextAt(view, step);
    return `${capital(laneName(step, last.lane)) || step.title}: ${last.words ?? ''}. Nothing was accepted${next.kind === 'measure' ? '; measure it again when that is mended' : ''}.`;
  }
  if (last?.voided !== undefined) {
    return `${capital(laneName(step, last.lane)) || step.title} was voided: ${last.voided.words}. It does not count.`;
  }
  const reading = last === undefined ? undefined : view.readings.find((r) => r.attempt === last.id);
  if (reading !== undefined) {
    const why = reading.verdict === 'notJudged' ? `: ${reading.why ?? ''}` : '';
    return `${reading.label}: ${withUnit(reading.figure, reading.unit)}, ${VERDICT_WORDS[reading.verdict].toLowerCase()}${why}.`;
  }
  const off = view.lastOff;
  return off !== undefined && !off.confirmed ? 'The output is not confirmed off.' : 'Safe. Nothing is switched on.';
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
