import type { SeriesField, TestSeries } from '../api/types';

/** How a series goes on, as it is being changed. */
export interface SeriesEdit {
  readonly procedure: string;
  readonly pattern: string;
  readonly fields: readonly SeriesField[];
}

const NAME = /\{([^{}]*)\}/g;

/** Names of the fields in a pattern, each once, in their order. */
export const namesIn = (pattern: string): string[] => [
  ...new Set([...pattern.matchAll(NAME)].map((m) => m[1] ?? '').filter((name) => name !== '')),
];

/**
 * The same with another pattern. Fields that are in it no more are kept aside, so that one that is taken out and
 * written again is what it was; new ones are empty.
 */
export function withPattern(edit: SeriesEdit, pattern: string): SeriesEdit {
  const fresh = namesIn(pattern).filter((name) => edit.fields.every((f) => f.name !== name));
  return { ...edit, pattern, fields: [...edit.fields, ...fresh.map((name) => ({ name, value: '', runs: false }))] };
}

/** The fields that are in its pattern, in its order. */
export const inPattern = (edit: SeriesEdit): SeriesField[] =>
  namesIn(edit.pattern).flatMap((name) => edit.fields.filter((f) => f.name === name));

/** The same with one field changed; what is left empty of first and last is none. */
export function withField(edit: SeriesEdit, name: string, change: Partial<SeriesField>): SeriesEdit {
  return {
    ...edit,
    fields: edit.fields.map((f) => {
      if (f.name !== name) {
        return f;
      }
      const { first, last, ...rest } = { ...f, ...change };
      return {
        ...rest,
        ...(rest.runs && first !== undefined && first !== '' ? { first } : {}),
        ...(rest.runs && last !== undefined && last !== '' ? { last } : {}),
      };
    }),
  };
}

export const editOf = (view: TestSeries): SeriesEdit => ({
  procedure: view.procedure ?? '',
  pattern: view.pattern,
  fields: view.fields,
});
