import type { Attempt, ConfirmationView, PointView, ReadingView, RunView, StepView, Verdict } from '../api/types';

/** What a mark shows: a verdict, or that there is none yet. */
export type Standing = Verdict | 'skipped' | 'running' | 'todo';

const SEVERITY: Standing[] = [
  'pass',
  'skipped',
  'marginalInside',
  'notJudged',
  'todo',
  'running',
  'marginalOutside',
  'fail',
];

export function worst(standings: Standing[]): Standing {
  return standings.reduce((a, b) => (SEVERITY.indexOf(b) > SEVERITY.indexOf(a) ? b : a), 'pass' as Standing);
}

/** Whether a point is only recorded: it has no limit, and its verdict says nothing. */
export const isRecordedOnly = (point: PointView): boolean =>
  !point.required && point.verdict === 'notJudged' && point.why === 'recorded only';

/** The standing of several points together; those that are only recorded say nothing beside others. */
export function standingOfAll(view: RunView, points: PointView[]): Standing {
  const judged = points.filter((p) => !isRecordedOnly(p));
  return worst((judged.length > 0 ? judged : points).map((p) => standingOf(view, p)));
}

export const pointsOf = (view: RunView, step: string): PointView[] => view.points.filter((p) => p.step === step);

export const keyOf = (step: string, point: string, lane: string): string => `${step}/${point}/${lane}`;

export function stepOf(view: RunView, id: string | null | undefined): StepView | undefined {
  return view.steps.find((s) => s.id === id);
}

export const stepsInScope = (view: RunView): StepView[] => view.steps.filter((s) => s.inScope);

/** Whether a method measures it with gear. */
export const isMeasured = (step: StepView | undefined): boolean =>
  step?.kind === 'measurement' || step?.kind === 'search' || step?.kind === 'capture' || step?.kind === 'reference';

/** Whether an attempt ended properly and was not voided. */
export const counts = (attempt: Attempt): boolean => attempt.outcome === 'valid' && attempt.voided === undefined;

/** Whether a point has to be measured: it never was, or it was adjusted since. */
export function isDue(view: RunView, point: PointView): boolean {
  const step = stepOf(view, point.step);
  if (step?.skipped !== undefined) {
    return false;
  }
  if (step?.kind === 'inspection') {
    return point.counting === undefined;
  }
  if (step?.kind === 'reference') {
    return isReferenceDue(view, point);
  }
  // Values entered by hand come one at a time, each in an attempt of its own; a measurement gives all of its
  // points at once.
  const own = (id: string): boolean =>
    step?.kind !== 'entry' || view.readings.some((r) => r.attempt === id && r.key === point.key);
  const valid = view.attempts.filter((a) => a.step === point.step && a.lane === point.lane && counts(a) && own(a.id));
  const last = valid[valid.length - 1];
  // A row that was discovered is there because it was measured.
  return last === undefined ? !point.point.includes('#') : isAdjustedAfter(view, point, last);
}

/** Attempts that nothing could tell about, whether it was the connection or the device, and nobody has yet. */
export const unclear = (view: RunView): Attempt[] =>
  view.attempts.filter((a) => a.outcome === 'unclear' && a.voided === undefined);

/** The reference that a step on a lane counts with, and that does not hold; undefined where all do. */
export function referenceAmiss(view: RunView, step: StepView): StepView | undefined {
  const amiss = view.references.find((r) => step.uses.includes(r.step) && r.fault !== undefined);
  return amiss === undefined ? undefined : stepOf(view, amiss.step);
}

/** Whether a reference has to be taken: it never was, or no longer holds and something still counts with it. */
function isReferenceDue(view: RunView, point: PointView): boolean {
  const standing = view.references.find((r) => r.step === point.step && r.lane === point.lane);
  const wanted = stepsInScope(view).some(
    (s) => s.uses.includes(point.step) && s.skipped === undefined && pointsOf(view, s.id).some((p) => isDue(view, p)),
  );
  return standing?.fault !== undefined && (standing.attempt === undefined || wanted);
}

function isAdjustedAfter(view: RunView, point: PointView, attempt: Attempt): boolean {
  return view.adjustments.some((a) => a.at > attempt.begunAt && a.points.includes(point.key));
}

/** Whether a point was adjusted after its last valid attempt, and so waits to be measured as left. */
export function isDueAgain(view: RunView, point: PointView): boolean {
  return isDue(view, point) && view.attempts.some((a) => a.step === point.step && a.lane === point.lane && counts(a));
}

export function standingOf(view: RunView, point: PointView): Standing {
  const { output } = view;
  if (output.mode === 'live' && output.step === point.step && output.lane === point.lane) {
    return 'running';
  }
  if (point.counting !== undefined) {
    return point.verdict;
  }
  return stepOf(view, point.step)?.skipped !== undefined ? 'skipped' : 'todo';
}

