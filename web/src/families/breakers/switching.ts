/** A line of an operation: s from the command, and what was measured. */
export interface Line {
  readonly x: readonly number[];
  readonly y: readonly number[];
}

/** Of the way between rest and rest: what is nearer to its end has come to rest. */
const STILL = 0.03;
/** What is shown after all came to rest, ms. */
const AFTER = 15;

/**
 * From when to when an operation is worth looking at, ms from the command: until drive and coil have come to rest.
 */
export function spanOf(lines: readonly Line[]): [number, number] {
  let to = 20;
  let from = 0;
  for (const { x, y } of lines) {
    const low = Math.min(...y);
    const high = Math.max(...y);
    const end = y[y.length - 1] ?? 0;
    from = Math.min(from, (x[0] ?? 0) * 1000);
    for (let i = y.length - 1; i >= 0; i--) {
      if (high > low && Math.abs((y[i] ?? 0) - end) > STILL * (high - low)) {
        to = Math.max(to, (x[i] ?? 0) * 1000 + AFTER);
        break;
      }
    }
  }
  const last = Math.max(...lines.map((l) => (l.x[l.x.length - 1] ?? 0) * 1000));
  return [from, Math.min(last, to)];
}

/** A pole over the time of an operation: where it was closed, ms from the command. */
export interface Bar {
  readonly from: number;
  readonly to: number;
}

/**
 * Where a pole was closed.
 *
 * @param moves what the operation does to it
 * @param at when it parted, or first touched, ms; for both how long it was closed
 * @param made when the first pole touched, ms; of an operation that does both
 */
export function barOf(
  moves: 'open' | 'close' | 'closeOpen',
  span: readonly [number, number],
  at: number | undefined,
  made = 0,
): Bar | null {
  if (at === undefined) {
    // It did not move: it stayed as it was.
    return moves === 'open' ? { from: span[0], to: span[1] } : null;
  }
  return moves === 'open'
    ? { from: span[0], to: Math.min(at, span[1]) }
    : moves === 'close'
      ? { from: at, to: span[1] }
      : { from: made, to: made + at };
}
