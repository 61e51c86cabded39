import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import { Problem } from '../api/http';
import { keepSeries, series } from '../api/series';
import type { TestSeries } from '../api/types';
import { editOf, inPattern, type SeriesEdit } from './form';

/** Typing rests for so long before it is kept, ms. */
const REST_MS = 500;

interface Keeping {
  readonly edit: SeriesEdit;
  readonly state: 'kept' | 'keeping' | 'wrong';
  /** What is wrong, by field. */
  readonly wrong: Readonly<Record<string, string>>;
  /** What is wrong with none of the fields; null where nothing is. */
  readonly trouble: string | null;
  change(edit: SeriesEdit): void;
  /** Shows what is kept in place of what was typed. */
  again(): void;
}

/**
 * What is changed of a series is kept by itself, as soon as typing rests and when the page is left. What cannot be kept
 * stays as it was typed, with what is wrong with it.
 */
export function useKeeping(view: TestSeries): Keeping {
  const queries = useQueryClient();
  const [typed, setTyped] = useState<SeriesEdit | null>(null);
  const latest = useRef<{ typed: SeriesEdit | null; seen: number }>({ typed: null, seen: view.version });
  const key = ['series', view.position];
  const keep = useMutation({
    mutationFn: (edit: SeriesEdit) =>
      keepSeries(view.position, { ...edit, fields: inPattern(edit), seen: view.version }),
    onSuccess: (after, edit) => {
      queries.setQueryData(key, after);
      setTyped((now) => (now === edit ? null : now));
    },
  });
  const { mutate, isPending, variables, error } = keep;
  const refused = error !== null && variables === typed;
  useEffect(() => {
    latest.current = { typed: refused ? null : typed, seen: view.version };
    if (typed === null || isPending || refused || typed.procedure === '') {
      return undefined;
    }
    const timer = setTimeout(() => mutate(typed), REST_MS);
    return () => clearTimeout(timer);
  }, [typed, isPending, refused, mutate, view.version]);
  // Whoever leaves in the middle of typing finds it kept all the same.
  const { position } = view;
  useEffect(
    () => () => {
      const { typed: left, seen } = latest.current;
      if (left !== null && left.procedure !== '') {
        void keepSeries(position, { ...left, fields: inPattern(left), seen }).then(
          (after) => queries.setQueryData(['series', position], after),
          () => undefined,
        );
      }
    },
    [position, queries],
  );
  const fields = refused && error instanceof Problem ? error.fields : {};
  return {
    edit: typed ?? editOf(view),
    state: refused ? 'wrong' : typed === null ? 'kept' : 'keeping',
    wrong: fields,
    trouble: refused && Object.keys(fields).length === 0 ? error.message : null,
    change: setTyped,
    again: () => {
      keep.reset();
      setTyped(null);
      void queries.fetchQuery({ queryKey: key, queryFn: () => series(view.position), staleTime: 0 });
    },
  };
}