/** How a step stands where it has no points: by its confirmations. */
export function standingOfStep(view: RunView, step: StepView): Standing {
  const points = pointsOf(view, step.id);
  if (step.skipped !== undefined) {
    return 'skipped';
  }
  if (step.kind === 'reference' && points.every((p) => p.verdict === 'notJudged')) {
    // A reference has no limit to pass: it holds, or has to be taken.
    const own = view.references.filter((r) => r.step === step.id);
    return own.every((r) => r.fault === undefined) ? 'pass' : 'todo';
  }
  if (points.length > 0) {
    return standingOfAll(view, points);
  }
  const open = [...openConfirmations(view, step)];
  return open.length === 0 && (step.begun || step.confirmations.length > 0) ? 'pass' : 'todo';
}

/** One thing to tick: a confirmation of a step, or what an earlier one has to be put back. */
export interface Tick {
  readonly step: string;
  readonly confirmation: ConfirmationView;
  /** Whether it is to be put back rather than confirmed. */
  readonly back: boolean;
  readonly text: string;
  readonly done: boolean;
  /** The event that ticked it. */
  readonly event: string | undefined;
}

/** Whether a step is the one at which everything that is left is put back: the last with confirmations. */
function isLast(view: RunView, step: StepView): boolean {
  const holding = stepsInScope(view).filter((s) => s.confirmations.length > 0);
  return holding[holding.length - 1]?.id === step.id;
}

/** All that is ticked at a step, what must be back before it first. */
export function ticks(view: RunView, step: StepView): Tick[] {
  const place = view.steps.indexOf(step);
  const backs = view.steps
    .filter((s) => s.inScope && s.id !== step.id)
    .flatMap((s) =>
      s.confirmations
        .filter((c) => c.back !== undefined && c.confirmed)
        .filter((c) =>
          c.backBefore !== undefined ? isFirstNeeding(view, step, place, c.backBefore) : isLast(view, step),
        )
        .map((c): Tick => ({
          step: s.id,
          confirmation: c,
          back: true,
          text: c.back ?? '',
          done: c.restored,
          event: c.restoration,
        })),
    );
  const own = step.confirmations.map((c): Tick => ({
    step: step.id,
    confirmation: c,
    back: false,
    text: c.text,
    done: c.confirmed,
    event: c.event,
  }));
  return [...backs, ...own, ...(isOver(view, step) ? ownBacks(step) : [])];
}

/** Whether nothing is left but to put back what was done at the last step that holds anything. */
const isOver = (view: RunView, step: StepView): boolean =>
  isLast(view, step) &&
  step.confirmations.every((c) => c.confirmed) &&
  stepsInScope(view).every((s) => s.skipped !== undefined || missing(view, s).length === 0) &&
  stepsInScope(view).some((s) => missing(view, s).length === 0 && isMeasured(s));

const ownBacks = (step: StepView): Tick[] =>
  step.confirmations
    .filter((c) => c.back !== undefined && c.backBefore === undefined)
    .map((c): Tick => ({
      step: step.id,
      confirmation: c,
      back: true,
      text: c.back ?? '',
      done: c.restored,
      event: c.restoration,
    }));

/** What must be back before a step that is out of scope must be back before the next that is in it. */
function isFirstNeeding(view: RunView, step: StepView, place: number, before: string): boolean {
  const from = view.steps.findIndex((s) => s.id === before);
  const first = view.steps.slice(from).find((s) => s.inScope);
  return first?.id === step.id && place >= from;
}

export const openConfirmations = (view: RunView, step: StepView): Tick[] => ticks(view, step).filter((t) => !t.done);

/** What the large button of the deck does. */
export type Next =
  | { readonly kind: 'tick'; readonly tick: Tick; readonly nth: number; readonly of: number }
  | { readonly kind: 'answer'; readonly point: PointView }
  | { readonly kind: 'condition' }
  | { readonly kind: 'enter'; readonly point: PointView }
  | { readonly kind: 'measure'; readonly point: PointView; readonly again: boolean }
  | { readonly kind: 'charge' }
  | { readonly kind: 'settle'; readonly attempt: Attempt }
  | { readonly kind: 'decide'; readonly failed: string }
  | { readonly kind: 'goOn'; readonly to: StepView }
  | { readonly kind: 'finish' };

/** What is next at a step, from what stands in the run alone. */
export function nextAt(view: RunView, step: StepView): Next {
  if (view.charges.length > 0) {
    return { kind: 'charge' };
  }
  const open = unclear(view)[0];
  if (open !== undefined) {
    return { kind: 'settle', attempt: open };
  }
  if (step.skipped === undefined && step.decide !== undefined) {
    return { kind: 'decide', failed: step.decide };
  }
  if (step.skipped === undefined) {
    const all = ticks(view, step);
    const nth = all.findIndex((t) => !t.done);
    const tick = all[nth];
    if (tick !== undefined) {
      return { kind: 'tick', tick, nth: nth + 1, of: all.length };
    }
    const point = firstDue(view, step);
    if (point !== undefined) {
      return point;
    }
  }
  // What was done already is passed over: after an alignment the work goes back, and then on to where a hand is needed.
  const after = view.steps.slice(view.steps.indexOf(step) + 1).find((s) => s.inScope && !(s.flows && isDone(view, s)));
  const to = after ?? stillOpen(view)[0];
  return to !== undefined && to.id !== step.id ? { kind: 'goOn', to } : { kind: 'finish' };
}

