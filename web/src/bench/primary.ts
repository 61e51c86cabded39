import type { PointView, StepView } from '../api/types';
import type { Ready } from '../state/run';
import type { RunDriver } from '../state/runDriver';
import { hasSeveral, isFresh, laneName, nextAt, stepOf, stepsInScope, type Next } from '../state/steps';
import { countdown, within } from '../state/words';

/** Id of the form on the stage that the large button sends. */
export const STAGE_FORM = 'stage-form';

/** What the large button of the deck is and does. */
export type Primary =
  | { readonly kind: 'do'; readonly words: string; readonly act: () => void }
  | { readonly kind: 'send'; readonly words: string }
  | { readonly kind: 'hold'; readonly words: string }
  | { readonly kind: 'wait'; readonly words: string };

const wait = (words: string): Primary => ({ kind: 'wait', words });

export interface Here {
  readonly ready: Ready;
  readonly driver: RunDriver;
  readonly step: StepView;
  /** s until the device has cooled; 0 if it has. */
  readonly cooling: number;
  /** Whether it is being asked if a reference of the run before still holds. */
  readonly asking: boolean;
  /** What the held press does. */
  readonly verb: string;
  /** Whether values are entered without the temperature they need. */
  readonly waived: boolean;
  /** Ends looking at another step than the run's. */
  lookAhead(): void;
  leave(): void;
  toRecord(): void;
}

/** What comes next, as the run stands and this screen may act. */
export function primaryOf(here: Here): Primary {
  const { ready, driver } = here;
  const { view } = ready;
  if (view.status === 'finished') {
    return { kind: 'do', words: 'Read and sign the record', act: here.toRecord };
  }
  if (view.status !== 'open') {
    return { kind: 'do', words: 'Back to the round', act: here.leave };
  }
  if (ready.link.status === 'lost') {
    return wait('Waiting for the server');
  }
  if (ready.doing !== null) {
    return wait(`${ready.doing}…`);
  }
  if (view.output.mode === 'live' || (view.busy && view.output.mode === 'safe')) {
    return wait(`Measuring ${laneOf(ready)}`);
  }
  if (!ready.drives) {
    return { kind: 'do', words: ready.heard ? 'Take over' : 'Work here', act: () => void driver.take() };
  }
  if (view.interrupted !== undefined) {
    return { kind: 'do', words: 'Read, go on', act: () => void driver.act('Resuming', 'resumed', {}) };
  }
  if (view.output.mode === 'armed') {
    return ready.arming === null
      ? wait('Falls back to safe by itself')
      : {
          kind: 'hold',
          words: `Hold to ${here.verb} ${laneOf(ready)}`,
        };
  }
  if (view.identified === undefined || view.otherDevice) {
    return { kind: 'send', words: 'Compare with the register' };
  }
  if (isFresh(view)) {
    const first = stepsInScope(view)[0];
    return first === undefined
      ? wait('Nothing is in scope')
      : { kind: 'do', words: `Begin: ${within(first.title)}`, act: () => void driver.begin(first.id) };
  }
  return ofNext(nextAt(view, here.step), here);
}

function laneOf(ready: Ready): string {
  const step = stepOf(ready.view, ready.view.output.step);
  return step === undefined ? '' : laneName(step, ready.view.output.lane ?? '') || within(step.title);
}

function ofNext(next: Next, { ready, driver, step, cooling, asking, waived, lookAhead }: Here): Primary {
  switch (next.kind) {
    case 'tick': {
      // Never the large button, nor Enter: what makes safe is ticked by its own number or its own press, one by one.
      return wait(`Tick ${next.nth} of ${next.of}`);
    }
    case 'answer':
      return {
        kind: 'do',
        words: 'In order',
        act: () =>
          void driver.act(
            'Answering',
            'answerGiven',
            { step: step.id, point: next.point.point, lane: next.point.lane, answer: 'inOrder' },
            step.id,
          ),
      };
    case 'condition':
      return { kind: 'send', words: waived ? 'Enter the reading' : 'Enter the temperature' };
    case 'enter':
      return {
        kind: 'send',
        words: `Enter ${hasSeveral(ready.view, step, next.point.lane) ? short(next.point.name) : laneName(step, next.point.lane) || short(next.point.name)}`,
      };
    case 'measure':
      if (asking) {
        return wait('Looking for the last one…');
      }
      return cooling > 0 ? wait(`Cooling, ${countdown(cooling)} left`) : measure(next.point, next.again, driver, step);
    case 'charge':
      return ready.view.charges.every((c) => c.free !== undefined) ? wait('Earthed') : wait('It may be charged');
    case 'settle':
      return wait('Say which it was');
    case 'decide':
      return wait('Go on, or stop here?');
    case 'goOn':
      return {
        kind: 'do',
        words: `Go on: ${within(next.to.title)}`,
        act: () => {
          if (next.to.id === ready.view.currentStep) {
            lookAhead();
          } else {
            void driver.begin(next.to.id);
          }
        },
      };
    case 'finish':
      return { kind: 'do', words: 'Finish and file the record', act: () => void driver.finish() };
  }
}

function measure(point: PointView, again: boolean, driver: RunDriver, step: StepView): Primary {
  const lane = laneName(step, point.lane) || short(point.name);
  if (step.flows) {
    return {
      kind: 'do',
      words: `Measure ${lane}${again ? ' again' : ''} and on`,
      act: () => void driver.arm(step.id, point.lane, true),
    };
  }
  return {
    kind: 'do',
    words: `Measure ${lane}${again ? ' again' : ''}`,
    act: () => void driver.arm(step.id, point.lane),
  };
}

const short = (words: string): string => (words.length > 26 ? `${words.slice(0, 25)}…` : words);
