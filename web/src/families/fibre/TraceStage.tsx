import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { record as fetchRecord, traces as fetchTraces } from '../../api/records';
import type { PointView, RunView, StepView, Verdict } from '../../api/types';
import { useBench } from '../../bench/context';
import { SignalStage } from '../../bench/kit/SignalStage';
import { Sentence, type StageWords } from '../../bench/kit/Sentence';
import { counts, isRecordedOnly, laneName, openConfirmations, pointsOf, worst } from '../../state/steps';
import { DistanceField, type LevelEvent, type LevelLine } from '../../ui/DistanceField';
import { EventList } from '../../ui/EventList';
import { alongFibre } from './route';

const LENGTHS = ['trace1310', 'trace1550', 'trace1625'];

/** Rows of a lane as events, in the order they stand. */
export function eventsOf(view: RunView, step: StepView, lane: string): LevelEvent[] {
  const rows = new Map<number, PointView[]>();
  pointsOf(view, step.id).forEach((p) => {
    if (p.lane === lane && p.row !== undefined && p.counting !== undefined) {
      rows.set(p.row, [...(rows.get(p.row) ?? []), p]);
    }
  });
  return [...rows]
    .sort(([a], [b]) => a - b)
    .map(([at, points]) => {
      const head = points[0]?.label.split(/, (?=[^,]*$)/)[0] ?? '';
      const figures = points.flatMap((p) =>
        p.counting?.figure === undefined ? [] : [`${p.counting.figure} ${p.unit}`],
      );
      const judged = points.filter((p) => !isRecordedOnly(p));
      return {
        key: `${shortened(head)} ${at}`,
        at,
        words: [shortened(head), ...figures].join(', '),
        verdict: worst((judged.length > 0 ? judged : points).map((p) => p.verdict)) as Verdict,
      };
    });
}

/** "Splice, Closure 2" of "Splice 1 at 523 m (Closure 2)". */
export function shortened(head: string): string {
  const [, feature = head, words] = /^(\D+?) \d+ at [^(]*?(?:\((.*)\))?(?:,.*)?$/.exec(head) ?? [];
  return words === undefined ? feature : `${feature}, ${words}`;
}

/** A trace above the land it runs through, its events beside it; something that is taken in as any signal. */
export function TraceStage({ step, words, about }: { step: StepView; words: StageWords; about: string | null }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const attempt = overlay?.kind === 'attempt' ? overlay.attempt : null;
  const last = [...view.attempts]
    .reverse()
    .find((a) => a.step === step.id && counts(a) && (attempt === null || a.id === attempt));
  const kept = view.captures.find((c) => c.attempt === last?.id && c.kind === 'trace');
  const waiting = openConfirmations(view, step).length > 0 && view.output.mode === 'safe';
  if (live || waiting || last === undefined || kept === undefined) {
    return <SignalStage step={step} words={words} about={about} />;
  }
  return (
    <>
      <div className="min-h-0 flex-1 px-3 pt-2 pb-1">
        <Kept step={step} view={view} lane={last.lane} blob={kept.sha256} />
      </div>
      <Sentence step={step} words={words} />
    </>
  );
}

/**
 * The trace of an earlier record at the same step and lane: of the one that lies over the stage. Null where none does,
 * undefined while it is fetched.
 */
function useEarlier(step: StepView, lane: string): { name: string; blob: string | null } | null | undefined {
  const { overlay } = useBench();
  const number = overlay?.kind === 'record' ? overlay.record : null;
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
    return then.isError ? { name: `record ${number}: ${then.error.message}`, blob: null } : undefined;
  }
  const trace = then.data.record.traces.find((t) => t.step === step.id && t.laneId === lane);
  return { name: `record ${number}${trace === undefined ? ', no such trace' : ''}`, blob: trace?.blob ?? null };
}

function Kept({ step, view, lane, blob }: { step: StepView; view: RunView; lane: string; blob: string }) {
  const [chosen, choose] = useState<string | null>(null);
  const name = laneName(step, lane);
  const earlier = useEarlier(step, lane);
  const blobs = [blob, ...(earlier?.blob ? [earlier.blob] : [])];
  const trace = useQuery({
    queryKey: ['traces', blobs],
    queryFn: () => fetchTraces(blobs),
    staleTime: Infinity,
    placeholderData: (before) => before,
  });
  const lines = useMemo(
    (): LevelLine[] =>
      (trace.data?.lines ?? []).map((l, i) => ({
        name: i === 0 ? `${step.title}, ${name}` : (earlier?.name ?? ''),
        x: l.x,
        y: l.y,
      })),
    [trace.data, step.title, name, earlier?.name],
  );
  const between = trace.data?.difference;
  const difference = lines.length > 1 ? between : undefined;
  const events = useMemo(() => eventsOf(view, step, lane), [view, step, lane]);
  const far = (step.params['farEnd']?.value ?? 0) > 0;
  const length = view.points.find(
    (p) => p.lane === lane && p.point === 'length' && LENGTHS.includes(p.key.split('/')[0] ?? ''),
  )?.counting?.value;
  const text = view.asset.nameplate.texts['route'] ?? '';
  const route = useMemo(() => (text === '' ? [] : alongFibre(text, events, length, far)), [text, events, length, far]);
  if (lines.length === 0) {
    return <p className="p-4 text-quiet">{trace.error === null ? 'Fetching the trace…' : trace.error.message}</p>;
  }
  return (
    <div className="flex h-full min-h-0 gap-3 max-[1000px]:flex-col">
      <div className="flex min-h-0 min-w-0 flex-1 flex-col">
        <Beneath told={earlier} step={step} lane={lane} />
        <DistanceField
          lines={lines}
          {...(difference === undefined ? {} : { difference })}
          events={events}
          route={route}
          chosen={chosen}
          choose={choose}
          label={`${step.title}, ${name}`}
        />
      </div>
      <EventList events={events} chosen={chosen} choose={choose} />
    </div>
  );
}

/** Which earlier record lies beneath, and how to lay one there: one that measured the same, where there is any. */
function Beneath({
  told,
  step,
  lane,
}: {
  told: { name: string; blob: string | null } | null | undefined;
  step: StepView;
  lane: string;
}) {
  const { ready, overlay, lay } = useBench();
  const series = new Set(pointsOf(ready.view, step.id).map((p) => p.series));
  const same = ready.view.priors.filter((p) => p.lane === lane && series.has(p.series));
  const records = [...new Map((same.length > 0 ? same : ready.view.priors).map((p) => [p.record, p])).values()];
  const baseline = records.find((r) => r.baseline) ?? records[0];
  if (baseline === undefined) {
    return null;
  }
  return (
    <p className="flex flex-wrap items-center gap-x-3 px-1 font-condensed text-[14px]">
      <button
        type="button"
        className="min-h-8 border border-quiet bg-sheet px-2 font-semibold max-[1000px]:min-h-11"
        aria-pressed={overlay?.kind === 'record'}
        onClick={() => lay(overlay?.kind === 'record' ? null : { kind: 'record', record: baseline.record })}
      >
        {overlay?.kind === 'record'
          ? 'This trace alone'
          : `Lay over ${baseline.baseline ? 'the baseline' : 'the last record'}`}
      </button>
      {overlay?.kind === 'record' ? (
        <span className="text-quiet">{told === undefined ? 'Fetching it…' : told?.name}</span>
      ) : null}
    </p>
  );
}
