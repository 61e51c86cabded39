import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { putBack } from '../api/round';
import type { Round } from '../api/types';
import { numbered, shortDay } from '../state/words';
import { Suggest } from '../ui/Suggest';
import { Button, Notice } from '../ui/controls';

const WHYS = ['ran out of time', 'no access', 'gear failed', 'device in use', 'weather'];

/** What an earlier day left undone: each goes back with its reason. */
export function LeftOver({ day }: { day: Round }) {
  if (day.leftOver.length === 0) {
    return null;
  }
  return (
    <section aria-label="Left over" className="mt-3 border-l-4 border-ink bg-sheet px-4 py-2">
      <h2 className="font-semibold">
        {numbered(day.leftOver.length, 'job')} of an earlier day {day.leftOver.length === 1 ? 'was' : 'were'} not done:
        say why, and {day.leftOver.length === 1 ? 'it goes' : 'they go'} back
      </h2>
      <ul>
        {day.leftOver.map((job) => (
          <One key={job.job} job={job} />
        ))}
      </ul>
    </section>
  );
}

function One({ job }: { job: Round['leftOver'][number] }) {
  const queries = useQueryClient();
  const [why, setWhy] = useState(WHYS[0] ?? '');
  const back = useMutation({
    mutationFn: () => putBack(job.job, why),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: ['round'] });
      void queries.invalidateQueries({ queryKey: ['plan'] });
    },
  });
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
      <span className="min-w-0 flex-1">
        <b className="font-semibold">{job.position}</b>{' '}
        <span className="font-condensed text-quiet">
          {job.title}, due {shortDay(job.due)}
        </span>
      </span>
      <Suggest
        aria-label={`Why ${job.position} was not done`}
        value={why}
        choices={WHYS}
        onChange={setWhy}
        className="w-56"
      />
      <Button disabled={back.isPending} onClick={() => back.mutate()} aria-label={`Put back ${job.position}`}>
        Put back
      </Button>
      {back.isError ? <Notice>{back.error.message}</Notice> : null}
    </li>
  );
}
