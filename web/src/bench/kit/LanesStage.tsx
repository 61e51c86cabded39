import type { ReactNode } from 'react';
import type { PointView, RunView, StepView } from '../../api/types';
import { laneName, nextAt, openConfirmations, pointsOf, standingOf, ticks } from '../../state/steps';
import { withUnit, yearOf } from '../../state/words';
import { LanesField, type FieldLane } from '../../ui/LanesField';
import { Mark } from '../../ui/Mark';
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

/** The first point of the step lane by lane in its field, and what else was measured on the way beneath it. */
function Lanes({ step }: { step: StepView }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const all = pointsOf(view, step.id);
  const points = all.filter((p) => p.point === all[0]?.point);
  const others = all.filter((p) => p.point !== all[0]?.point && p.counting !== undefined);
  const next = view.output.mode === 'safe' ? nextLane(view, step) : view.output.lane;
  const resolved = points.find((p) => p.strip?.high !== undefined || p.strip?.low !== undefined);
  const waiting = points.find((p) => p.counting !== undefined && p !== resolved);
  return (
    <div className="flex h-full flex-col">
      <div className="min-h-0 flex-1">
        <LanesField
          lanes={points.map((p) =>
            lane(view, step, p, overlay, p.lane === next && nextAt(view, step).kind === 'measure'),
          )}
          high={resolved?.strip?.high ?? null}
          marginalHigh={resolved?.strip?.marginalHigh ?? null}
          low={resolved?.strip?.low ?? null}
          marginalLow={resolved?.strip?.marginalLow ?? null}
          limitWords={
            resolved !== undefined
              ? `${withUnit(resolved.span ?? '', resolved.unit)}: ${resolved.source ?? ''}`
              : (waiting?.why ?? 'the limit comes from the other lanes')
          }
          unit={points[0]?.unit ?? ''}
        />
      </div>
      {others.length === 0 ? null : (
        <p className="flex flex-wrap gap-x-6 border-t border-rule px-1 py-1.5 font-condensed text-[15px]" data-others>
          {others.map((p) => (
            <span key={p.key} className="flex items-center gap-2">
              <Mark standing={standingOf(view, p)} size={12} />
              {p.label} <b className="font-mono">{withUnit(p.counting?.figure ?? '', p.unit)}</b>
            </span>
          ))}
        </p>
      )}
    </div>
  );
}
