import { useQuery } from '@tanstack/react-query';
import { useNavigate } from 'react-router';
import { ownRound } from '../api/round';
import { TextLink } from '../app/Frame';
import { BarredMark } from '../register/BarredNotice';
import { desk } from '../state/desk';
import { Button, Notice } from '../ui/controls';

/** An empty bench: what can be put on it. */
export function BenchList() {
  const day = useQuery({ queryKey: ['round', 'own'], queryFn: ownRound });
  const go = useNavigate();
  const open = (day.data?.stops ?? [])
    .flatMap((s) => s.jobs.map((j) => ({ ...j, siteName: s.name })))
    .filter((j) => j.run !== undefined);
  return (
    <main className="max-w-3xl p-8">
      <h1 className="text-2xl font-semibold">Nothing is on the bench</h1>
      <p className="mt-2 text-quiet">
        A run comes here when a job is started.{' '}
        {open.length > 0 ? 'These were begun and are not finished:' : 'Nothing is begun at the moment.'}{' '}
        <TextLink to="/round">To the round</TextLink>
      </p>
      {day.isError ? <Notice>{day.error.message}</Notice> : null}
      <ul className="mt-4">
        {open.map((job) => (
          <li key={job.id} className="flex items-center gap-4 border-b border-rule py-2">
            <span className="flex-1">
              <b className="font-semibold">{job.position}</b> {job.maker} {job.model}, {job.siteName}{' '}
              <BarredMark asset={job.asset} />
            </span>
            <Button
              onClick={() => {
                desk.open(job.run ?? '', true);
                void go(`/bench/${job.run}`);
              }}
            >
              Resume
            </Button>
          </li>
        ))}
      </ul>
    </main>
  );
}
