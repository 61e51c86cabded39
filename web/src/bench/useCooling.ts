import { useEffect, useState } from 'react';
import type { StepView } from '../api/types';
import type { Ready } from '../state/run';

/** Now in ms on the page's steady clock, renewed four times a second while something counts down. */
export function useNow(running: boolean): number {
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    if (!running) {
      return undefined;
    }
    const tick = (): void => setNow(performance.now());
    tick();
    const timer = setInterval(tick, 250);
    return () => clearInterval(timer);
  }, [running]);
  return now;
}

/** s until the device has cooled for its next output; 0 when it has, or somebody went on with a reason. */
export function useCooling(ready: Ready, step: StepView): number {
  const counts = step.cooling > 0;
  const now = useNow(counts);
  const doings = ready.view.doings.filter((d) => !d.withdrawn);
  const overruled = doings.some(
    (d) => d.type === 'coolingOverruled' && d.n > Math.max(-1, ...ready.view.attempts.map((a) => a.begunAt)),
  );
  return counts && !overruled ? Math.max(0, step.cooling - Math.max(0, now - ready.since) / 1000) : 0;
}
