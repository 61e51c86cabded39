import { useEffect, useRef } from 'react';
import type { RunView, StepView } from '../api/types';
import { dayWithYear, within } from '../state/words';
import { isDueAgain, isFresh, isMeasured, pointsOf, standingOfAll, standingOfStep, ticks } from '../state/steps';
import { Mark } from '../ui/Mark';
import { useBench } from './context';
import { faceOf, useFamilies, type Families } from './family';
import { gridded, ScopeShortcuts, StepLanes, wanted } from './ScopeGrid';

/** The steps in order with their lanes; before the run it is where the scope is chosen. */
export function Path() {
  const { ready } = useBench();
  const { view } = ready;
  const minutes = view.steps.filter((s) => s.inScope).reduce((sum, s) => sum + s.minutes, 0);
  const left = view.steps.filter((s) => !s.inScope).map((s) => within(s.title));
  return (
    <nav
      className="min-h-0 overflow-y-auto border-r border-rule max-[1000px]:row-span-2"
      aria-label="Steps"
      tabIndex={0}
    >
      <header className="border-b border-rule px-4 py-3 text-quiet">
        <p className="text-[13px] font-semibold">{view.title}</p>
        <p className="font-condensed text-[14px]">
          Job {view.job} · {view.reason} · {Math.round(minutes)}&#8198;min
        </p>
      </header>
      {isFresh(view) ? <ScopeShortcuts /> : null}
      <ol>
        {view.steps.map((step, i) => (
          <Step key={step.id} step={step} number={i + 1} />
        ))}
      </ol>
      {left.length > 0 ? (
        <p className="px-4 py-3 font-condensed text-quiet">Left out of this run: {left.join(', ')}</p>
      ) : null}
      {isFresh(view) ? <Lanes /> : null}
      <p className="px-4 py-3 font-condensed text-[13px] text-quiet">
        Opened {dayWithYear(view.openedAt.slice(0, 10))}
      </p>
    </nav>
  );
}

function setScope(
  bench: ReturnType<typeof useBench>,
  withoutSteps: string[],
  withoutLanes: Record<string, string[]>,
): void {
  const pairs = bench.ready.view.scope.withoutPairs ?? [];
  void bench.driver.act('Choosing the scope', 'scopeSet', {
    scope: {
      withoutSteps,
      withoutLanes,
      withSteps: wanted(bench.ready.view, withoutSteps),
      ...(pairs.length > 0 ? { withoutPairs: pairs } : {}),
    },
  });
}

/** What is left out once a step is back in: with it come the confirmations that make it safe. */
function withAgain(view: RunView, without: readonly string[], step: StepView): string[] {
  return without.filter((id) => id !== step.id && view.steps.find((s) => s.id === id)?.kind !== 'instruction');
}

function Step({ step, number }: { step: StepView; number: number }) {
  const bench = useBench();
  const families = useFamilies();
  const { view } = bench.ready;
  const here = bench.step.id === step.id && !isFresh(view);
  const row = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (here) {
      row.current?.scrollIntoView({ block: 'nearest' });
    }
  }, [here]);
  if (isFresh(view)) {
    const without = view.scope.withoutSteps;
    const grid = gridded(view).includes(step.laneSet ?? '') && isMeasured(step);
    return (
      <li className="flex items-center border-b border-rule pr-3">
        <label
          className={`flex min-h-11 min-w-0 flex-1 items-center gap-3 py-1.5 pl-4 leading-snug ${step.inScope ? '' : 'text-quiet line-through'}`}
        >
          <input
            type="checkbox"
            checked={step.inScope}
            disabled={!bench.mayAct || bench.ready.doing !== null || (step.inScope && !step.mayLeaveOut)}
            onChange={() =>
              setScope(
                bench,
                step.inScope ? [...without, step.id] : withAgain(view, without, step),
                view.scope.withoutLanes,
              )
            }
          />
          <span className="flex-1">{step.title}</span>
          {step.inScope && !step.mayLeaveOut ? (
            <span className="font-condensed text-[13px] text-quiet">always</span>
          ) : null}
        </label>
        {grid && (view.laneSets[step.laneSet ?? '']?.lanes.length ?? 0) > 1 ? (
          step.shared ? (
            <span className="text-right font-condensed text-[13px] leading-tight text-quiet">
              once
              <br />
              for all
            </span>
          ) : (
            <StepLanes step={step} />
          )
        ) : null}
      </li>
    );
  }
  if (!step.inScope) {
    return null;
  }
  return (
    <li className="border-b border-rule">
      <button
        ref={row}
        type="button"
        aria-current={here ? 'step' : undefined}
        onClick={() => bench.look(step.id)}
        className={`grid w-full grid-cols-[28px_minmax(0,1fr)] border-l-[3px] py-2 pr-3 pl-[13px] text-left ${here ? 'border-lake bg-sheet' : 'border-transparent'}`}
      >
        <span className="pt-0.5 text-[13px] font-semibold text-quiet">{number}</span>
        <span className="min-w-0">
          <span className="block leading-snug">{step.title}</span>
          <span className="block truncate font-condensed text-[14px] text-quiet">{subline(view, step, families)}</span>
          <Standings view={view} step={step} />
        </span>
      </button>
    </li>
  );
}

