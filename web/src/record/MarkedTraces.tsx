import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { traces as fetchTraces } from '../api/records';
import type { RecordView, Verdict } from '../api/types';
import { worst } from '../state/steps';
import { DistanceField, type LevelEvent, type LevelLine } from '../ui/DistanceField';
import { EventList } from '../ui/EventList';
import { Mark } from '../ui/Mark';

type RecordTrace = RecordView['traces'][number];

/** What is only recorded says nothing beside what is judged. */
function verdictOf(of: readonly RecordTrace[]): Verdict {
  const all = of.flatMap((t) => t.marks.map((m) => m.verdict));
  const judged = all.filter((v) => v !== 'notJudged');
  return worst(judged.length > 0 ? judged : all) as Verdict;
}

/** Traces along which rows were found: one lane at a time, one measurement of it on top, the others beneath. */
export function MarkedTraces({ traces }: { traces: readonly RecordTrace[] }) {
  const lanes = [...new Map(traces.map((t) => [t.laneId, t.lane])).entries()];
  const [lane, setLane] = useState(() => {
    const bad = lanes.find(([id]) => verdictOf(traces.filter((t) => t.laneId === id)) === 'fail');
    return (bad ?? lanes[0])?.[0] ?? '';
  });
  const own = traces.filter((t) => t.laneId === lane);
  const [step, setStep] = useState<string | null>(null);
  const shown = own.find((t) => t.step === step) ?? own.find((t) => verdictOf([t]) === 'fail') ?? own[0];
  return (
    <section className="mt-6" aria-label="Traces" data-marked-traces>
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">Traces</h2>
      <Choice
        label="Lane"
        all={lanes.map(([id, name]) => [id, name, verdictOf(traces.filter((t) => t.laneId === id))])}
        chosen={lane}
        choose={setLane}
      />
      <Choice
        label="Measurement"
        all={own.map((t) => [t.step, t.title, verdictOf([t])])}
        chosen={shown?.step ?? ''}
        choose={setStep}
      />
      {shown === undefined ? null : <Shown key={shown.blob} trace={shown} />}
    </section>
  );
}

function Choice({
  label,
  all,
  chosen,
  choose,
}: {
  label: string;
  all: readonly (readonly [string, string, Verdict])[];
  chosen: string;
  choose: (id: string) => void;
}) {
  return all.length < 2 ? null : (
    <p className="mb-1 flex flex-wrap gap-1" role="group" aria-label={label}>
      {all.map(([id, name, verdict]) => (
        <button
          key={id}
          type="button"
          aria-pressed={id === chosen}
          className={`flex min-h-8 items-center gap-1.5 border px-2 font-condensed text-[14px] max-[1000px]:min-h-11 print:hidden ${id === chosen ? 'border-ink bg-paper font-semibold' : 'border-rule bg-sheet'}`}
          onClick={() => choose(id)}
        >
          <Mark standing={verdict} size={11} />
          {name}
        </button>
      ))}
    </p>
  );
}

function Shown({ trace }: { trace: RecordTrace }) {
  const [chosen, choose] = useState<string | null>(null);
  const answer = useQuery({
    queryKey: ['traces', [trace.blob]],
    queryFn: () => fetchTraces([trace.blob]),
    staleTime: Infinity,
  });
  const line = answer.data?.lines[0];
  const lines = useMemo(
    (): LevelLine[] => (line === undefined ? [] : [{ name: `${trace.title}, ${trace.lane}`, x: line.x, y: line.y }]),
    [line, trace.title, trace.lane],
  );
  const events = useMemo(
    (): LevelEvent[] => trace.marks.map((m) => ({ key: String(m.at), at: m.at, words: m.words, verdict: m.verdict })),
    [trace.marks],
  );
  if (lines.length === 0) {
    return <p className="h-72 py-4 text-quiet">{answer.isError ? answer.error.message : 'Fetching the trace…'}</p>;
  }
  return (
    <div className="flex h-72 gap-3 max-[1000px]:h-auto max-[1000px]:flex-col">
      <div className="min-h-0 min-w-0 flex-1 max-[1000px]:h-72 max-[1000px]:flex-none">
        <DistanceField
          lines={lines}
          events={events}
          route={[]}
          chosen={chosen}
          choose={choose}
          label={`${trace.title}, ${trace.lane}`}
        />
      </div>
      <EventList events={events} chosen={chosen} choose={choose} />
    </div>
  );
}
