import type { PlateField } from '../api/types';
import { withUnit } from '../state/words';

/** A key that a label suggests: "Rated current In" gives ratedCurrentIn. */
export function keyOf(label: string): string {
  const words = label
    .normalize('NFD')
    .replace(/[^A-Za-z0-9 ]/g, '')
    .trim()
    .split(/\s+/);
  return words
    .map((w, i) => (i === 0 ? w.charAt(0).toLowerCase() : w.charAt(0).toUpperCase()) + w.slice(1))
    .join('')
    .slice(0, 40);
}

/** A plate value as it reads: a number with its usual unit, or with the one that was typed behind it. */
export function plateText(typed: string, kind: PlateField['kind'], symbol: string): string {
  if (typed === '' || kind !== 'number') {
    return typed;
  }
  const [, number = typed, unit = ''] = /^(\S+) (.+)$/.exec(typed) ?? [];
  return withUnit(number, unit === '' ? symbol : unit);
}

/** What a number may be, for the one who types it. */
export function rangeText(field: Pick<PlateField, 'min' | 'max'>): string {
  const { min, max } = field;
  return min === undefined && max === undefined
    ? ''
    : max === undefined
      ? `at least ${min}`
      : min === undefined
        ? `at most ${max}`
        : `${min} to ${max}`;
}
