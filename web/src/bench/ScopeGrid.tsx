import { Problem } from '../api/http';
import { failedBefore } from '../api/variants';
import type { RunView, StepView } from '../api/types';
import { isMeasured } from '../state/steps';
import { useBench } from './context';

type Scope = RunView['scope'];

/** The lane sets whose lanes are chosen step by step: few lanes, and steps that repeat over them. */
export const gridded = (view: RunView): string[] =>
  Object.entries(view.laneSets)
    .filter(
      ([name, set]) => set.lanes.length <= 4 && view.steps.filter((s) => s.laneSet === name && s.flows).length > 1,
    )
    .map(([name]) => name);

const pairsOf = (scope: Scope): string[] => scope.withoutPairs ?? [];

/** The steps that take part, by name: one that a run begins without takes part only where it is named. */
export const wanted = (view: RunView, withoutSteps: readonly string[]): string[] =>
  view.steps.map((s) => s.id).filter((id) => !withoutSteps.includes(id));

/** The steps that may be left out with a lane of a set. */
const inSet = (view: RunView, set: string): StepView[] => view.steps.filter((s) => s.laneSet === set && isMeasured(s));

/** Which lanes of one step take part, a box each. */
export function StepLanes({ step }: { step: StepView }) {
  const bench = useBench();
  const { view } = bench.ready;
  const set = view.laneSets[step.laneSet ?? ''];
  if (set === undefined) {
    return null;
  }
  const pairs = pairsOf(view.scope);
  return (
    <span className="flex">
      {set.lanes.map((lane) => {
        const pair = `${step.id}/${lane.id}`;
        const takesPart =
          step.inScope &&
          !pairs.includes(pair) &&
          !(view.scope.withoutLanes[step.laneSet ?? ''] ?? []).includes(lane.id);
        return (
          <label key={lane.id} className="flex min-h-11 w-9 items-center justify-center">
            <input
              type="checkbox"
              checked={takesPart}
              disabled={!bench.mayAct || bench.ready.doing !== null}
              aria-label={`${step.title}, ${lane.label}`}
              onChange={() => {
                const without = takesPart ? [...pairs, pair] : pairs.filter((p) => p !== pair);
                const none = set.lanes.every((l) => without.includes(`${step.id}/${l.id}`));
                // A step without a lane left is left out as a whole; the first lane that comes back brings it back
                // alone.
                const others = set.lanes.filter((l) => l.id !== lane.id).map((l) => `${step.id}/${l.id}`);
                void send(
                  bench,
                  none ? [...view.scope.withoutSteps, step.id] : view.scope.withoutSteps.filter((s) => s !== step.id),
                  none
                    ? without.filter((p) => !p.startsWith(`${step.id}/`))
                    : step.inScope
                      ? without
                      : [...pairs.filter((p) => p !== pair), ...others],
                );
              }}
            />
          </label>
        );
      })}
    </span>
  );
}

function send(
  bench: ReturnType<typeof useBench>,
  withoutSteps: string[],
  withoutPairs: string[],
  withoutLanes: Record<string, string[]> = bench.ready.view.scope.withoutLanes,
): Promise<boolean> {
  return bench.driver.act('Choosing the scope', 'scopeSet', {
    scope: { withoutSteps, withoutLanes, withoutPairs, withSteps: wanted(bench.ready.view, withoutSteps) },
  });
}

/** All, none, what failed last time; and a lane as a whole. */
export function ScopeShortcuts() {
  const bench = useBench();
  const { view } = bench.ready;
  const sets = gridded(view);
  const set = sets[0];
  if (set === undefined) {
    return null;
  }
  const steps = inSet(view, set);
  const lanes = view.laneSets[set]?.lanes ?? [];
  const busy = !bench.mayAct || bench.ready.doing !== null;
  const others = view.scope.withoutSteps.filter((id) => !steps.some((s) => s.id === id));
  const button = (words: string, act: () => void): React.ReactNode => (
    <button
      type="button"
      disabled={busy}
      onClick={act}
      className="min-h-9 font-semibold text-lake underline underline-offset-4 disabled:text-quiet"
    >
      {words}
    </button>
  );
  const onlyFailed = async (): Promise<void> => {
    let failed: Awaited<ReturnType<typeof failedBefore>>;
    try {
      failed = await failedBefore(view.id);
    } catch (e) {
      bench.ask({
        kind: 'told',
        words: `What failed last time could not be asked: ${e instanceof Problem ? e.message : String(e)} The scope stays as it is.`,
      });
      return;
    }
    const touched = steps.filter((s) => failed.some((f) => f.step === s.id));
    if (touched.length === 0) {
      bench.ask({
        kind: 'told',
        words:
          'Nothing failed in the last record of this procedure on this device, or there is none. The scope stays as it is.',
      });
      return;
    }
    const out = steps.filter((s) => !touched.includes(s)).map((s) => s.id);
    const pairs = touched.flatMap((s) =>
      s.shared
        ? []
        : lanes.filter((l) => !failed.some((f) => f.step === s.id && f.lane === l.id)).map((l) => `${s.id}/${l.id}`),
    );
    void send(bench, [...others, ...out], pairs, { ...view.scope.withoutLanes, [set]: [] });
  };
  return (
    <div className="border-b border-rule pl-4 text-[14px]" data-scope-shortcuts>
      <p className="flex flex-wrap gap-x-4">
        {button('All', () => void send(bench, others, [], { ...view.scope.withoutLanes, [set]: [] }))}
        {button(
          'None',
          () => void send(bench, [...others, ...steps.map((s) => s.id)], [], { ...view.scope.withoutLanes, [set]: [] }),
        )}
        {button('Only what failed last time', () => void onlyFailed())}
      </p>
      {lanes.length > 1 ? (
        <p
          className="flex justify-end pr-3 pb-1 font-condensed text-[13px] font-semibold text-quiet"
          aria-hidden="true"
        >
          {lanes.map((l) => (
            <span key={l.id} className="w-9 text-center">
              {l.label}
            </span>
          ))}
        </p>
      ) : null}
    </div>
  );
}
