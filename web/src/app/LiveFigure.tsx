import { faceOf, useFamilies } from '../bench/family';
import type { Ready } from '../state/run';
import { stepOf } from '../state/steps';

/** The quantity that matters of what is live, in the words of its method. */
export function LiveFigure({ ready }: { ready: Ready }) {
  const families = useFamilies();
  const step = stepOf(ready.view, ready.view.output.step);
  if (step === undefined) {
    return null;
  }
  const head = faceOf(families, step).head(ready, step);
  return (
    <>
      {head.figure} {head.elapsed}
    </>
  );
}
