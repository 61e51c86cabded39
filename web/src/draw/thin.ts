/**
 * A long line as it looks at so many px: of the samples of each column its least and its greatest, in their order, so
 * that nothing that stands out is lost.
 * @param x ascending
 * @param from first x that is seen
 * @param to last x that is seen
 * @param columns px of width
 */
export function thinned(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  from: number,
  to: number,
  columns: number,
): { x: number[]; y: number[] } {
  const first = Math.max(0, lower(x, from) - 1);
  const last = Math.min(x.length - 1, lower(x, to) + 1);
  const out: { x: number[]; y: number[] } = { x: [], y: [] };
  const put = (i: number): void => {
    out.x.push(x[i] ?? 0);
    out.y.push(y[i] ?? 0);
  };
  if (last - first <= 4 * columns) {
    for (let i = first; i <= last; i++) {
      put(i);
    }
    return out;
  }
  for (let c = 0; c < columns; c++) {
    const begin = first + Math.floor(((last - first) * c) / columns);
    const end = first + Math.floor(((last - first) * (c + 1)) / columns);
    let low = begin;
    let high = begin;
    for (let i = begin; i < end; i++) {
      low = (y[i] ?? 0) < (y[low] ?? 0) ? i : low;
      high = (y[i] ?? 0) > (y[high] ?? 0) ? i : high;
    }
    put(Math.min(low, high));
    if (low !== high) {
      put(Math.max(low, high));
    }
  }
  put(last);
  return out;
}

/** Index of the first value that is not less; the length where all are. */
export function lower(x: ArrayLike<number>, value: number): number {
  let low = 0;
  let high = x.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((x[middle] ?? 0) < value) {
      low = middle + 1;
    } else {
      high = middle;
    }
  }
  return low;
}

/** A straight line through samples from one x to another by least squares; null where there are fewer than three. */
export function fitted(
  x: ArrayLike<number>,
  y: ArrayLike<number>,
  from: number,
  to: number,
): { at: (where: number) => number; slope: number } | null {
  const first = lower(x, from);
  const last = lower(x, to);
  const n = last - first;
  if (n < 3) {
    return null;
  }
  let sx = 0;
  let sy = 0;
  for (let i = first; i < last; i++) {
    sx += x[i] ?? 0;
    sy += y[i] ?? 0;
  }
  const mx = sx / n;
  const my = sy / n;
  let sxx = 0;
  let sxy = 0;
  for (let i = first; i < last; i++) {
    const dx = (x[i] ?? 0) - mx;
    sxx += dx * dx;
    sxy += dx * ((y[i] ?? 0) - my);
  }
  const slope = sxx === 0 ? 0 : sxy / sxx;
  return { at: (where) => my + slope * (where - mx), slope };
}
