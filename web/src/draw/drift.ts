/** The drift map as figures: what is in view, where marks stand, which is near, which can be named. No page in it. */

/** Part of the map: margin used to the right, margin used up in a year upward, both as shares. */
export interface View {
  readonly left: number;
  readonly right: number;
  readonly bottom: number;
  readonly top: number;
}

/** Columns as the server sends them: those with a drift first, then those with a margin alone, then the others. */
export interface Marks {
  readonly asset: readonly string[];
  readonly position: readonly string[];
  readonly models: readonly string[];
  /** Place of each one's model in the models. */
  readonly model: readonly number[];
  /** A letter each: a act, w watch, s sound, u unknown. */
  readonly standing: string;
  readonly margin: readonly number[];
  readonly drift: readonly number[];
}

/** Years to the limit that lines are drawn for. */
export const YEARS = [1, 2, 5, 10] as const;

const LEAST_TOP = 0.1;
const LEAST_BOTTOM = -0.04;

function quantile(sorted: readonly number[], share: number): number {
  return sorted[Math.min(sorted.length - 1, Math.max(0, Math.round(share * (sorted.length - 1))))] ?? 0;
}

const roundUp = (value: number, step: number): number => Math.ceil(value / step - 1e-9) * step;

/**
 * A view of all: from unused to a quarter past the limit, as high as all but the fastest few drift. What lies beyond
 * is drawn at the edge.
 */
export function wholeView(marks: Marks): View {
  const drifts = [...marks.drift].sort((a, b) => a - b);
  const top = Math.max(LEAST_TOP, roundUp(quantile(drifts, 0.98) * 1.15, 0.05));
  const bottom = Math.min(LEAST_BOTTOM, -roundUp(-quantile(drifts, 0.02) * 1.15, 0.02), -top / 8);
  return { left: 0, right: 1.25, bottom, top };
}

/** Smaller or larger around a place of the view; never larger than a whole. */
export function zoomed(view: View, factor: number, margin: number, drift: number, whole: View): View {
  const part = (low: number, high: number, at: number): [number, number] => [
    at - (at - low) * factor,
    at + (high - at) * factor,
  ];
  const [left, right] = part(view.left, view.right, margin);
  const [bottom, top] = part(view.bottom, view.top, drift);
  return right - left >= whole.right - whole.left
    ? whole
    : right - left < (whole.right - whole.left) / 200
      ? view
      : { left, right, bottom, top };
}

/** The view moved by shares of its size, as far as the whole reaches. */
export function shifted(view: View, across: number, up: number, whole: View): View {
  const within = (by: number, low: number, high: number, least: number, most: number): number =>
    Math.max(least - low, Math.min(most - high, by));
  const x = within(across * (view.right - view.left), view.left, view.right, whole.left, whole.right);
  const y = within(up * (view.top - view.bottom), view.bottom, view.top, whole.bottom, whole.top);
  return { left: view.left + x, right: view.right + x, bottom: view.bottom + y, top: view.top + y };
}

/** Places for figures along the map's lower edge: quarters, as far as there is room for them. */
export function marginTicks(view: View, most: number): number[] {
  const step = [0.01, 0.05, 0.1, 0.25, 0.5].find((s) => (view.right - view.left) / s <= most) ?? 0.5;
  const ticks: number[] = [];
  for (let t = Math.ceil(view.left / step - 1e-9); t * step <= view.right + 1e-9; t++) {
    ticks.push(Number((t * step).toFixed(4)));
  }
  return ticks;
}

/** Where marks stand in a field of px, those with a drift only; what is beyond an edge stands at it. */
export interface Places {
  readonly x: Float32Array;
  readonly y: Float32Array;
  /** 1 where a mark stands at an edge and belongs beyond. */
  readonly beyond: Uint8Array;
}

export function places(marks: Marks, view: View, width: number, height: number, whole: View): Places {
  const n = marks.drift.length;
  const x = new Float32Array(n);
  const y = new Float32Array(n);
  const beyond = new Uint8Array(n);
  const zoomedIn = view !== whole;
  for (let i = 0; i < n; i++) {
    const across = ((marks.margin[i] ?? 0) - view.left) / (view.right - view.left);
    const up = ((marks.drift[i] ?? 0) - view.bottom) / (view.top - view.bottom);
    const outside = across < 0 || across > 1 || up < 0 || up > 1;
    beyond[i] = outside ? 1 : 0;
    // Of a part, what lies elsewhere is not drawn at its edge.
    const hidden = outside && zoomedIn;
    x[i] = hidden ? Number.NaN : Math.min(1, Math.max(0, across)) * width;
    y[i] = hidden ? Number.NaN : (1 - Math.min(1, Math.max(0, up))) * height;
  }
  return { x, y, beyond };
}

