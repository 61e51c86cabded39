/** A stretch of a trace in which current flowed. */
export interface Flow {
  readonly from: number;
  readonly to: number;
}

/** Below this part of the largest value nothing flows. */
const NONE = 0.12;

/** Where current flowed in a trace of its rms over the time. */
export function flowsOf(x: readonly number[], y: readonly number[]): Flow[] {
  const bound = NONE * Math.max(0, ...y);
  const flows: Flow[] = [];
  let from: number | null = null;
  let to = 0;
  y.forEach((v, i) => {
    const at = x[i] ?? 0;
    if (v > bound) {
      from ??= at;
      to = at;
    } else if (from !== null) {
      flows.push({ from, to });
      from = null;
    }
  });
  return from === null ? flows : [...flows, { from, to }];
}

/** Names that stand side by side without touching: each as it would be, or one row lower where there is no room. */
export function rowsOf(at: readonly number[], width: number): number[] {
  const ends: number[] = [];
  return at.map((x) => {
    const row = ends.findIndex((end) => end <= x);
    const used = row === -1 ? ends.length : row;
    ends[used] = x + width;
    return used;
  });
}

/** Of the largest value, below which a ramp has fallen for good. */
const FALLEN = 0.6;

/** Where a ramp fell: its last place that stands high; null where it did not fall. */
export function fallOf(x: readonly number[], y: readonly number[]): number | null {
  const bound = FALLEN * Math.max(0, ...y);
  const last = y.reduce((found, v, i) => (v > bound ? i : found), -1);
  return last < 0 || last === y.length - 1 ? null : (x[last] ?? null);
}
