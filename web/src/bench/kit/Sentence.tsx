import type { StepView } from '../../api/types';
import type { Ready } from '../../state/run';
import { failed, laneName, nextAt } from '../../state/steps';
import { VERDICT_WORDS, capital, withUnit } from '../../state/words';
import { Button } from '../../ui/controls';
import { useBench } from '../context';

/** Points outside their limits that are told with their figures; a sentence stays short. */
const TOLD = 2;

/** What a sentence under a stage says in the words of its method. */
export interface StageWords {
  /** While it is on. */
  live(ready: Ready, step: StepView): string;
  /** While nothing is on and nothing was measured yet. */
  safe(step: StepView): string;
}

/** The sentence under the picture: what is going on, what it means, what to do. */
export function Sentence({ step, words }: { step: StepView; words: StageWords }) {
  const bench = useBench();
  const { ready } = bench;
  const bad = ready.view.output.mode === 'safe' && !ready.view.busy ? failed(ready.view, step.id)[0] : undefined;
  return (
    <div className="flex min-h-12 items-center gap-3 border-t border-rule px-4 py-2">
      <p className="min-w-0 flex-1 font-semibold" aria-live="polite" data-sentence>
        {sentence(ready, step, words)}
      </p>
      {bad !== undefined && bench.mayAct ? (
        <Button onClick={() => bench.ask({ kind: 'adjust', point: bad })}>Adjusted…</Button>
      ) : null}
    </div>
  );
}

function sentence(ready: Ready, step: StepView, words: StageWords): string {
  const { view } = ready;
  if (ready.link.status === 'lost') {
    return 'Nothing is heard at the moment. What stands here is what was heard last.';
  }
  if (view.output.mode === 'live') {
    return words.live(ready, step);
  }
  if (view.output.mode === 'armed') {
    return 'If nothing is switched on within 15 s, the step falls back to safe by itself.';
  }
  const last = [...view.attempts].reverse().find((a) => a.step === step.id);
  const where = last === undefined ? '' : capital(laneName(step, last.lane)) || step.title;
  if (last?.outcome !== undefined && last.outcome !== 'valid') {
    const again = nextAt(view, step).kind === 'measure' ? '; measure it again when that is mended' : '';
    return last.outcome === 'unclear'
      ? `${where}: ${last.words ?? ''}`
      : `${where}: ${last.words ?? ''}. Nothing was accepted${again}.`;
  }
  if (last?.voided !== undefined) {
    return `${where} was voided: ${last.voided.words}. It does not count.`;
  }
  const bad = failed(view, step.id);
  if (bad.length > 0) {
    const each = bad
      .slice(0, TOLD)
      .map(
        (p) =>
          `${p.label}: ${withUnit(p.counting?.figure ?? '', p.unit)}, allowed ${withUnit(p.span ?? '', p.unit)}` +
          (p.why === undefined ? '' : `: ${p.why}`),
      );
    const others = bad.length > TOLD ? `. And ${bad.length - TOLD} more` : '';
    return `${each.join('. ')}${others}. Adjust or repair it and measure again, or go on.`;
  }
  if (last !== undefined) {
    const own = view.readings.filter((r) => r.attempt === last.id);
    const judged = own.filter((r) => r.why !== 'recorded only');
    const worst = judged.find((r) => r.verdict === 'notJudged') ?? judged[0] ?? own[0];
    if (worst !== undefined) {
      const why = worst.verdict === 'notJudged' ? ` (${worst.why ?? ''})` : '';
      const more = last.words === undefined || PLAIN.has(last.words) ? '' : ` ${capital(last.words)}.`;
      return `${worst.label}: ${withUnit(worst.figure, worst.unit)}, ${VERDICT_WORDS[worst.verdict].toLowerCase()}${why}.${more}`;
    }
    return `${capital(last.words ?? '')}.`;
  }
  const off = view.lastOff;
  return off !== undefined && !off.confirmed ? 'The output is not confirmed off.' : words.safe(step);
}

/** Words of an ending that say nothing beside its figure. */
const PLAIN: ReadonlySet<string> = new Set(['measured', 'tripped']);
