import { useSyncExternalStore } from 'react';

const narrow = window.matchMedia('(max-width: 1000px)');

function listen(changed: () => void): () => void {
  narrow.addEventListener('change', changed);
  return () => narrow.removeEventListener('change', changed);
}

/**
 * Whether the page is as narrow as a tablet held upright: what stands beside the sheet then stands above or
 * below it.
 */
export const useNarrow = (): boolean => useSyncExternalStore(listen, () => narrow.matches);
