import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useSearchParams } from 'react-router';
import { load, planJobs, type Which } from '../api/plan';
import type { Load } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { numbered, plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { JobLines } from './JobLines';
import { LoadGrid, type Chosen } from './LoadGrid';
import { PlanNav } from './PlanNav';

/** The plan of the next weeks: what is over in front, load against capacity, and the jobs behind whatever is chosen. */
export function PlanPage() {
  usePlace('Plan', <b className="font-semibold">Plan</b>, 'plan');
  usePlanNews();
  const [params, setParams] = useSearchParams();
  const weeks = useQuery({ queryKey: ['plan', 'load'], queryFn: load });
  if (weeks.isPending) {
    return <p className="p-8 text-quiet">Adding up the weeks…</p>;
  }
  if (weeks.data === undefined) {
    return (
      <div className="p-8">
        <Notice action={<Button onClick={() => void weeks.refetch()}>Try again</Button>}>
          The plan cannot be shown. {weeks.error.message}
        </Notice>
      </div>
    );
  }
  const over = weeks.data.sites.reduce((sum, s) => sum + s.over, 0);
  const chosen: Chosen = {
    row: params.get('row') ?? '',
    when: params.get('when') ?? (over > 0 ? 'over' : weeks.data.first),
  };
  const choose = (next: Chosen): void =>
    setParams({ ...(next.row === '' ? {} : { row: next.row }), when: next.when }, { replace: true });
  return (
    <main className="px-5 pb-8">
      <PlanNav />
      <header className="my-4 flex flex-wrap items-baseline gap-x-5">
        <h1 className="text-[21px] font-semibold">
          {over === 0
            ? 'Nothing is over its window'
            : `${numbered(over, 'job')} over ${over === 1 ? 'its' : 'their'} window`}
        </h1>
        <p className="font-condensed text-[16px] text-quiet">
          {over > 0 ? `The oldest by ${plural(Math.max(...weeks.data.sites.map((s) => s.overMost)), 'day')}. ` : ''}
          {weeks.data.weeks} weeks from {shortDay(weeks.data.first)}; bars are work against the time there is, figures
          are jobs.
        </p>
      </header>
      <LoadGrid load={weeks.data} chosen={chosen} choose={choose} />
      <Jobs load={weeks.data} chosen={chosen} choose={choose} over={over} />
    </main>
  );
}

function words(load: Load, chosen: Chosen): string {
  const row = [...load.people, ...load.sites].find((r) => `${r.kind}:${r.key}` === chosen.row);
  const who = row === undefined ? '' : row.key === '' ? ', on nobody’s day' : `, ${row.name}`;
  switch (chosen.when) {
    case 'over':
      return `Over their window${who}`;
    case 'cannot':
      return `Cannot be done as things are${who}`;
    case 'deferred':
      return `Deferred${who}`;
    case 'all':
      return `All that is open${who}`;
    default:
      return `Week of ${shortDay(chosen.when)}${who}`;
  }
}

function which(chosen: Chosen): Which {
  const at = chosen.row.indexOf(':');
  const key = chosen.row.slice(at + 1);
  return {
    when: chosen.when,
    ...(chosen.row.startsWith('person:') ? { person: key } : chosen.row.startsWith('site:') ? { site: key } : {}),
  };
}

function Jobs({
  load,
  chosen,
  choose,
  over,
}: {
  load: Load;
  chosen: Chosen;
  choose: (next: Chosen) => void;
  over: number;
}) {
  const jobs = useInfiniteQuery({
    queryKey: ['plan', 'jobs', chosen.row, chosen.when],
    queryFn: ({ pageParam }) => planJobs(which(chosen), pageParam === '' ? undefined : pageParam),
    initialPageParam: '',
    getNextPageParam: (page) => page.next,
  });
  const all = jobs.data?.pages[0]?.all;
  return (
    <section className="mt-6" aria-label="Jobs">
      <div className="flex flex-wrap items-center gap-x-4 border-b border-ink">
        <h2 className="flex-1 font-semibold whitespace-nowrap">
          {words(load, chosen)}
          {all === undefined ? '' : <span className="font-normal text-quiet">, {plural(all, 'job')}</span>}
        </h2>
        {(
          [
            ['over', `Over ${over}`],
            [load.first, 'This week'],
            ['cannot', `Cannot be done ${load.cannot}`],
            ['deferred', 'Deferred'],
            ['all', 'All'],
          ] as const
        ).map(([when, word]) => (
          <button
            key={when}
            type="button"
            aria-pressed={chosen.row === '' && chosen.when === when}
            onClick={() => choose({ row: '', when })}
            className={`min-h-11 border-b-[3px] font-condensed text-[15px] ${chosen.row === '' && chosen.when === when ? 'border-lake font-semibold text-lake' : 'border-transparent text-quiet'}`}
          >
            {word}
          </button>
        ))}
      </div>
      {jobs.isError ? (
        <Notice action={<Button onClick={() => void jobs.refetch()}>Try again</Button>}>{jobs.error.message}</Notice>
      ) : null}
      {jobs.isPending ? <p className="py-4 text-quiet">Fetching the jobs…</p> : null}
      {jobs.data !== undefined && all === 0 ? (
        <p className="py-4 text-quiet">
          {chosen.when === 'over'
            ? 'Nothing here is over its window.'
            : 'Nothing here. Choose another week, person or site above.'}
        </p>
      ) : null}
      <JobLines
        jobs={jobs.data?.pages.flatMap((p) => p.jobs) ?? []}
        today={load.today}
        first={load.first}
        weeks={load.weeks}
      />
      {jobs.hasNextPage ? (
        <Button className="mt-3" disabled={jobs.isFetchingNextPage} onClick={() => void jobs.fetchNextPage()}>
          Show more
        </Button>
      ) : null}
      {(jobs.data?.pages[0]?.jobs.length ?? 0) > 0 ? (
        <p className="mt-3 font-condensed text-[14px] text-quiet">
          The band is the window, the line in it the due date, the peg the day: filled once planned. Drag it, or go to
          it with the tab key and use the arrows (a day left or right, a week up or down), then Enter.
        </p>
      ) : null}
    </section>
  );
}
