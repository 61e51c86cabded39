import { pointsOf, standingOf } from '../../state/steps';
import { VERDICT_WORDS, withUnit } from '../../state/words';
import { LimitStrip } from '../../ui/LimitStrip';
import { Mark } from '../../ui/Mark';
import { useBench } from '../context';

/** What follows from other readings by itself. */
export function DerivationStage() {
  const bench = useBench();
  const { view } = bench.ready;
  return (
    <ul className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
      {pointsOf(view, bench.step.id).map((p) => (
        <li key={p.key} className="border-b border-rule py-3">
          <p className="flex items-baseline gap-3">
            <span className="self-center">
              <Mark standing={standingOf(view, p)} size={16} />
            </span>
            <span className="flex-1 text-lg">{p.label}</span>
            <span className="font-mono text-[26px] font-semibold">{p.counting?.figure ?? ''}</span>
            <span className="w-8 text-quiet">{p.unit}</span>
          </p>
          {p.strip !== undefined ? <LimitStrip strip={p.strip} standing={p.verdict} /> : null}
          <p className="font-condensed text-quiet">
            {p.counting === undefined
              ? (p.why ?? '')
              : `${VERDICT_WORDS[p.verdict]}. ${p.span === undefined ? '' : `${withUnit(p.span, p.unit)}: ${p.source ?? ''}`}`}
          </p>
        </li>
      ))}
    </ul>
  );
}
