import { useState } from 'react';
import type { StepView } from '../../api/types';
import { useBench } from '../../bench/context';
import { SignalStage } from '../../bench/kit/SignalStage';
import { Sentence, type StageWords } from '../../bench/kit/Sentence';
import { Ticks } from '../../bench/Ticks';
import { counts, openConfirmations, pointsOf, ticks } from '../../state/steps';
import { Mark } from '../../ui/Mark';
import { SpotsField } from '../../ui/SpotsField';
import { spotsOf } from '../../ui/spots';
import { threadsOf, type Thread } from './threads';

/** The end faces of a connector at one look; looks before it was cleaned stay beside it. */
export function ArrayStage({ step, words }: { step: StepView; words: StageWords }) {
  const { ready, overlay } = useBench();
  const { view } = ready;
  const [chosen, setChosen] = useState<string | null>(null);
  const live = view.output.mode === 'live' && view.output.step === step.id;
  const looks = view.attempts
    .filter((a) => a.step === step.id && counts(a))
    .flatMap((a) => {
      const capture = view.captures.find((c) => c.attempt === a.id && c.kind === 'picture');
      return capture === undefined || spotsOf(capture).length === 0 ? [] : [{ id: a.id, capture }];
    });
  const asked = overlay?.kind === 'attempt' ? overlay.attempt : chosen;
  const shown = looks.find((l) => l.id === asked) ?? looks.at(-1);
  if (live || shown === undefined || (openConfirmations(view, step).length > 0 && view.output.mode === 'safe')) {
    return <SignalStage step={step} words={words} about={null} />;
  }
  return (
    <>
      <div className="flex min-h-0 flex-1 flex-col px-3 pt-2 pb-1">
        {looks.length < 2 ? null : (
          <div role="radiogroup" aria-label="Looks" className="mb-2 flex flex-wrap gap-2 font-condensed text-[15px]">
            {looks.map((l, i) => {
              const bad = spotsOf(l.capture).filter((s) => s.standing !== 'pass').length;
              return (
                <button
                  key={l.id}
                  type="button"
                  role="radio"
                  aria-checked={l.id === shown.id}
                  onClick={() => setChosen(l.id)}
                  className={`flex min-h-11 items-center gap-2 border px-3 ${l.id === shown.id ? 'border-lake font-semibold' : 'border-rule'}`}
                >
                  <Mark standing={bad === 0 ? 'pass' : 'fail'} />
                  {`look ${String(i + 1)}: ${bad === 0 ? 'all in order' : `${String(bad)} not in order`}`}
                </button>
              );
            })}
          </div>
        )}
        <div className="min-h-0 flex-1">
          <SpotsField key={shown.id} capture={shown.capture} spots={spotsOf(shown.capture)} />
        </div>
      </div>
      <Sentence step={step} words={words} />
    </>
  );
}

/** The measured map of a cable as threads from its near connector to its far one. */
export function ThreadStage({ step, words }: { step: StepView; words: StageWords }) {
  const { view } = useBench().ready;
  const points = pointsOf(view, step.id);
  const threads = threadsOf(points);
  if (openConfirmations(view, step).length > 0 && view.output.mode === 'safe') {
    return (
      <div className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
        <Ticks all={ticks(view, step)} large />
      </div>
    );
  }
  const wrong = threads.filter((t) => !t.right);
  return (
    <>
      <div className="flex min-h-0 flex-1 gap-6 px-4 py-3">
        {threads.length === 0 ? (
          <p className="self-center px-4 text-[22px] leading-snug font-semibold">{step.text}</p>
        ) : (
          <>
            <Threads threads={threads} />
            <div className="w-[34%] min-w-48 overflow-auto" data-threads-wrong={wrong.length}>
              <p className="flex items-center gap-2 text-[17px] font-semibold">
                <Mark standing={wrong.length === 0 ? 'pass' : 'fail'} />
                {wrong.length === 0
                  ? `All ${String(threads.length)} come out where they should`
                  : `${String(wrong.length)} of ${String(threads.length)} do not come out where they should`}
              </p>
              <ul className="mt-2 font-condensed text-[15px]">
                {wrong.map((t) => (
                  <li key={t.fibre} className="flex gap-3 border-b border-rule py-1">
                    <b className="w-6 font-mono font-semibold">{t.fibre}</b>
                    <span>
                      {t.arrives === 0 ? '' : `comes out at ${String(t.arrives)}; `}
                      {t.words}
                    </span>
                  </li>
                ))}
              </ul>
            </div>
          </>
        )}
      </div>
      <Sentence step={step} words={words} />
    </>
  );
}

function Threads({ threads }: { threads: readonly Thread[] }) {
  const most = Math.max(...threads.map((t) => Math.max(t.fibre, t.arrives, t.should)));
  const gap = most > 16 ? 22 : 30;
  const height = most * gap + 12;
  const y = (n: number): number => (n - 0.5) * gap + 6;
  return (
    <svg
      viewBox={`0 0 520 ${String(height)}`}
      className="h-full min-h-0 min-w-0 flex-1"
      role="img"
      aria-label={`Threads from the near to the far connector: ${threads
        .map((t) => `${String(t.fibre)} to ${t.arrives === 0 ? 'nowhere' : String(t.arrives)}`)
        .join(', ')}`}
    >
      {[...threads]
        .sort((a, b) => Number(b.right) - Number(a.right))
        .map((t) => (
          <g key={t.fibre} data-thread={t.fibre} data-right={t.right}>
            {t.right ? null : (
              <line x1={60} x2={460} y1={y(t.fibre)} y2={y(t.should)} stroke="var(--quiet)" strokeDasharray="3 6" />
            )}
            {t.arrives === 0 ? (
              <>
                <line x1={60} x2={150} y1={y(t.fibre)} y2={y(t.fibre)} stroke="var(--brick)" strokeWidth={3} />
                <path
                  d={`M150 ${String(y(t.fibre) - 7)}l14 14m0 -14l-14 14`}
                  stroke="var(--brick)"
                  strokeWidth={3}
                  fill="none"
                />
              </>
            ) : (
              <line
                x1={60}
                x2={460}
                y1={y(t.fibre)}
                y2={y(t.arrives)}
                stroke={t.right ? 'var(--ink)' : 'var(--brick)'}
                strokeWidth={t.right ? 1.5 : 3.5}
              />
            )}
          </g>
        ))}
      {Array.from({ length: most }, (_, i) => i + 1).map((n) => (
        <g key={n} fontSize={gap > 24 ? 16 : 14} fontWeight={600} fill="var(--ink)">
          <circle cx={52} cy={y(n)} r={4} />
          <circle cx={468} cy={y(n)} r={4} />
          <text x={38} y={y(n) + 5} textAnchor="end">
            {n}
          </text>
          <text x={482} y={y(n) + 5}>
            {n}
          </text>
        </g>
      ))}
    </svg>
  );
}