/** Whether nothing is left to do at a step that was begun. */
const isDone = (view: RunView, step: StepView): boolean =>
  step.skipped !== undefined || (openConfirmations(view, step).length === 0 && firstDue(view, step) === undefined);

/** Steps that keep the run from being finished: something is not ticked, or a required point was never measured. */
export const stillOpen = (view: RunView): StepView[] =>
  stepsInScope(view).filter(
    (s) =>
      s.skipped === undefined &&
      ((!isMeasured(s) && s.kind !== 'entry' && openConfirmations(view, s).length > 0) || missing(view, s).length > 0),
  );

/**
 * Steps that are left where somebody stops after one that failed, the last first: what prepares a step can be left only
 * once that is.
 */
export const stoppedBy = (view: RunView, failed: string): StepView[] =>
  stepsInScope(view)
    .filter((s) => s.decide === failed && s.skipped === undefined)
    .reverse();

/** Required points of a step that have no reading or answer yet. */
export const missing = (view: RunView, step: StepView): PointView[] =>
  step.kind === 'derivation'
    ? []
    : pointsOf(view, step.id).filter((p) => p.required && isDue(view, p) && !isDueAgain(view, p));

function firstDue(view: RunView, step: StepView): Next | undefined {
  const points = pointsOf(view, step.id);
  switch (step.kind) {
    case 'inspection': {
      const point = points.find((p) => p.counting === undefined);
      return point && { kind: 'answer', point };
    }
    case 'entry': {
      const point = points.find((p) => isDue(view, p));
      if (point === undefined) {
        return undefined;
      }
      return step.warm && view.conditions['equipmentTemperature'] === undefined
        ? { kind: 'condition' }
        : { kind: 'enter', point };
    }
    case 'reference':
    case 'measurement':
    case 'search':
    case 'capture': {
      const point = points.find((p) => isDue(view, p));
      const first = point === undefined ? undefined : referenceAmiss(view, step);
      if (first !== undefined) {
        return { kind: 'goOn', to: first };
      }
      return point && { kind: 'measure', point, again: isDueAgain(view, point) };
    }
    default:
      return undefined;
  }
}

/** Name of a lane of a step: "phase B"; empty for a step without lanes. */
export function laneName(step: StepView, lane: string): string {
  return step.lanes.find((l) => l.id === lane)?.label ?? '';
}

/** Readings of a step by lane, the last valid one of each. */
export function countingReadings(view: RunView, step: string): Map<string, ReadingView> {
  const byLane = new Map<string, ReadingView>();
  for (const reading of view.readings) {
    const attempt = view.attempts.find((a) => a.id === reading.attempt);
    const [s, , lane] = reading.key.split('/');
    if (s === step && lane !== undefined && attempt !== undefined && counts(attempt)) {
      byLane.set(lane, reading);
    }
  }
  return byLane;
}

/** Points an adjustment at a lane is taken to touch: all of that lane in steps that repeat over the same set. */
export function touchedBy(view: RunView, point: PointView): PointView[] {
  const set = stepOf(view, point.step)?.laneSet;
  return view.points.filter(
    (p) =>
      p.lane === point.lane &&
      p.unitCode !== undefined &&
      stepOf(view, p.step)?.laneSet === set &&
      stepOf(view, p.step)?.kind !== 'derivation',
  );
}

/** Failed points whose lane nothing was done about since. */
export const failed = (view: RunView, step: string): PointView[] =>
  pointsOf(view, step).filter((p) => (p.verdict === 'fail' || p.verdict === 'marginalOutside') && !isDue(view, p));

/** Whether the run waits for its first step: the scope can still be chosen. */
export const isFresh = (view: RunView): boolean =>
  view.status === 'open' &&
  view.attempts.length === 0 &&
  view.answers.length === 0 &&
  view.steps.every((s) => !s.begun);

/** Whether several values belong to one lane of a step, so that the lane alone does not name them. */
export const hasSeveral = (view: RunView, step: StepView, lane: string): boolean =>
  pointsOf(view, step.id).filter((p) => p.lane === lane).length > 1;

/** A point among those of its step: by its lane, by its name, or by both where neither tells it apart. */
export function placeOf(view: RunView, step: StepView, point: PointView): string {
  const lane = laneName(step, point.lane);
  return lane === '' ? point.name : hasSeveral(view, step, point.lane) ? `${point.name}, ${lane}` : lane;
}

/** Whether the device of a run can be asked who it is. */
export const hasDataPort = (view: RunView): boolean => view.gear.some((g) => g.role.endsWith('-data-port'));
