import { useSyncExternalStore } from 'react';
import { desk } from '../state/desk';
import type { RunModel } from '../state/run';
import type { RunDriver } from '../state/runDriver';

const NOTHING = (): (() => void) => () => undefined;
const NO_MODEL = (): RunModel | null => null;

/** The run on this page's desk, and what is known of it; null if there is none. */
export function useDesk(): { driver: RunDriver; model: RunModel } | null {
  const driver = useSyncExternalStore(desk.subscribe, desk.snapshot);
  const model = useSyncExternalStore<RunModel | null>(driver?.subscribe ?? NOTHING, driver?.snapshot ?? NO_MODEL);
  return driver !== null && model !== null ? { driver, model } : null;
}
