import { useEffect } from 'react';

const KEPT_MEASURES = 500;

/**
 * Notes how long a reading took from the server to the screen, where the browser's own tools and ./juratest
 * bench find it.
 */
export function usePainted(at: number | undefined): void {
  useEffect(() => {
    if (at === undefined) {
      return undefined;
    }
    // The frame after the next one is on the screen by the time it begins.
    let second = 0;
    const first = requestAnimationFrame(() => {
      second = requestAnimationFrame(() => {
        const start = at - performance.timeOrigin;
        if (start > 0) {
          performance.measure('reading to pixel', { start, end: performance.now() });
          if (performance.getEntriesByName('reading to pixel').length > KEPT_MEASURES) {
            performance.clearMeasures('reading to pixel');
          }
        }
      });
    });
    return () => {
      cancelAnimationFrame(first);
      cancelAnimationFrame(second);
    };
  }, [at]);
}
