import type { StepView } from '../../api/types';
import { symbolOf, within, withUnit } from '../../state/words';
import { useBench } from '../context';
import { familyOf, useFamilies, wordsOf } from '../family';

/** What the client can never exceed, to be read before the first output. */
export function Greatest({ step }: { step: StepView }) {
  const words = familyOf(useFamilies(), useBench().ready.view)?.params;
  return (
    <dl className="mt-6 flex flex-wrap gap-x-10 gap-y-3">
      {Object.entries(step.maxima).map(([name, p]) => (
        <div key={name}>
          <dt className="text-quiet">{`Greatest ${within(wordsOf(words, name))}`}</dt>
          <dd className="font-mono text-[30px] font-semibold">
            {p.value === undefined
              ? 'not known'
              : withUnit(p.value >= 100 ? p.value.toFixed(0) : String(Math.round(p.value * 10) / 10), symbolOf(p.unit))}
          </dd>
          {p.value === undefined ? <dd>{p.missing}</dd> : null}
        </div>
      ))}
    </dl>
  );
}
