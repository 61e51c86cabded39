import { createContext, useContext, type ComponentType } from 'react';
import type { Chart, RunView, StepView } from '../api/types';
import type { Ready } from '../state/run';

/** What stands large while something is on. */
export interface LiveHead {
  /** The quantity that matters, with its unit. */
  readonly figure: string;
  /** Time that runs, with its unit; absent where none is waited for. */
  readonly elapsed?: string;
  readonly aside: string;
}

/** How a method meets the person: its stage and its words. */
export interface Face {
  readonly Stage: ComponentType<{ step: StepView }>;
  /** What to do while it is armed; `lane` in words, empty for a step without lanes. */
  armed(step: StepView, lane: string): string;
  /** What to do, or to leave, while it is on. */
  live(step: StepView, lane: string): string;
  /** What the held press does: "Hold to switch on". */
  readonly verb: string;
  head(ready: Ready, step: StepView): LiveHead;
  /** What a step is about, in a few words for the path; null where there is nothing to say. */
  about(step: StepView): string | null;
  /** What is to be left alone while it is on; empty where that goes without saying. */
  readonly patience: (step: StepView) => string;
}

/** A value of an earlier record in a chart of this one. */
export interface PastSpot {
  /** Unique in the chart. */
  readonly key: string;
  readonly at: number;
  readonly value: number;
  readonly label: string;
}

/** What a chart is drawn from; `past` is empty on a record, and holds what was then in a comparison. */
export interface ChartProps {
  readonly chart: Chart;
  readonly past: readonly PastSpot[];
}

/** What a family of assets brings to the pages. */
export interface Family {
  /** As procedures name it. */
  readonly id: string;
  /** By a method's name, or by the beginning of several names up to a dot. */
  readonly faces: Readonly<Record<string, Face>>;
  /** Words of a nameplate, in the order a person reads them. */
  readonly plate: Readonly<Record<string, string>>;
  /** Keys of plate texts that a person reads before anything else: instructions and warnings of the place. */
  readonly first?: readonly string[];
  /** Words of parameters and greatest values of steps. */
  readonly params: Readonly<Record<string, string>>;
  /** Sketches of connections by the name procedures give them. */
  readonly sketches: Readonly<Record<string, ComponentType<{ step: StepView }>>>;
  /** Its own ways to draw charts on records and in comparisons, by the name that its charts give them. */
  readonly charts?: Readonly<Record<string, ComponentType<ChartProps>>>;
  /** Why a device has to cool between two measurements. */
  readonly cooling?: string;
}

export interface Families {
  readonly all: readonly Family[];
  /** Of methods that no family has a face for. */
  readonly plain: Face;
}

export const FamiliesContext = createContext<Families | null>(null);

/** The families there are. */
export function useFamilies(): Families {
  const families = useContext(FamiliesContext);
  if (families === null) {
    throw new Error('useFamilies needs a FamiliesContext around it');
  }
  return families;
}

/** The face of a step's method. */
export function faceOf(families: Families, step: StepView | undefined): Face {
  const method = step?.method;
  if (method === undefined) {
    return families.plain;
  }
  const beginning = `${method.split('.')[0] ?? ''}.`;
  for (const family of families.all) {
    const face = family.faces[method] ?? family.faces[beginning];
    if (face !== undefined) {
      return face;
    }
  }
  return families.plain;
}

/** How a chart is drawn; undefined where no family has a way of its own. */
export const drawingOf = (families: Families, chart: Chart): ComponentType<ChartProps> | undefined =>
  families.all.map((f) => f.charts?.[chart.drawing]).find((c) => c !== undefined);

/** The family of a run's procedure; undefined where it brings nothing to the pages. */
export const familyOf = (families: Families, view: RunView): Family | undefined =>
  families.all.find((f) => f.id === view.family);

/** Words for a name in nameplates, parameters or greatest values; a name without any is read as it is written. */
export const wordsOf = (words: Readonly<Record<string, string>> | undefined, name: string): string =>
  words?.[name] ?? name.replace(/([A-Z])/g, ' $1').toLowerCase();
