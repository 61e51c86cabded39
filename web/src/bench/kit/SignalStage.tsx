import { useQuery } from '@tanstack/react-query';
import { useMemo, type ReactNode } from 'react';
import { traces as fetchTraces } from '../../api/records';
import type { PointView, RunView, StepView, Verdict } from '../../api/types';
import type { PictureLine, Progress, Ready } from '../../state/run';
import { counts, laneName, openConfirmations, pointsOf, ticks, worst } from '../../state/steps';
import { figure, toldFigure, withUnit } from '../../state/words';
import { Mark } from '../../ui/Mark';
import { PictureField } from '../../ui/PictureField';
import type { Placing } from '../../ui/Plot';
import { SignalField } from '../../ui/SignalField';
import { useBench } from '../context';
import { Ticks } from '../Ticks';
import { Greatest } from './Greatest';
import { PointFigure } from './PointFigure';
import { Sentence, type StageWords } from './Sentence';

/** Earlier attempts that are shown beside the last one. */
const MOST_BEFORE = 2;

/** A measuring step whose signal is shown as it is taken in, beneath it its points lane by lane. */
export function SignalStage({
  step,
  words,
  about,
  table,
  over,
}: {
  step: StepView;
  words: StageWords;
  about: string | null;
  /** In place of the points beneath it. */
  table?: ReactNode;
  /** What stands over the signal of a lane. */
  over?: (place: Placing, first: PictureLine, lane: string | null) => ReactNode;
}) {
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
      <div className="min-h-0 flex-1 px-3 pt-2 pb-1">
        <Picture step={step} about={about} over={over} />
      </div>
      {table ?? <Points step={step} />}
      <Sentence step={step} words={words} />
    </>
  );
}

/**
 * The lane on the stage: the one that is measured, the one an open attempt in the ledger is of, or the one
 * measured last.
 */
function shownLane(ready: Ready, step: StepView, attempt: string | null): string | null {
  const { view } = ready;
  if (view.output.mode === 'live' && view.output.step === step.id) {
    return view.output.lane ?? null;
  }
  const picked = view.attempts.find((a) => a.id === attempt && a.step === step.id);
  return picked?.lane ?? [...view.attempts].reverse().find((a) => a.step === step.id && counts(a))?.lane ?? null;
}

function Picture({
  step,
  about,
  over,
}: {
  step: StepView;
  about: string | null;
  over: ((place: Placing, first: PictureLine, lane: string | null) => ReactNode) | undefined;
}) {
  const { ready, overlay } = useBench();
  const { view, progress } = ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const attempt = overlay?.kind === 'attempt' ? overlay.attempt : null;
  const lane = shownLane(ready, step, attempt);
  const last = [...view.attempts]
    .reverse()
    .find((a) => a.step === step.id && a.lane === lane && counts(a) && (attempt === null || a.id === attempt));
  const captured = useMemo(() => view.captures.filter((c) => c.attempt === last?.id), [view.captures, last?.id]);
  // What is kept to be written as a file is not for looking at.
  const traces = captured.filter((c) => c.kind === 'trace' && c.facts['for'] !== 'files');
  const pictures = live ? [] : captured.filter((c) => c.kind === 'picture');
  const kept = useKept(
    traces.map((t) => t.sha256),
    traces.map((t) => t.name),
  );
  const lines = live ? (progress?.picture ?? []) : kept;
  const name = lane === null ? '' : laneName(step, lane);
  if (lines.length === 0 && pictures.length > 0 && last !== undefined) {
    const before = attempt === null ? seenBefore(view, step, last) : [];
    return (
      <div className="flex h-full flex-col" data-picture="kept">
        <p className="px-1 font-condensed text-[15px] font-semibold">
          {name || step.title}
          {before.length === 0 ? '' : ': before and now'}
        </p>
        <div className="grid min-h-0 flex-1 auto-cols-fr grid-flow-col gap-2">
          {before.map(({ attempt: of, pictures: then }) => (
            <Attempted key={of.id} view={view} step={step} attempt={of} pictures={then} places={[]} />
          ))}
          <Attempted
            view={view}
            step={step}
            attempt={last}
            pictures={pictures}
            places={places(view, step, lane)}
            alone={before.length === 0}
          />
        </div>
      </div>
    );
  }
  if (lines.length === 0) {
    return (
      <div className="flex h-full flex-col justify-center gap-2 px-6">
        <p className="text-[22px] leading-snug font-semibold">{live ? `Taking in ${name}…` : step.text}</p>
        {live ? (
          <Figures values={progress?.values ?? {}} />
        ) : about === null ? null : (
          <p className="text-quiet">{about}</p>
        )}
      </div>
    );
  }
  return (
    <div className="flex h-full flex-col">
      <p
        className="flex flex-wrap items-baseline gap-x-4 px-1 font-condensed text-[14px]"
        data-picture={live ? 'live' : 'kept'}
      >
        <b className="text-[15px] font-semibold">{name || step.title}</b>
        <Legend lines={lines} />
      </p>
      <div className="min-h-0 flex-1">
        <SignalField
          lines={lines}
          marks={marks(view, step, lane)}
          label={`${step.title}, ${name}`}
          over={over === undefined ? undefined : (place, first) => over(place, first, lane)}
        />
      </div>
      {!live && last !== undefined ? <Sounds view={view} attempt={last.id} /> : null}
    </div>
  );
}

