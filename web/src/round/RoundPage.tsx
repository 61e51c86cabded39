import { useMutation, useQuery } from '@tanstack/react-query';
import { useRef } from 'react';
import { useNavigate } from 'react-router';
import { openRun, round } from '../api/calls';
import type { Round, StopJob } from '../api/types';
import { BarredMark } from '../register/BarredNotice';
import { desk } from '../state/desk';
import { randomId } from '../state/wires';
import { dayWithYear, numbered, plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { LimitStrip } from '../ui/LimitStrip';
import { Mark } from '../ui/Mark';

/** The day as a line of stops, with what is to be taken along beside it. */
export function RoundPage() {
  const day = useQuery({ queryKey: ['round'], queryFn: round, refetchInterval: 15_000, refetchOnMount: 'always' });
  if (day.isPending) {
    return <p className="p-8 text-quiet">Looking what is due…</p>;
  }
  if (day.isError && day.data === undefined) {
    return (
      <div className="p-8">
        <Notice action={<Button onClick={() => void day.refetch()}>Try again</Button>}>The round cannot be shown. {day.error.message}</Notice>
      </div>
    );
  }
  return (
    <main className="grid min-h-full grid-cols-[minmax(0,1fr)_300px] max-[1000px]:grid-cols-1">
      <section className="px-5 py-4" aria-label="Stops">
        <Heading day={day.data} />
        <ol className="relative mt-3">
          {day.data.stops.map((stop, i) => (
            <Stop key={stop.site} stop={stop} first={i === 0} last={i === day.data.stops.length - 1} />
          ))}
        </ol>
        {day.data.stops.length === 0 ? <EmptyDay day={day.data} /> : null}
      </section>
      <Loadout day={day.data} />
    </main>
  );
}

function Heading({ day }: { day: Round }) {
  const jobs = day.stops.flatMap((s) => s.jobs);
  const over = jobs.filter((j) => j.overdue > 0);
  const longest = Math.max(0, ...over.map((j) => j.overdue));
  const minutes = jobs.reduce((sum, j) => sum + j.minutes, 0);
  const work = `${Math.floor(minutes / 60)} h ${String(Math.round(minutes % 60)).padStart(2, '0')} of work`;
  return (
    <header className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
      <h1 className="text-[21px] font-semibold">
        {numbered(jobs.length, 'job')} at {numbered(day.stops.length, 'stop').toLowerCase()}
      </h1>
      {jobs.length > 0 ? (
        <p className="font-condensed text-[16px] text-quiet">
          {work}, without travel. {over.length === 0 ? 'Nothing is over its date.' : over.length === 1 ? `One is ${plural(longest, 'day')} over.` : `${numbered(over.length, 'job')} over their date, by up to ${plural(longest, 'day')}.`}
        </p>
      ) : null}
    </header>
  );
}

function EmptyDay({ day }: { day: Round }) {
  return (
    <div className="max-w-prose">
      <p>Nothing is due within a week. {day.later.length > 0 ? 'Next along the line:' : 'No job is planned either; jobs are laid as plans fall due.'}</p>
      <ul className="mt-2">
        {day.later.map((job) => (
          <li key={job.job}>
            <b className="font-semibold">{job.position}</b>, {job.siteName}, due {shortDay(job.due)}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Verdict, job, strip, minutes, button: on a tablet without the minutes, on less without the strip. */
const COLUMNS =
  'gap-3 grid-cols-[20px_minmax(170px,1fr)_minmax(120px,280px)_64px_104px] max-[1000px]:grid-cols-[20px_minmax(210px,1fr)_minmax(110px,190px)_104px] max-[700px]:grid-cols-[20px_minmax(0,1fr)_104px]';

function Stop({ stop, first, last }: { stop: Round['stops'][number]; first: boolean; last: boolean }) {
  return (
    <li className="grid grid-cols-[84px_26px_minmax(0,1fr)]">
      <div className="pt-2 text-right leading-tight">
        <span className="font-mono text-[14px] font-medium">{stop.km.toFixed(1)}&#8198;km</span>
        <br />
        <span className="font-condensed text-[13px] text-quiet">{stop.altitude}&#8198;m</span>
      </div>
      <div className="relative" aria-hidden="true">
        <span className="absolute left-1/2 w-[2px] -translate-x-1/2 bg-ink" style={{ top: first ? 12 : 0, bottom: last ? 'calc(100% - 18px)' : 0 }} />
        <span className="absolute top-[12px] left-1/2 h-3 w-3 -translate-x-1/2 rounded-full border-2 border-ink bg-sheet" />
      </div>
      <div className="pb-5">
        <div className={`grid items-baseline border-b border-rule py-1.5 ${COLUMNS}`}>
          <h2 className="col-span-2 font-semibold">{stop.name}</h2>
          {first ? <p className="truncate font-condensed text-[13px] text-quiet max-[700px]:hidden">nearest to its limit, last time</p> : null}
        </div>
        <ul>
          {stop.jobs.map((job) => (
            <Job key={job.id} job={job} />
          ))}
        </ul>
      </div>
    </li>
  );
}

function due(job: StopJob): string {
  if (job.overdue > 0) {
    return `${plural(job.overdue, 'day')} over, due ${shortDay(job.due)}`;
  }
  return job.overdue === 0 ? 'Due today' : `Due ${shortDay(job.due)}`;
}

function Job({ job }: { job: StopJob }) {
  const go = useNavigate();
  // One key for one intention: a click that is repeated after silence opens one run, not two.
  const key = useRef(randomId());
  const start = useMutation({
    mutationFn: () => {
      const busy = desk.busyWith(job.run ?? null);
      return busy === null ? openRun(job.id, key.current) : Promise.reject(new Error('Another run is armed or live under this page. Stop it, or let it end, first.'));
    },
    onSuccess: (view) => {
      desk.open(view.id, true);
      void go(`/bench/${view.id}`);
    },
  });
  const resume = (run: string): void => {
    desk.open(run, true);
    void go(`/bench/${run}`);
  };
  const { last } = job;
  const nearest = last?.nearest;
  return (
    <li className="border-b border-rule py-1.5 last:border-b-0">
      <div className={`grid min-h-11 items-center ${COLUMNS}`}>
        <Mark standing={last?.verdict ?? 'todo'} size={15} />
        <div className="min-w-0">
          <p className="truncate font-semibold">
            {job.position} <span className="font-normal">{job.maker} {job.model}</span>
          </p>
          <p className="truncate font-condensed text-[14px] text-quiet">
            <span className={job.overdue > 0 ? 'font-semibold text-ink' : ''}>{due(job)}</span>, {job.reason}
            {last === undefined ? ', never tested here' : ''}
          </p>
          <p className="empty:hidden">
            <BarredMark asset={job.asset} />
          </p>
        </div>
        <div className="min-w-0 max-[700px]:hidden">
          {nearest?.strip ? (
            <>
              <p className="flex items-baseline justify-between gap-2 font-condensed text-[13px] leading-tight text-quiet">
                <span className="truncate">{nearest.label}</span>
                <span className="whitespace-nowrap">
                  <b className="font-mono text-[14px] font-semibold text-ink">{nearest.counting?.figure}</b> {nearest.unit}
                </span>
              </p>
              <LimitStrip strip={nearest.strip} standing={nearest.verdict} />
            </>
          ) : (
            <p className="font-condensed text-[13px] text-quiet">{last === undefined ? 'No reading yet: the first one becomes the baseline' : 'No reading with a margin last time'}</p>
          )}
        </div>
        <p className="text-right font-condensed text-[15px] whitespace-nowrap text-quiet max-[1000px]:hidden">{Math.round(job.minutes)}&#8198;min</p>
        {job.run !== undefined ? (
          <Button weight="primary" className="w-full px-2" onClick={() => resume(job.run ?? '')} aria-label={`Resume ${job.position}`}>
            Resume
          </Button>
        ) : (
          <Button className="w-full px-2" disabled={start.isPending} onClick={() => start.mutate()} aria-label={`Start ${job.position}`}>
            {start.isPending ? 'Opening…' : job.status === 'partly done' ? 'Go on' : 'Start'}
          </Button>
        )}
      </div>
      {start.isError ? (
        <div className="mt-2">
          <Notice>{job.position} was not started. {start.error.message}</Notice>
        </div>
      ) : null}
    </li>
  );
}

const ROLES: Record<string, string> = { 'insulation-tester': 'Insulation tester', 'micro-ohmmeter': 'Micro-ohmmeter', 'current-source': 'Injection set' };

function Loadout({ day }: { day: Round }) {
  return (
    <aside className="border-l border-rule px-5 py-4 max-[1000px]:border-t max-[1000px]:border-l-0" aria-label="Loadout">
      <h2 className="text-[14px] font-semibold text-quiet">Loadout</h2>
      <p className="font-condensed text-[14px] text-quiet">What the procedures of this round need.</p>
      <ul className="mt-2">
        {day.loadout.map((gear) => (
          <li key={gear.role} className="border-b border-rule py-2.5">
            <p className="font-semibold">{gear.name ?? ROLES[gear.role] ?? gear.role}</p>
            <p className="font-condensed text-[14px]">
              {gear.name === undefined ? <span className="expired">None in the stores</span> : gear.calibratedTo === undefined ? <span className="expired">never calibrated</span> : gear.holds ? <span className="text-quiet">calibrated to {dayWithYear(gear.calibratedTo)}</span> : <span className="expired">calibration ended {dayWithYear(gear.calibratedTo)}</span>}
            </p>
            <p className="font-condensed text-[14px] text-quiet">{gear.needs}</p>
          </li>
        ))}
      </ul>
      {day.later.length > 0 && day.stops.length > 0 ? (
        <>
          <h2 className="mt-6 text-[14px] font-semibold text-quiet">Due after this week</h2>
          <ul className="mt-1">
            {day.later.map((job) => (
              <li key={job.job} className="flex justify-between gap-3 border-b border-rule py-2 font-condensed">
                <span>
                  <b className="font-semibold">{job.position}</b> {job.siteName}
                </span>
                <span className="whitespace-nowrap text-quiet">{shortDay(job.due)}</span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </aside>
  );
}
