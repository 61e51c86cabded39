import { ticks } from '../../state/steps';
import { Ticks } from '../Ticks';
import { useBench } from '../context';
import { familyOf, useFamilies } from '../family';

/** Blocking confirmations, each with its own tick. */
export function InstructionStage() {
  const bench = useBench();
  const Sketch = familyOf(useFamilies(), bench.ready.view)?.sketches[bench.step.sketch ?? ''];
  const all = ticks(bench.ready.view, bench.step);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
      {Sketch === undefined ? null : <Sketch step={bench.step} />}
      {all.length === 0 ? <p className="text-lg">Nothing is to be confirmed here.</p> : <Ticks all={all} large />}
    </div>
  );
}
