import type { ReactNode } from 'react';
import type { PointView, RunView, StepView } from '../../api/types';
import { laneName, nextAt, openConfirmations, pointsOf, standingOf, ticks } from '../../state/steps';
import { withUnit, yearOf } from '../../state/words';
import { LanesField, type FieldLane } from '../../ui/LanesField';
import { useBench, type Overlay } from '../context';
import { Ticks } from '../Ticks';
import { Greatest } from './Greatest';
import { Sentence, type StageWords } from './Sentence';

/** A measuring step of one point a lane: its confirmations first, then its picture, or its lanes side by side. */
export function LanesStage({ step, words, field }: { step: StepView; words: StageWords; field?: ReactNode }) {
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
      <div className="min-h-0 flex-1 px-3 pt-1 pb-1">{field ?? <Lanes step={step} />}</div>
      <Sentence step={step} words={words} />
    </>
  );
}

/** Number of the record that lies over the stage. */
export function overlaid(overlay: Overlay | null): string | null {
  return overlay?.kind === 'record' ? overlay.record : null;
}

/** The lane to be measured next; else the last. */
export function nextLane(view: RunView, step: StepView): string {
  const next = nextAt(view, step);
  return next.kind === 'measure' ? next.point.lane : (step.lanes[step.lanes.length - 1]?.id ?? '-');
}

function lane(view: RunView, step: StepView, point: PointView, overlay: Overlay | null, isNext: boolean): FieldLane {
  const record = overlaid(overlay);
  const attempt =
    overlay?.kind === 'attempt'
      ? view.readings.find((r) => r.attempt === overlay.attempt && r.key === point.key)
      : undefined;
  const past = [...(point.strip?.past ?? [])]
    .reverse()
    .map((t) => ({ value: t.value, year: yearOf(t.at), picked: t.record === record }));
  return {
    id: point.lane,
    label: laneName(step, point.lane),
    past,
    value: attempt?.value ?? point.counting?.value ?? null,
    figure: attempt?.figure ?? point.counting?.figure ?? null,
    standing: attempt?.verdict ?? standingOf(view, point),
    isNext,
  };
}

function Lanes({ step }: { step: StepView }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const points = pointsOf(view, step.id);
  const next = view.output.mode === 'safe' ? nextLane(view, step) : view.output.lane;
  const resolved = points.find((p) => p.strip?.high !== undefined);
  const waiting = points.find((p) => p.counting !== undefined && p.strip?.high === undefined);
  return (
    <LanesField
      lanes={points.map((p) => lane(view, step, p, overlay, p.lane === next && nextAt(view, step).kind === 'measure'))}
      limit={resolved?.strip?.high ?? null}
      marginal={resolved?.strip?.marginalHigh ?? null}
      limitWords={
        resolved !== undefined
          ? `${withUnit(resolved.span ?? '', resolved.unit)}: ${resolved.source ?? ''}`
          : (waiting?.why ?? 'the limit comes from the other lanes')
      }
      unit={points[0]?.unit ?? ''}
    />
  );
}
