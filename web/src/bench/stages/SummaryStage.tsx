import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { ownRound } from '../../api/round';
import type { PointView, StepView } from '../../api/types';
import { NextOfSeries } from '../../series/NextOfSeries';
import { compareAddress } from '../../record/words';
import {
  isDueAgain,
  isRecordedOnly,
  laneName,
  missing,
  openConfirmations,
  standingOf,
  stepsInScope,
  stillOpen,
} from '../../state/steps';
import { VERDICT_WORDS, withUnit } from '../../state/words';
import { LimitStrip } from '../../ui/LimitStrip';
import { Mark } from '../../ui/Mark';
import { useBench } from '../context';

/** Where the round goes on, once this is filed. */
function NextOnRound() {
  const { view } = useBench().ready;
  const day = useQuery({
    queryKey: ['round', 'own', view.status],
    queryFn: ownRound,
    enabled: view.status === 'finished',
  });
  if (view.status !== 'finished' || day.data === undefined || day.data.stops.length === 0) {
    return null;
  }
  const jobs = day.data.stops.flatMap((s) => s.jobs.map((j) => ({ ...j, site: s.name })));
  const next = jobs.find((j) => j.status === 'open' || j.status === 'partly done');
  return (
    <p className="mt-3" data-next-on-round>
      {next === undefined
        ? 'That was the last job of the round.'
        : `Next on the round: ${next.position}, ${next.site}.`}{' '}
      <Link className="font-semibold text-lake underline underline-offset-4" to="/round">
        To the round
      </Link>
    </p>
  );
}

/** What the run came to: before it is finished, and after. */
export function SummaryStage() {
  const bench = useBench();
  const { view } = bench.ready;
  const { judgement } = view;
  if (view.status === 'aborted') {
    return <p className="px-8 py-8 text-xl">Given up: {view.abortReason}</p>;
  }
  const told = view.points.filter(
    (p) => p.verdict !== 'pass' && !isRecordedOnly(p) && (p.required || p.counting !== undefined),
  );
  const adjusted = view.points.filter((p) => p.asLeft !== undefined);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-8 py-6" data-summary>
      <p className="flex items-center gap-4">
        <Mark standing={judgement.complete ? judgement.verdict : 'notJudged'} size={30} />
        <span className="text-[32px] leading-none font-semibold" data-verdict>
          {judgement.complete ? VERDICT_WORDS[judgement.verdict] : 'Incomplete'}
        </span>
        <span className="text-lg text-quiet">
          {judgement.complete
            ? `${view.points.filter((p) => p.counting !== undefined).length} points`
            : 'a required point has no verdict, so the run does not pass'}
        </span>
      </p>
      {judgement.firstFailed !== undefined ? (
        <p className="mt-3 text-lg">
          As found, <b className="font-semibold">{judgement.firstFailed}</b> failed first.
        </p>
      ) : null}
      <NextOfSeries position={view.asset.position} procedure={view.procedure} record={view.record} />
      <NextOnRound />
      <Earlier />
      <StillOpen />
      {adjusted.length > 0 ? (
        <section className="mt-6">
          <h2 className="text-[13px] font-semibold text-quiet">Adjusted and measured again</h2>
          {adjusted.map((p) => (
            <p key={p.key} className="flex items-center gap-3 border-b border-rule py-2">
              <span className="flex-1">{p.label}</span>
              <Mark standing={p.asFound?.verdict ?? 'todo'} />
              <span>
                as found <b className="font-mono text-[18px] font-semibold">{p.asFound?.figure}</b> {p.unit}
              </span>
              <Mark standing={p.asLeft?.verdict ?? 'todo'} />
              <span>
                as left <b className="font-mono text-[18px] font-semibold">{p.asLeft?.figure}</b> {p.unit}
              </span>
            </p>
          ))}
        </section>
      ) : null}
      <section className="mt-6">
        <h2 className="text-[13px] font-semibold text-quiet">
          {told.length === 0 ? 'Every point passed.' : 'What is not a plain pass'}
        </h2>
        {told.map((p) => (
          <PointLine key={p.key} point={p} />
        ))}
      </section>
      {view.provedOnce.length > 0 ? (
        <section className="mt-6">
          <h2 className="text-[13px] font-semibold text-quiet">Proved once for all</h2>
          <p>{view.provedOnce.join(', ')}</p>
        </section>
      ) : null}
      {judgement.notTested.length > 0 ? (
        <section className="mt-6">
          <h2 className="text-[13px] font-semibold text-quiet">Not tested</h2>
          <p>{judgement.notTested.join(', ')}</p>
        </section>
      ) : null}
    </div>
  );
}

