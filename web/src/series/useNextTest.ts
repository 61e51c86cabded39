import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { Problem } from '../api/http';
import { nextOfSeries } from '../api/series';
import { desk } from '../state/desk';

/** Begins the test of the next device of a series, and goes to the bench with it. */
export function useNextTest(position: string) {
  const go = useNavigate();
  const queries = useQueryClient();
  const atBench = (run: string): void => {
    desk.open(run, true);
    void go(`/bench/${run}`);
  };
  const begin = useMutation({
    mutationFn: (serial: string) =>
      desk.busyWith(null) === null
        ? nextOfSeries(position, serial)
        : Promise.reject(new Error('Another run is armed or live under this page. Stop it, or let it end, first.')),
    onSuccess: ({ run }) => {
      for (const key of ['series', 'running', 'register', 'round']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      atBench(run);
    },
    onError: () => void queries.invalidateQueries({ queryKey: ['series', position] }),
  });
  const fields = begin.error instanceof Problem ? Object.values(begin.error.fields) : [];
  return {
    atBench,
    begin: begin.mutate,
    beginning: begin.isPending,
    trouble: begin.error === null ? null : fields.length > 0 ? fields.join(' ') : begin.error.message,
  };
}
