import type { PointView, RunView, StepView } from '../../api/types';
import { laneName, openConfirmations, pointsOf, standingOf, ticks, worst, type Standing } from '../../state/steps';
import { LimitStrip } from '../../ui/LimitStrip';
import { Mark } from '../../ui/Mark';
import { useBench } from '../context';
import { Ticks } from '../Ticks';
import { Greatest } from './Greatest';
import { Sentence, type StageWords } from './Sentence';

const ORDER: readonly Standing[] = [
  'running',
  'fail',
  'marginalOutside',
  'marginalInside',
  'notJudged',
  'pass',
  'skipped',
  'todo',
];

/** How much of its limit a point takes: the most first; what has no limit last. */
function used(p: PointView): number {
  const value = p.counting?.value;
  const { high, low } = p.strip ?? {};
  return value === undefined
    ? -Infinity
    : high !== undefined
      ? value / Math.max(1e-9, Math.abs(high))
      : low !== undefined
        ? low / Math.max(1e-9, Math.abs(value))
        : -Infinity;
}

/** Many lanes with several points each, as a table whose worst stand first. */
export function WorstFirstStage({ step, words }: { step: StepView; words: StageWords }) {
  const { view } = useBench().ready;
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
      <div className="min-h-0 flex-1 overflow-auto px-3 pt-1" data-worst-first>
        <WorstFirst step={step} />
      </div>
      <Sentence step={step} words={words} />
    </>
  );
}

/** The table alone: lanes in scope, the worst first. */
export function WorstFirst({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const all = pointsOf(view, step.id).filter((p) => !p.point.includes('#'));
  const names = [...new Map(all.map((p) => [p.point, p])).values()];
  const live = view.output.mode === 'live' && view.output.step === step.id ? view.output.lane : undefined;
  const rows = step.lanes
    .filter((lane) => all.some((p) => p.lane === lane.id))
    .map((lane) => {
      const points = all.filter((p) => p.lane === lane.id);
      const standings = points.map((p) => standingOf(view, p));
      const standing: Standing = lane.id === live ? 'running' : (worst(standings) as Standing);
      return { lane, points, standing, used: Math.max(...points.map(used)) };
    })
    .sort((a, b) => ORDER.indexOf(a.standing) - ORDER.indexOf(b.standing) || b.used - a.used);
  const done = rows.filter((r) => r.standing !== 'todo' && r.standing !== 'running').length;
  return (
    <table className="w-full border-collapse">
      <thead className="sticky top-0 z-10 bg-sheet">
        <tr className="text-left text-[13px] text-quiet">
          <th className="py-1 pr-2 pl-2 font-semibold">{`${String(done)} of ${String(rows.length)}, worst first`}</th>
          {names.map((p) => (
            <th key={p.point} className="px-2 py-1 font-semibold">
              {p.unit === '' ? p.name : `${p.name}, ${p.unit}`}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr key={r.lane.id} className="border-t border-rule" data-lane={r.lane.id} data-standing={r.standing}>
            <th scope="row" className="py-1 pr-2 pl-2 text-left font-semibold whitespace-nowrap">
              <span className="flex items-center gap-2">
                <Mark standing={r.standing} />
                {laneName(step, r.lane.id)}
              </span>
            </th>
            {names.map((n) => (
              <Value
                key={n.point}
                point={r.points.find((p) => p.point === n.point)}
                many={names.length > 3}
                drifts={step.kind === 'reference'}
              />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** @param many more values stand beside it than strips have room for */
function Value({ point, many, drifts }: { point: PointView | undefined; many: boolean; drifts: boolean }) {
  const { view } = useBench().ready;
  if (point?.counting === undefined) {
    return <td className="px-2 py-1 text-quiet">–</td>;
  }
  return (
    <td className="px-2 py-1">
      <span className="flex items-center gap-3">
        {many ? <Mark standing={standingOf(view, point)} silent /> : null}
        <b className={`${many ? '' : 'w-20'} font-mono text-[17px] font-semibold whitespace-nowrap`}>
          {point.counting.figure}
        </b>
        {drifts ? <Drift view={view} point={point} /> : null}
        {point.strip === undefined || many ? null : (
          <span className="w-32 max-w-full">
            <LimitStrip strip={point.strip} standing={standingOf(view, point)} />
          </span>
        )}
      </span>
    </td>
  );
}

/** By how much a reference moved since it was taken before in this run; nothing where it was taken once. */
function Drift({ view, point }: { view: RunView; point: PointView }) {
  const taken = view.readings.filter((r) => r.key === point.key);
  const now = point.counting?.value;
  const before = taken.filter((r) => r.attempt !== point.counting?.attempt).at(-1);
  return before === undefined || now === undefined ? null : (
    <span className="font-condensed text-[14px] whitespace-nowrap text-quiet" data-drift>
      {signed(now - before.value)} since the one before
    </span>
  );
}

/** A difference with its sign, to a hundredth. */
const signed = (by: number): string => `${by < 0 ? '\u2212' : '+'}${Math.abs(by).toFixed(2)}`;