/** The look back before leaving the site. */
function Earlier() {
  const { view } = useBench().ready;
  if (view.priors.length === 0) {
    return null;
  }
  const link = (other: string, words: string): ReactNode => (
    <Link
      className="inline-flex min-h-11 items-center font-semibold text-lake underline underline-offset-4"
      to={compareAddress(view.id, [other])}
    >
      {words}
    </Link>
  );
  return (
    <p className="mt-3 flex flex-wrap items-center gap-x-5">
      <span>Before you leave, compare</span> {link('last', 'with last time')}{' '}
      {view.priors.some((p) => p.baseline) ? link('baseline', 'with the baseline') : null}
    </p>
  );
}

function PointLine({ point }: { point: PointView }) {
  const { ready } = useBench();
  return (
    <div className="border-b border-rule py-2">
      <p className="flex items-baseline gap-3">
        <span className="self-center">
          <Mark standing={standingOf(ready.view, point)} />
        </span>
        <span className="flex-1">{point.label}</span>
        <span className="text-quiet">{VERDICT_WORDS[standingOf(ready.view, point)].toLowerCase()}</span>
        <b className="font-mono text-[18px] font-semibold">{point.counting?.figure ?? ''}</b>
        <span className="min-w-6 font-condensed text-[13px] text-quiet">
          {point.counting === undefined ? '' : point.unit}
        </span>
      </p>
      {point.strip !== undefined && point.counting !== undefined ? (
        <LimitStrip strip={point.strip} standing={point.verdict} />
      ) : null}
      <p className="font-condensed text-[14px] text-quiet">
        {point.verdict === 'notJudged'
          ? point.why
          : point.span === undefined
            ? point.why
            : `${withUnit(point.span, point.unit)}: ${point.source ?? ''}`}
      </p>
    </div>
  );
}

/** What keeps the run from being finished, each with the way to it. */
function StillOpen() {
  const bench = useBench();
  const { view } = bench.ready;
  if (view.status !== 'open') {
    return null;
  }
  const open = stillOpen(view).map((step) => {
    const due = missing(view, step);
    return {
      step,
      words:
        due.length > 0
          ? due.map((p) => laneName(step, p.lane) || p.name).join(', ')
          : `${openConfirmations(view, step).length} to confirm`,
    };
  });
  const again = stepsInScope(view).flatMap((step) => {
    const due = view.points.filter((p) => p.step === step.id && isDueAgain(view, p));
    return due.length === 0 ? [] : [{ step, words: due.map((p) => laneName(step, p.lane) || p.name).join(', ') }];
  });
  return (
    <>
      <Places title="Still open" places={open} look={bench.look} />
      <Places title="Adjusted since, and may be measured again" places={again} look={bench.look} />
    </>
  );
}

function Places({
  title,
  places,
  look,
}: {
  title: string;
  places: { step: StepView; words: string }[];
  look: (step: string) => void;
}) {
  return places.length === 0 ? null : (
    <section className="mt-6" aria-label={title}>
      <h2 className="text-[13px] font-semibold text-quiet">{title}</h2>
      <ul>
        {places.map(({ step, words }) => (
          <li key={step.id} className="flex items-center gap-3 border-b border-rule">
            <span className="flex-1">
              {step.title}: {words}
            </span>
            <button
              type="button"
              className="min-h-11 font-semibold text-lake underline underline-offset-4"
              onClick={() => look(step.id)}
            >
              Go there
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
