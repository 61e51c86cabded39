import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { planJobs } from '../api/plan';
import type { PlanJob } from '../api/types';
import { usePlanNews } from '../app/news';
import { useSession } from '../app/session';
import { works } from '../state/roles';
import { plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { againstStart, StartButton } from './StartButton';
import { TestNowDialog } from './TestNowDialog';

interface Props {
  asset: string;
  /** Whether it stands somewhere and may be tested. */
  installed: boolean;
  zone: string;
}

/** The jobs that are laid for a device, each with its start; and a test now, for a reason. */
export function DeviceJobs({ asset, installed, zone }: Props) {
  const person = useSession();
  const [asking, setAsking] = useState(false);
  usePlanNews();
  const jobs = useQuery({
    queryKey: ['plan', 'of', asset],
    queryFn: () => planJobs({ asset, when: 'all' }),
    refetchOnMount: 'always',
  });
  const may = works(person);
  const today = new Date().toLocaleDateString('sv', { timeZone: zone });
  const list = jobs.data?.jobs ?? [];
  const first = list.find((j) => j.run !== undefined) ?? list.find((j) => j.lacks.length === 0 && j.opens <= today);
  return (
    <section className="mt-4" aria-label="Jobs of this device">
      <div className="flex min-h-11 items-center justify-between border-b border-rule">
        <h2 className="font-semibold">
          {jobs.data === undefined || list.length > 0 ? 'Jobs of this device' : 'No job is laid for it'}
        </h2>
        {may && installed ? (
          <Button weight="quiet" className="px-1!" onClick={() => setAsking(true)} data-test-now>
            Test it now…
          </Button>
        ) : null}
      </div>
      {jobs.isError ? (
        <Notice action={<Button onClick={() => void jobs.refetch()}>Try again</Button>}>{jobs.error.message}</Notice>
      ) : null}
      {jobs.isPending ? <p className="py-2 text-quiet">Fetching its jobs…</p> : null}
      <ul>
        {list.map((job) => (
          <Job key={job.id} job={job} today={today} may={may} primary={job === first} />
        ))}
      </ul>
      {asking ? <TestNowDialog asset={asset} zone={zone} close={() => setAsking(false)} /> : null}
    </section>
  );
}

function when(job: PlanJob): string {
  switch (job.state) {
    case 'overdue':
      return `${plural(job.overdue, 'day')} over, due ${shortDay(job.due)}`;
    case 'deferred':
      return `deferred to ${shortDay(job.deferredTo ?? job.due)}`;
    case 'cannot':
      return `cannot be done: ${job.why ?? job.cannot ?? ''}`;
    default:
      return `due ${shortDay(job.due)}`;
  }
}

function Job({ job, today, may, primary }: { job: PlanJob; today: string; may: boolean; primary: boolean }) {
  const [wrong, setWrong] = useState<string | null>(null);
  return (
    <li className="border-b border-rule py-1.5" data-device-job={job.procedure}>
      <div className="grid grid-cols-[minmax(0,1fr)_104px] items-center gap-3">
        <div className="min-w-0">
          <p className="leading-snug font-semibold">{job.title}</p>
          <p className="font-condensed text-[15px] leading-snug text-quiet">
            <span className={job.state === 'overdue' ? 'font-semibold text-ink' : ''}>{when(job)}</span>, {job.reason};
            window {shortDay(job.opens)} to {shortDay(job.closes)}
            {job.plannedFor === undefined
              ? '; on nobody’s day'
              : `; ${job.personName ?? 'nobody yet'}, ${shortDay(job.plannedFor)}`}
          </p>
          {job.lacks.length > 0 ? (
            <p className="font-condensed text-[15px] leading-snug">Not ready: {job.lacks.join('; ')}</p>
          ) : null}
        </div>
        {may ? (
          <StartButton
            job={job.id}
            position={job.position}
            run={job.run}
            against={againstStart(job, today, shortDay)}
            primary={primary}
            failed={setWrong}
            className="w-full px-2"
            autoFocus={primary}
          />
        ) : null}
      </div>
      {wrong !== null ? (
        <div className="mt-2">
          <Notice>
            {job.position} was not started. {wrong}
          </Notice>
        </div>
      ) : null}
    </li>
  );
}
