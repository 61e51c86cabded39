import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useNavigate } from 'react-router';
import { openRun } from '../api/calls';
import { desk } from '../state/desk';
import { randomId } from '../state/wires';
import { Button } from '../ui/controls';
import { Dialog } from '../ui/Dialog';

interface Props {
  job: number;
  /** Where it is, for those who hear the page. */
  position: string;
  /** Its open run; absent for none. */
  run: string | undefined;
  /** What speaks against a start now: it is asked about first. */
  against: readonly string[];
  primary: boolean;
  /** Whether a test of it was begun before and not finished. */
  partly?: boolean;
  /** What went wrong, in words; null when it is tried anew. */
  failed: (words: string | null) => void;
  className?: string;
  autoFocus?: boolean;
}

/** Starts a job at the bench, or goes on with its run: the same wherever a job is shown. */
export function StartButton({ job, position, run, against, primary, partly = false, failed, ...rest }: Props) {
  const go = useNavigate();
  const queries = useQueryClient();
  const [doubt, setDoubt] = useState(false);
  // One key for one intention: a click that is repeated after silence opens one run, not two.
  const key = useRef(randomId());
  const atBench = (id: string): void => {
    desk.open(id, true);
    void go(`/bench/${id}`);
  };
  const start = useMutation({
    mutationFn: () => {
      failed(null);
      const busy = desk.busyWith(run ?? null);
      return busy === null
        ? openRun(job, key.current)
        : Promise.reject(new Error('Another run is armed or live under this page. Stop it, or let it end, first.'));
    },
    onSuccess: (view) => {
      void queries.invalidateQueries({ queryKey: ['running'] });
      atBench(view.id);
    },
    onError: (e) => failed(e.message),
  });
  if (run !== undefined) {
    return (
      <Button weight="primary" onClick={() => atBench(run)} aria-label={`Resume ${position}`} {...rest}>
        Resume
      </Button>
    );
  }
  return (
    <>
      <Button
        weight={primary ? 'primary' : 'plain'}
        disabled={start.isPending}
        onClick={() => (against.length > 0 ? setDoubt(true) : start.mutate())}
        aria-label={`Start ${position}`}
        {...rest}
      >
        {start.isPending ? 'Opening…' : partly ? 'Go on' : 'Start'}
      </Button>
      {doubt ? (
        <Dialog title={`${position} is not ready`} close={() => setDoubt(false)}>
          <ul className="list-disc pl-5">
            {against.map((lack) => (
              <li key={lack}>{lack}</li>
            ))}
          </ul>
          <p className="mt-3 text-quiet">
            What lacks is not part of the record. Settle it first, or say in a note at the bench why it was done all the
            same.
          </p>
          <p className="mt-5 flex justify-end gap-3">
            <Button
              onClick={() => {
                setDoubt(false);
                start.mutate();
              }}
              data-start-anyway
            >
              Start all the same
            </Button>
            <Button weight="primary" autoFocus onClick={() => setDoubt(false)}>
              Leave it
            </Button>
          </p>
        </Dialog>
      ) : null}
    </>
  );
}

/** What speaks against starting a job on a day: what it lacks, and a window that is not open yet. */
export const againstStart = (
  job: { lacks: readonly string[]; opens: string; due: string },
  today: string,
  day: (d: string) => string,
): string[] =>
  job.opens > today
    ? [...job.lacks, `its window opens on ${day(job.opens)}: a test today would not count for ${day(job.due)}`]
    : [...job.lacks];