type Captured = RunView['captures'][number];
type AttemptOf = RunView['attempts'][number];

/** Earlier attempts of a lane that saw something, newest last: what was cleaned or adjusted is compared by eye. */
function seenBefore(view: RunView, step: StepView, last: AttemptOf): { attempt: AttemptOf; pictures: Captured[] }[] {
  return view.attempts
    .filter((a) => a.step === step.id && a.lane === last.lane && a.id !== last.id && counts(a))
    .map((attempt) => ({
      attempt,
      pictures: view.captures.filter((c) => c.attempt === attempt.id && c.kind === 'picture'),
    }))
    .filter((a) => a.pictures.length > 0)
    .slice(-MOST_BEFORE);
}

/** The pictures of an attempt under its number and what it came to. */
function Attempted({
  view,
  step,
  attempt,
  pictures,
  places: spots,
  alone = false,
}: {
  view: RunView;
  step: StepView;
  attempt: AttemptOf;
  pictures: readonly Captured[];
  places: { row: string; verdict: Verdict }[];
  alone?: boolean;
}) {
  const all = view.attempts.filter((a) => a.step === step.id && a.lane === attempt.lane);
  const verdicts = view.readings
    .filter((r) => r.attempt === attempt.id && r.why !== 'recorded only')
    .map((r) => r.verdict);
  return (
    <div className="flex min-h-0 min-w-0 flex-col" data-attempt={attempt.id}>
      {alone ? null : (
        <p className="flex items-center gap-2 px-1 font-condensed text-[14px] text-quiet">
          {verdicts.length === 0 ? null : <Mark standing={worst(verdicts)} size={12} />}
          attempt {all.findIndex((a) => a.id === attempt.id) + 1} of {all.length}
        </p>
      )}
      <div className="grid min-h-0 flex-1 auto-cols-fr grid-flow-col gap-2">
        {pictures.map((p) => (
          <PictureField key={p.sha256} capture={p} places={spots} />
        ))}
      </div>
    </div>
  );
}

