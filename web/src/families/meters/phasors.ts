import type { RunView } from '../../api/types';

/** A fundamental: its rms in the unit of what it is, and degrees by which it leads the first voltage. */
export interface Phasor {
  readonly rms: number;
  readonly degrees: number;
}

/** What a phasor wheel shows of an attempt. */
export interface Wheel {
  /** Of inputs 1 to 3; null where one is missing in what was kept. */
  readonly voltages: readonly (Phasor | null)[];
  readonly currents: readonly (Phasor | null)[];
  /** Wirings that fit, that with least to change first. */
  readonly wirings: readonly string[];
  readonly assumes: string;
  readonly missing: string;
  readonly rotation: string;
}

/** Rms and degrees from words such as `230.1 -120.3`; null where they are none. */
export function phasorOf(words: string | undefined): Phasor | null {
  const [rms, degrees] = (words ?? '').split(' ').map(Number);
  return rms === undefined || degrees === undefined || !Number.isFinite(rms) || !Number.isFinite(degrees)
    ? null
    : { rms, degrees };
}

type Captured = Pick<RunView['captures'][number], 'name' | 'facts'>;

/** The wheel of what an attempt kept; null where it kept no phasors. */
export function wheelOf(captures: readonly Captured[]): Wheel | null {
  const facts = (name: string): Captured['facts'] => captures.find((c) => c.name === name)?.facts ?? {};
  const first = facts('Voltage 1');
  if (first['phasor'] === undefined) {
    return null;
  }
  const three = (what: string): (Phasor | null)[] => [1, 2, 3].map((k) => phasorOf(facts(`${what} ${k}`)['phasor']));
  return {
    voltages: three('Voltage'),
    currents: three('Current'),
    wirings: [1, 2, 3, 4, 5, 6].flatMap((k) => {
      const wiring = first[`wiring${k}`];
      return wiring === undefined ? [] : [wiring];
    }),
    assumes: first['assumes'] ?? '',
    missing: first['missing'] ?? '',
    rotation: first['rotation'] ?? '',
  };
}

/** Inputs, 1 to 3, that a wiring in words says something is wrong with. */
export function wrongInputs(wiring: string | undefined, what: 'current' | 'voltage'): number[] {
  const found = new Set<number>();
  for (const part of (wiring ?? '').split(', ')) {
    const pair = new RegExp(`^${what}s (\\d) and (\\d) exchanged$`).exec(part);
    const one = new RegExp(`^${what} (\\d) reversed$`).exec(part);
    for (const digit of [...(pair?.slice(1) ?? []), ...(one?.slice(1) ?? [])]) {
      found.add(Number(digit));
    }
    if (part.startsWith(`${what}s moved on`)) {
      [1, 2, 3].forEach((k) => found.add(k));
    }
  }
  return [...found].sort();
}

/** Whether a wiring in words has a current reversed. */
export const isReversed = (wiring: string | undefined, input: number): boolean =>
  (wiring ?? '').split(', ').includes(`current ${input} reversed`);
