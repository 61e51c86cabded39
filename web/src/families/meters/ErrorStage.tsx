import type { RunView, StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { LanesStage, nextLane } from '../../bench/kit/LanesStage';
import { PointFigure } from '../../bench/kit/PointFigure';
import { Sentence, type StageWords } from '../../bench/kit/Sentence';
import type { Progress } from '../../state/run';
import { laneName, openConfirmations, pointsOf, standingOf } from '../../state/steps';
import { duration, figure, withUnit } from '../../state/words';
import { Mark } from '../../ui/Mark';
import { addedUp, race } from './race';

const SERVICE: StageWords = {
  live: () => 'Pulses are counted under the load there is. Nothing is switched on.',
  safe: () => 'Nothing is switched on: the customer is supplied all the while.',
};
const SOURCE: StageWords = {
  live: ({ progress }) =>
    progress?.values['waitsForContact'] === undefined
      ? 'The meter is on the source. Keep hands off its terminals.'
      : 'Nothing is on yet: it goes on as soon as the contact at the source closes.',
  safe: () => 'Safe. The source is off.',
};

/** Of an error under load: how meter and reference run against each other. */
export function ErrorStage({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  if (openConfirmations(view, step).length > 0 && view.output.mode === 'safe') {
    return <LanesStage step={step} words={SERVICE} />;
  }
  return (
    <>
      <div className="flex min-h-0 flex-1 flex-col justify-center px-6 py-3">
        {live ? <Race progress={progress} /> : <Result step={step} />}
      </div>
      <Sentence step={step} words={SERVICE} />
    </>
  );
}

/** Of a register or a demand: what the reference has added up, or how far the interval of the meter has come. */
export function RegisterStage({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  if (openConfirmations(view, step).length > 0 && view.output.mode === 'safe') {
    return <LanesStage step={step} words={SERVICE} />;
  }
  return (
    <>
      <div className="flex min-h-0 flex-1 flex-col justify-center px-6 py-3">
        {live ? <Added progress={progress} /> : <Result step={step} />}
      </div>
      <Sentence step={step} words={SERVICE} />
    </>
  );
}

function Added({ progress }: { progress: Progress | null }) {
  const added = addedUp(progress?.values ?? {});
  return (
    <div className="flex flex-col gap-3" data-added>
      <p className="flex flex-wrap items-baseline gap-x-6">
        <b className="font-mono text-[40px] leading-none font-semibold">{added.figure}</b>
        <span className="text-quiet">{added.beside}</span>
      </p>
      <p className="text-[20px] leading-snug font-semibold">{added.words}</p>
      {added.share === undefined ? null : (
        <Lane name="Reference" share={added.share} words={added.wanted} colour="bg-ink" />
      )}
    </div>
  );
}

/** All load points of a procedure as they fill, the one that runs as a race. */
export function LoadStage({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  return (
    <LanesStage
      step={step}
      words={SOURCE}
      field={
        <div className="flex h-full flex-col gap-3 overflow-auto px-3 py-2">
          <Grid view={view} step={step} />
          {live ? <Race progress={progress} /> : null}
        </div>
      }
    />
  );
}

/** What was counted, beside its limit. */
function Result({ step }: { step: StepView }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  if (points.every((p) => p.counting === undefined)) {
    return <p className="text-[22px] leading-snug font-semibold">{step.text}</p>;
  }
  return (
    <dl className="grid grid-cols-2 gap-x-8 gap-y-4">
      {points.map((p) => (
        <div key={p.key} data-point={p.key}>
          <dt className="font-condensed text-[15px]">
            {p.name} <span className="text-quiet">{p.unit}</span>
          </dt>
          <dd>
            <PointFigure point={p} />
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** Meter and reference side by side: how far each has come of what is wanted, and by how much they differ so far. */
function Race({ progress }: { progress: Progress | null }) {
  const run = race(progress?.values ?? {});
  if (run.waits !== undefined) {
    return (
      <p className="text-[22px] leading-snug font-semibold" data-waits>
        {run.waits}
      </p>
    );
  }
  return (
    <div className="flex flex-col gap-3" data-race>
      <p className="flex flex-wrap items-baseline gap-x-6">
        <b className="font-mono text-[40px] leading-none font-semibold">
          {run.error === undefined
            ? '…'
            : withUnit(`${run.error > 0 ? '+' : ''}${run.error.toFixed(2)}`, '%').replace('-', '\u2212')}
        </b>
        <span className="text-quiet">{run.runs}</span>
      </p>
      <Lane name="Meter" share={run.meter} words={run.meterWords} colour="bg-lake" />
      <Lane name="Reference" share={run.reference} words={run.referenceWords} colour="bg-ink" />
      <p className="font-condensed text-[15px] text-quiet">{run.beside}</p>
    </div>
  );
}

function Lane({ name, share, words, colour }: { name: string; share: number; words: string; colour: string }) {
  return (
    <div className="grid grid-cols-[6.5rem_1fr_9rem] items-center gap-3">
      <span className="font-condensed text-[16px] font-semibold">{name}</span>
      <span className="relative h-6 border border-rule">
        <span className={`absolute inset-y-0 left-0 ${colour}`} style={{ width: `${Math.min(100, 100 * share)}%` }} />
      </span>
      <span className="font-mono text-[15px]">{words}</span>
    </div>
  );
}

/** A lane without the word that all lanes of its step begin with: "100 %" of "load 100 %". */
const brief = (label: string): string => label.slice(label.indexOf(' ') + 1);

/** Load points as a grid: a row each power factor or set of phases, a cell each load. */
function Grid({ view, step }: { view: RunView; step: StepView }) {
  const rows = view.steps.filter((s) => s.inScope && s.method === 'meter.load');
  const next = view.output.mode === 'safe' ? nextLane(view, step) : view.output.lane;
  const own = (row: StepView): boolean => row.id === step.id;
  return (
    <table className="w-full table-fixed border-separate border-spacing-1" data-grid>
      <tbody>
        {rows.map((row) => (
          <tr key={row.id}>
            <th
              scope="row"
              className={`w-28 pr-2 text-left font-condensed text-[15px] leading-tight ${own(row) ? 'font-semibold' : 'font-medium text-quiet'}`}
            >
              {row.title}
              {own(row) ? <span className="block text-[13px] font-normal text-quiet">error, %</span> : null}
            </th>
            {row.lanes.map((lane) => {
              const point = pointsOf(view, row.id).find((p) => p.lane === lane.id && p.point === 'error');
              const isNext = own(row) && lane.id === next;
              return (
                <td
                  key={lane.id}
                  className={`border px-2 py-1.5 align-top ${isNext ? 'border-2 border-lake' : 'border-rule'}`}
                  data-load={`${row.id}/${lane.id}`}
                >
                  <span className="block font-condensed text-[13px] whitespace-nowrap text-quiet">
                    {brief(laneName(row, lane.id))} · {withUnit(figure(currentOf(row, lane.id)), 'A')}
                  </span>
                  <span className="flex items-center gap-2">
                    {point === undefined ? null : <Mark standing={standingOf(view, point)} size={12} />}
                    <b className="font-mono text-[17px]">{point?.counting?.figure ?? '–'}</b>
                  </span>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function currentOf(step: StepView, lane: string): number {
  const current = step.params['current'];
  return current?.lanes?.[lane] ?? current?.value ?? NaN;
}

/** Pulses against a time: creep and starting. */
export function CreepStage({ step }: { step: StepView }) {
  const { view, progress } = useBench().ready;
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const left = progress?.values['left']?.value;
  return (
    <LanesStage
      step={step}
      words={SOURCE}
      field={
        <div className="flex h-full flex-col justify-center gap-4 px-4">
          {live ? (
            <p className="flex flex-wrap items-baseline gap-x-6" data-creep>
              <b className="font-mono text-[40px] leading-none font-semibold">
                {figure(progress?.values['pulses']?.value ?? 0)}
              </b>
              <span className="text-[18px]">pulses so far</span>
              {left === undefined ? null : <span className="text-quiet">{duration(left)} left</span>}
            </p>
          ) : (
            <Result step={step} />
          )}
        </div>
      }
    />
  );
}
