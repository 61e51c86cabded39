import { createContext, useContext } from 'react';
import type { PointView, StepView } from '../api/types';
import type { Ready } from '../state/run';
import type { RunDriver } from '../state/runDriver';

/** What lies over the stage: an earlier record, or an attempt of this run. */
export type Overlay =
  { readonly kind: 'record'; readonly record: string } | { readonly kind: 'attempt'; readonly attempt: string };

/** The question that stands over the page. */
export type Asked =
  | { readonly kind: 'note' }
  | { readonly kind: 'photo'; readonly file: File }
  | { readonly kind: 'void'; readonly attempt: string; readonly label: string }
  | { readonly kind: 'adjust'; readonly point: PointView }
  | { readonly kind: 'settle'; readonly attempt: string; readonly device: boolean }
  | { readonly kind: 'moved' }
  | { readonly kind: 'decide'; readonly failed: StepView; readonly goOn: boolean }
  | { readonly kind: 'skip'; readonly step: StepView }
  | { readonly kind: 'cool' }
  | { readonly kind: 'abort'; readonly reason: string }
  | { readonly kind: 'answer'; readonly point: PointView; readonly answer: 'defect' | 'notInOrder' }
  | { readonly kind: 'gear'; readonly need: string }
  | { readonly kind: 'settings' }
  | { readonly kind: 'saveVariant' }
  | { readonly kind: 'path'; readonly gear: string }
  | { readonly kind: 'told'; readonly words: string };

export interface Bench {
  readonly driver: RunDriver;
  readonly ready: Ready;
  /** The step on the stage. */
  readonly step: StepView;
  /** Looks at a step without turning to it. */
  look(step: string | null): void;
  readonly overlay: Overlay | null;
  lay(overlay: Overlay | null): void;
  ask(asked: Asked | null): void;
  takePhoto(): void;
  /** Whether values are entered without the temperature they need. */
  readonly waived: boolean;
  waive(waived: boolean): void;
  /** Whether this screen may act. */
  readonly mayAct: boolean;
}

export const BenchContext = createContext<Bench | null>(null);

/** The bench around a component. */
export function useBench(): Bench {
  const bench = useContext(BenchContext);
  if (bench === null) {
    throw new Error('useBench needs a BenchPage around it');
  }
  return bench;
}
