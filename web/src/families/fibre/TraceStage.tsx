import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { traces as fetchTraces } from '../../api/records';
import type { PointView, RunView, StepView, Verdict } from '../../api/types';
import { useBench } from '../../bench/context';
import { SignalStage } from '../../bench/kit/SignalStage';
import { Sentence, type StageWords } from '../../bench/kit/Sentence';
import { counts, laneName, openConfirmations, pointsOf, worst } from '../../state/steps';
import { DistanceField, type LevelEvent, type LevelLine } from '../../ui/DistanceField';
import { Mark } from '../../ui/Mark';
import { alongFibre } from './route';

const ROW = /^(.*)#(\d+)$/;
const LENGTHS = ['trace1310', 'trace1550', 'trace1625'];

/** Rows of a lane as events: where they are stands in their names. */
export function eventsOf(view: RunView, step: StepView, lane: string): LevelEvent[] {
  const rows = new Map<string, PointView[]>();
  pointsOf(view, step.id)
    .filter((p) => p.lane === lane && ROW.test(p.point))
    .forEach((p) => {
      const at = / at (\u2212?[\d.\u2009 ]+) m\b/.exec(p.label)?.[1];
      const feature = p.label.split(' at ')[0] ?? p.label;
      if (at !== undefined) {
        const key = `${feature} ${at}`;
        rows.set(key, [...(rows.get(key) ?? []), p]);
      }
    });
  return [...rows]
    .map(([key, points]) => {
      const label = points[0]?.label ?? '';
      const at = Number(
        (/ at (\u2212?[\d.\u2009 ]+) m\b/.exec(label)?.[1] ?? '0').replace(/[\u2009 ]/g, '').replace('\u2212', '-'),
      );
      const head = label.split(/, (?=[^,]*$)/)[0] ?? label;
      const figures = points.flatMap((p) =>
        p.counting?.figure === undefined ? [] : [`${p.counting.figure} ${p.unit}`],
      );
      return {
        key,
        at,
        words: [shortened(head), ...figures].join(', '),
        verdict: worst(points.map((p) => p.verdict)) as Verdict,
      };
    })
    .sort((a, b) => a.at - b.at);
}

/** "Splice, Closure 2" of "Splice 1 at 523 m (Closure 2)". */
function shortened(head: string): string {
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

function Kept({ step, view, lane, blob }: { step: StepView; view: RunView; lane: string; blob: string }) {
  const [chosen, choose] = useState<string | null>(null);
  const name = laneName(step, lane);
  const trace = useQuery({
    queryKey: ['kept traces', [blob]],
    queryFn: () => Promise.all([fetchTraces([blob])]),
    staleTime: Infinity,
  });
  const line = trace.data?.[0]?.lines[0];
  const lines = useMemo(
    (): LevelLine[] => (line === undefined ? [] : [{ name: `${step.title}, ${name}`, x: line.x, y: line.y }]),
    [line, step.title, name],
  );
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
      <div className="min-h-0 min-w-0 flex-1">
        <DistanceField
          lines={lines}
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

/** Events in their order; one that is chosen is looked at closely. */
export function EventList({
  events,
  chosen,
  choose,
}: {
  events: readonly LevelEvent[];
  chosen: string | null;
  choose: (key: string | null) => void;
}) {
  return (
    <ol className="w-[188px] shrink-0 overflow-y-auto border-l border-rule pl-2 max-[1000px]:max-h-40 max-[1000px]:w-full">
      {events.map((e) => (
        <li key={e.key}>
          <button
            type="button"
            className={`flex min-h-9 w-full items-start gap-2 px-1 py-1 text-left font-condensed text-[14px] leading-tight max-[1000px]:min-h-11 ${e.key === chosen ? 'bg-band/60' : ''}`}
            aria-pressed={e.key === chosen}
            onClick={() => choose(e.key === chosen ? null : e.key)}
            data-event
          >
            <Mark standing={e.verdict} size={12} />
            <span className="min-w-0">
              <b className="font-mono text-[13px] font-semibold">{(e.at / 1000).toFixed(3)}</b> km
              <br />
              {e.words}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}