/** What a step is about, or how far it is, in a few words. */
function subline(view: RunView, step: StepView, families: Families): string {
  if (step.skipped !== undefined) {
    return `skipped: ${step.skipped}`;
  }
  const all = ticks(view, step);
  const done = all.filter((t) => t.done).length;
  if (step.kind === 'instruction') {
    return done < all.length ? `${done} of ${all.length} confirmed` : `${all.length} confirmed`;
  }
  const voltage = step.params['testVoltage']?.value;
  if (voltage !== undefined) {
    const at = view.conditions['equipmentTemperature'];
    return `${voltage}\u2006V${at === undefined ? '' : `, at ${at.value}\u2006°C`}`;
  }
  if (isMeasured(step)) {
    return faceOf(families, step).about(step) ?? step.text;
  }
  return step.kind === 'derivation'
    ? 'by itself'
    : `${pointsOf(view, step.id).filter((p) => p.counting !== undefined).length} of ${pointsOf(view, step.id).length} answered`;
}

const MANY = 4;

function Standings({ view, step }: { view: RunView; step: StepView }) {
  const points = pointsOf(view, step.id);
  if (step.lanes.length === 0 || points.length === 0) {
    return (
      <span className="mt-1 flex">
        <Mark standing={standingOfStep(view, step)} size={13} />
      </span>
    );
  }
  if (step.lanes.length > MANY) {
    const word = view.laneSets[step.laneSet ?? '']?.label ?? 'lane';
    const open = new Set(points.filter((p) => p.counting === undefined).map((p) => p.lane));
    const all = step.lanes.length;
    return (
      <span className="mt-1 flex items-center gap-2 text-[14px]">
        <Mark standing={standingOfAll(view, points)} size={13} />
        {open.size === 0 ? `${all} ${word}s` : `${all - open.size} of ${all} ${word}s`}
      </span>
    );
  }
  return (
    <span className="mt-1 flex flex-wrap gap-x-4 gap-y-1 text-[14px]">
      {step.lanes.map((lane) => {
        const own = points.filter((p) => p.lane === lane.id);
        const again = view.status === 'open' && own.some((p) => isDueAgain(view, p));
        return (
          <span key={lane.id} className="flex items-center gap-1.5">
            <Mark standing={standingOfAll(view, own)} size={13} />
            {view.laneSets[step.laneSet ?? '']?.lanes.find((l) => l.id === lane.id)?.label ?? lane.id}
            {again ? <span className="font-condensed text-[13px] text-quiet">again</span> : null}
          </span>
        );
      })}
    </span>
  );
}

/** Which lanes take part, by lane set. */
function Lanes() {
  const bench = useBench();
  const { view } = bench.ready;
  const { withoutLanes, withoutSteps } = view.scope;
  return (
    <div className="px-4 py-2">
      {Object.entries(view.laneSets)
        .filter(([name, set]) => set.lanes.length <= MANY && (set.lanes.length > 1 || !gridded(view).includes(name)))
        .map(([name, set]) => (
          <fieldset key={name} className="flex flex-wrap items-center gap-x-4">
            <legend className="text-[13px] font-semibold text-quiet">{set.label}s</legend>
            {set.lanes.map((lane) => {
              const without = withoutLanes[name] ?? [];
              const takesPart = !without.includes(lane.id);
              return (
                <label key={lane.id} className="flex min-h-11 items-center gap-2">
                  <input
                    type="checkbox"
                    checked={takesPart}
                    disabled={!bench.mayAct || bench.ready.doing !== null}
                    onChange={() =>
                      setScope(bench, withoutSteps, {
                        ...withoutLanes,
                        [name]: takesPart ? [...without, lane.id] : without.filter((l) => l !== lane.id),
                      })
                    }
                  />
                  {lane.label}
                </label>
              );
            })}
          </fieldset>
        ))}
      <p className="pt-1 font-condensed text-[14px] text-quiet">
        What is left out is listed as not tested, and the job stays partly done.
      </p>
    </div>
  );
}