/** The mark nearest to a place, within some px; -1 where none is. */
export function nearest(placed: Places, x: number, y: number, within: number): number {
  let best = -1;
  let least = within * within;
  for (let i = 0; i < placed.x.length; i++) {
    const dx = (placed.x[i] ?? Number.NaN) - x;
    const dy = (placed.y[i] ?? Number.NaN) - y;
    const away = dx * dx + dy * dy;
    if (away <= least) {
      least = away;
      best = i;
    }
  }
  return best;
}

/** The next mark in a direction, right and down positive; -1 where there is none. */
export function towards(placed: Places, from: number, right: number, down: number): number {
  const x0 = placed.x[from] ?? Number.NaN;
  const y0 = placed.y[from] ?? Number.NaN;
  let best = -1;
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0; i < placed.x.length; i++) {
    const dx = (placed.x[i] ?? Number.NaN) - x0;
    const dy = (placed.y[i] ?? Number.NaN) - y0;
    const along = dx * right + dy * down;
    const aside = Math.abs(dx * down - dy * right);
    // What lies straight on counts as nearer than what lies aside.
    const away = along + 2 * aside;
    if (i !== from && along > 0.5 && aside <= 2 * along && away < least) {
      least = away;
      best = i;
    }
  }
  return best;
}

/** A rectangle of the map: margin from and to, drift from and to. */
export type Region = readonly [number, number, number, number];

export const within = (marks: Marks, [from, to, low, high]: Region): number[] =>
  marks.drift.flatMap((d, i) => {
    const u = marks.margin[i] ?? Number.NaN;
    return u >= from && u <= to && d >= low && d <= high ? [i] : [];
  });

/** A region as it stands in an address; null for what is none. */
export function readRegion(text: string | null): Region | null {
  const parts = (text ?? '').split(',').map((p) => (p.trim() === '' ? Number.NaN : Number(p)));
  const [from, to, low, high] = parts;
  return parts.length === 4 &&
    from !== undefined &&
    to !== undefined &&
    low !== undefined &&
    high !== undefined &&
    parts.every(Number.isFinite) &&
    from <= to &&
    low <= high
    ? [from, to, low, high]
    : null;
}

export const regionText = (region: Region): string => region.map((v) => Number(v.toFixed(4))).join(',');

/** A name beside its mark. */
export interface Label {
  readonly mark: number;
  readonly x: number;
  readonly y: number;
  readonly side: 'right' | 'left';
}

const LETTER = 7.2;
const LABEL_HIGH = 17;
const BESIDE = 11;

/**
 * Which of some marks can be named without covering another name or leaving the field, the first ones first.
 *
 * @param most names at most
 */
export function labels(
  placed: Places,
  names: readonly string[],
  order: readonly number[],
  field: { readonly width: number; readonly height: number },
  most: number,
): Label[] {
  const taken: { left: number; right: number; top: number; bottom: number }[] = [];
  const all: Label[] = [];
  // A name does not cover a mark that is named, too.
  for (const i of order) {
    const x = placed.x[i] ?? Number.NaN;
    const y = placed.y[i] ?? Number.NaN;
    if (Number.isFinite(x)) {
      taken.push({ left: x - 7, right: x + 7, top: y - 7, bottom: y + 7 });
    }
  }
  for (const i of order) {
    if (all.length >= most) {
      break;
    }
    const x = placed.x[i] ?? Number.NaN;
    const y = placed.y[i] ?? Number.NaN;
    const wide = (names[i] ?? '').length * LETTER;
    for (const side of ['right', 'left'] as const) {
      const left = side === 'right' ? x + BESIDE : x - BESIDE - wide;
      const box = { left, right: left + wide, top: y - LABEL_HIGH / 2, bottom: y + LABEL_HIGH / 2 };
      const free =
        box.left >= 0 &&
        box.right <= field.width &&
        box.top >= -4 &&
        box.bottom <= field.height + 4 &&
        taken.every((t) => box.left >= t.right || box.right <= t.left || box.top >= t.bottom || box.bottom <= t.top);
      if (free) {
        taken.push(box);
        all.push({ mark: i, x: side === 'right' ? x + BESIDE : x - BESIDE, y, side });
        break;
      }
    }
  }
  return all;
}

/** Time to the limit at a pace, years; null where it is not met. */
export const yearsLeft = (margin: number, drift: number): number | null =>
  drift > 0 && margin < 1 ? (1 - margin) / drift : null;
