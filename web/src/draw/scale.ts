/** Where values stand on an axis, and where labels find room. */

export type Axis = { readonly from: number; readonly to: number; readonly log: boolean };

/** Share of the axis at which a value stands; outside 0 to 1 it is out of range, NaN where it has no place. */
export function fraction(axis: Axis, value: number): number {
  const at = axis.log ? Math.log : (v: number) => v;
  return (at(value) - at(axis.from)) / (at(axis.to) - at(axis.from));
}

/** Decades and their 2 and 5 within a logarithmic axis. */
export function logTicks(from: number, to: number, steps: readonly number[] = [1]): number[] {
  const ticks: number[] = [];
  for (let e = Math.floor(Math.log10(from)); e <= Math.ceil(Math.log10(to)); e++) {
    for (const step of steps) {
      const tick = step * 10 ** e;
      if (tick >= from * 0.999 && tick <= to * 1.001) {
        ticks.push(Number(tick.toPrecision(6)));
      }
    }
  }
  return ticks;
}

/** Round steps that divide a linear axis into about `count` parts. */
export function linearTicks(from: number, to: number, count: number): number[] {
  const raw = (to - from) / count;
  const unit = 10 ** Math.floor(Math.log10(raw));
  const step = unit * ([1, 2, 5, 10].find((s) => s * unit >= raw) ?? 10);
  const ticks: number[] = [];
  for (let tick = Math.ceil(from / step) * step; tick <= to + step * 1e-9; tick += step) {
    ticks.push(Number(tick.toPrecision(10)));
  }
  return ticks;
}

/** Moves labels apart: keeps their order, at least `gap` between two, as near as can be to where they belong. */
export function apart(wanted: readonly number[], gap: number): number[] {
  const order = wanted.map((_, i) => i).sort((a, b) => (wanted[a] ?? 0) - (wanted[b] ?? 0));
  const placed = [...wanted];
  // Groups of labels that touch stand around the middle of where they want to be.
  const groups: { items: number[]; sum: number }[] = [];
  for (const i of order) {
    groups.push({ items: [i], sum: wanted[i] ?? 0 });
    for (
      let last = groups[groups.length - 1], before = groups[groups.length - 2];
      last && before;
      last = groups[groups.length - 1], before = groups[groups.length - 2]
    ) {
      const bottom = before.sum / before.items.length + ((before.items.length - 1) / 2) * gap;
      const top = last.sum / last.items.length - ((last.items.length - 1) / 2) * gap;
      if (top - bottom >= gap) {
        break;
      }
      groups.splice(-2, 2, { items: [...before.items, ...last.items], sum: before.sum + last.sum });
    }
  }
  for (const group of groups) {
    const middle = group.sum / group.items.length;
    group.items.forEach((item, k) => {
      placed[item] = middle + (k - (group.items.length - 1) / 2) * gap;
    });
  }
  return placed;
}

/** Lines with places of their own on one common row of places, ascending; null where a line has no value. */
export function merged(lines: readonly { readonly x: readonly number[]; readonly y: readonly number[] }[]): {
  x: number[];
  y: (number | null)[][];
} {
  const x = [...new Set(lines.flatMap((l) => l.x))].sort((a, b) => a - b);
  const place = new Map(x.map((value, i) => [value, i]));
  const y = lines.map((line) => {
    const row = new Array<number | null>(x.length).fill(null);
    line.x.forEach((value, i) => {
      row[place.get(value) ?? -1] = line.y[i] ?? null;
    });
    return row;
  });
  return { x, y };
}

const MOST_STEPS = 60;

/**
 * Whether a trace is a cloud, many values of one kind counted one by one (symbols), which a line between them
 * would hide.
 */
export const isCloud = (xUnit: string, count: number): boolean => xUnit === '' && count > MOST_STEPS;
