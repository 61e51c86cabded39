import { ticks } from '../../state/steps';
import { Ticks } from '../Ticks';
import { useBench } from '../context';
import { RadioSketch } from '../RadioSketch';

/** Blocking confirmations, each with its own tick. */
export function InstructionStage() {
  const bench = useBench();
  const all = ticks(bench.ready.view, bench.step);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto px-8 py-6">
      {bench.step.sketch === 'radio' ? <RadioSketch step={bench.step} /> : null}
      {all.length === 0 ? <p className="text-lg">Nothing is to be confirmed here.</p> : <Ticks all={all} large />}
    </div>
  );
}