/** What is measured now and cannot be drawn, large. */
function Figures({ values }: { values: Progress['values'] }) {
  return (
    <dl className="flex flex-wrap gap-x-10 gap-y-2" data-picture="figures">
      {Object.entries(values).map(([name, q]) => (
        <div key={name}>
          <dt className="text-quiet">{name}</dt>
          <dd className="font-mono text-[34px] leading-tight font-semibold">{toldFigure(q)}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Kept traces as lines; none while they are fetched. */
function useKept(blobs: string[], names: string[]): readonly PictureLine[] {
  const view = useQuery({
    queryKey: ['kept traces', blobs],
    queryFn: () => Promise.all(blobs.map((b) => fetchTraces([b]))),
    enabled: blobs.length > 0,
    staleTime: Infinity,
  });
  return useMemo(
    () =>
      (view.data ?? [])
        .flatMap((t, i): PictureLine[] =>
          t.lines
            .slice(0, 1)
            .map((l) => ({ name: names[i] ?? t.name, xUnit: t.xUnit, yUnit: t.yUnit, x: l.x, y: l.y })),
        )
        .slice(0, 2),
    // The names belong to the blobs.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [view.data],
  );
}

function Legend({ lines }: { lines: readonly PictureLine[] }) {
  return lines.map((l, i) => (
    <span key={l.name} className="flex items-center gap-2 text-quiet">
      <svg width="26" height="8" aria-hidden="true">
        <line
          x1="0"
          x2="26"
          y1="4"
          y2="4"
          stroke={i === 0 ? 'var(--ink)' : 'var(--lake)'}
          strokeWidth={i === 0 ? 2 : 2.5}
        />
      </svg>
      {l.name.toLowerCase()}
    </span>
  ));
}

/** Limits that belong into the picture: those of the points on this lane that stand in its unit. */
function marks(view: RunView, step: StepView, lane: string | null): { value: number; unit: string; words: string }[] {
  return pointsOf(view, step.id)
    .filter((p) => p.lane === lane)
    .flatMap((p) =>
      [p.strip?.low, p.strip?.high]
        .filter((v): v is number => v !== undefined)
        .map((value) => ({
          value,
          unit: p.unit,
          words: `limit ${withUnit(figure(value).replace('-', '\u2212'), p.unit)}`,
        })),
    )
    .filter((m, i, all) => all.findIndex((o) => o.value === m.value && o.unit === m.unit) === i);
}

/** Rows that were discovered on a lane, with how they stand, by their numbers. */
function places(view: RunView, step: StepView, lane: string | null): { row: string; verdict: Verdict }[] {
  const rows = new Map<string, Verdict[]>();
  pointsOf(view, step.id)
    .filter((p) => p.lane === lane && p.point.includes('#'))
    .forEach((p) => {
      const row = p.point.split('#')[1] ?? '';
      rows.set(row, [...(rows.get(row) ?? []), p.verdict]);
    });
  return [...rows].map(([row, verdicts]) => ({ row, verdict: worst(verdicts) as Verdict }));
}

/** What was heard, to be listened to. */
function Sounds({ view, attempt }: { view: RunView; attempt: string }) {
  const sounds = view.captures.filter((c) => c.attempt === attempt && c.kind === 'sound');
  return sounds.map((s) => (
    <p key={s.sha256} className="flex items-center gap-3 px-1 pb-1">
      <span className="font-condensed text-[14px] text-quiet">{s.name}</span>
      <audio
        controls
        preload="none"
        src={`/api/blobs/${s.sha256}`}
        className="h-9 max-w-80 flex-1"
        aria-label={`${s.name}, ${Number(s.facts['seconds'] ?? 0).toFixed(1)} s`}
      />
    </p>
  ));
}

/** The step's points, a row each, its lanes side by side. */
function Points({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  const names = [...new Map(points.map((p) => [p.point, p])).values()];
  const lanes = step.lanes;
  return (
    <div className="max-h-[38%] overflow-auto border-t border-rule">
      <table className="w-full table-fixed border-collapse" style={{ minWidth: `${12 + 7 * lanes.length}rem` }}>
        <thead>
          <tr className="text-left text-[13px] text-quiet">
            <th className="py-1 pr-2 pl-4 font-semibold">{step.title}</th>
            {lanes.map((l) => (
              <th key={l.id} className="px-2 py-1 font-semibold">
                {l.label}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {names.map((p) => (
            <tr key={p.point} className="border-t border-rule align-top">
              <th
                scope="row"
                className="w-[30%] py-1.5 pr-2 pl-4 text-left font-condensed text-[15px] leading-tight font-medium"
              >
                {p.name}
                <span className="block text-[13px] font-normal text-quiet">{p.unit}</span>
              </th>
              {lanes.map((l) => (
                <Cell key={l.id} point={points.find((own) => own.point === p.point && own.lane === l.id)} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Cell({ point }: { point: PointView | undefined }) {
  return point === undefined ? (
    <td className="px-2 py-1.5 text-quiet">–</td>
  ) : (
    <td className="px-2 py-1.5" data-point={point.key}>
      <PointFigure point={point} />
    </td>
  );
}
