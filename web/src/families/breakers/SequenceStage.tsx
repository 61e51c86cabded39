import type { RunView, StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { SignalStage } from '../../bench/kit/SignalStage';
import type { StageWords } from '../../bench/kit/Sentence';
import { WorstFirst } from '../../bench/kit/WorstFirst';
import { pointsOf } from '../../state/steps';
import { withUnit } from '../../state/words';
import type { Placing } from '../../ui/Plot';
import { fallOf, flowsOf, rowsOf } from './sequence';

const NAME_WIDTH = 104;
const ROW = 17;

/** Operations over the current: each bracketed and named, beneath it all phases and levels. */
export function SequenceStage({ step, words }: { step: StepView; words: StageWords }) {
  const { view } = useBench().ready;
  return (
    <SignalStage
      step={step}
      words={words}
      about={null}
      table={
        <div className="max-h-[42%] overflow-auto border-t border-rule px-3">
          <WorstFirst step={step} />
        </div>
      }
      over={(place, first, lane) => <Brackets view={view} step={step} lane={lane} place={place} first={first} />}
    />
  );
}

/** A ramp with the fall of its current marked, and what it came to. */
export function RampStage({ step, words }: { step: StepView; words: StageWords }) {
  const { view } = useBench().ready;
  return (
    <SignalStage
      step={step}
      words={words}
      about={null}
      over={(place, first, lane) => {
        const at = fallOf(first.x, first.y);
        const point = pointsOf(view, step.id).find((p) => p.lane === lane && p.point === 'pickUp');
        const figure = view.output.mode === 'live' ? undefined : point?.counting?.figure;
        return at === null ? null : (
          <span
            className="absolute top-0 h-full border-l-2 border-dashed border-lake"
            style={{ left: place.x(at) }}
            data-fall
          >
            <span className="halo absolute top-1 right-1 px-0.5 font-condensed text-[14px] whitespace-nowrap">
              {figure === undefined ? 'falls' : `parts at ${withUnit(figure, point?.unit ?? 'A')}`}
            </span>
          </span>
        );
      }}
    />
  );
}

function Brackets({
  view,
  step,
  lane,
  place,
  first,
}: {
  view: RunView;
  step: StepView;
  lane: string | null;
  place: Placing;
  first: { readonly x: readonly number[]; readonly y: readonly number[] };
}) {
  const flows = flowsOf(first.x, first.y);
  const names = rowsOf(
    flows.map((f) => place.x(f.from)),
    NAME_WIDTH,
  );
  const fast = step.params['fast']?.value ?? 0;
  const trips = pointsOf(view, step.id).filter((p) => p.lane === lane && p.point.startsWith('trip#'));
  return (
    <>
      <svg className="absolute inset-0 overflow-visible" width={place.width} height={place.height} aria-hidden="true">
        {flows.map((f, i) => {
          const left = place.x(f.from);
          const right = Math.max(left + 2, place.x(f.to));
          const top = 6 + (names[i] ?? 0) * ROW;
          return (
            <path
              key={f.from}
              d={`M${left},${top + 9} V${top} H${right} V${top + 9}`}
              fill="none"
              stroke="var(--lake)"
              strokeWidth="2"
            />
          );
        })}
      </svg>
      {flows.map((f, i) => {
        const trip = trips.find((p) => p.row === i + 1);
        const kind = i < fast ? 'fast' : 'delayed';
        return (
          <span
            key={f.from}
            className="halo absolute px-0.5 font-condensed text-[13px] whitespace-nowrap"
            style={{ left: place.x(f.from) + 3, top: 8 + (names[i] ?? 0) * ROW }}
            data-operation={i + 1}
          >
            <b>{i + 1}</b> {kind} {trip?.counting === undefined ? '' : withUnit(trip.counting.figure ?? '', 's')}
          </span>
        );
      })}
    </>
  );
}
