import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Link } from 'react-router';
import { fixJob, setDay } from '../api/round';
import type { PlanJob } from '../api/types';
import { useMoved } from '../app/moved';
import { addDays, daysBetween, nearestInside, outside } from '../state/plan';
import { plural, shortDay } from '../state/words';
import { DotsMenu, MenuItem } from '../ui/Menu';
import { DecideDialog, type Decide } from './DecideDialog';

interface Props {
  jobs: PlanJob[];
  today: string;
  /** Monday of the first week. */
  first: string;
  weeks: number;
}

/** Jobs with their windows on the columns of the weeks: the peg is the day, and moves within the window. */
export function JobLines({ jobs, today, first, weeks }: Props) {
  const [asked, setAsked] = useState<{ job: PlanJob; what: Decide } | null>(null);
  return (
    <>
      <ul>
        {jobs.map((job) => (
          <Line
            key={job.id}
            job={job}
            today={today}
            first={first}
            days={weeks * 7}
            ask={(what) => setAsked({ job, what })}
          />
        ))}
      </ul>
      {asked !== null ? (
        <DecideDialog job={asked.job} what={asked.what} today={today} close={() => setAsked(null)} />
      ) : null}
    </>
  );
}

function stateWords(job: PlanJob, today: string): string {
  switch (job.state) {
    case 'overdue':
      return `${plural(job.overdue, 'day')} over, due ${shortDay(job.due)}`;
    case 'deferred':
      return `deferred to ${shortDay(job.deferredTo ?? job.due)}: ${job.why ?? ''}`;
    case 'cannot':
      return `cannot be done, ${job.why ?? job.cannot ?? ''}`;
    default:
      return job.due === today ? 'due today' : `due ${shortDay(job.due)}`;
  }
}

function refusal(job: PlanJob, to: string, today: string): string | null {
  switch (outside(job, to, today)) {
    case 'past':
      return `${shortDay(to)} is past.`;
    case 'before':
      return `${shortDay(to)} is before its window, which opens on ${shortDay(job.opens)}: a test then would not count for ${shortDay(job.due)}.`;
    case 'after':
      return `${shortDay(to)} is after its window, which closes on ${shortDay(job.closes)}: it would be late. Drop it inside, or defer it with a reason.`;
    default:
      return null;
  }
}

function Line({
  job,
  today,
  first,
  days,
  ask,
}: {
  job: PlanJob;
  today: string;
  first: string;
  days: number;
  ask: (what: Decide) => void;
}) {
  const queries = useQueryClient();
  const moved = useMoved();
  const track = useRef<HTMLDivElement>(null);
  const planned = job.plannedFor !== undefined && job.plannedFor >= today ? job.plannedFor : undefined;
  const rest =
    planned ??
    (job.state === 'deferred' && job.deferredTo !== undefined ? job.deferredTo : job.due < today ? today : job.due);
  const [held, setHeld] = useState<string | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const move = useMutation({
    mutationFn: (day: string) =>
      setDay(job.id, {
        day,
        ...(job.person === undefined ? {} : { person: job.person }),
        ...(job.plannedFor === undefined ? {} : { wasDay: job.plannedFor }),
        ...(job.person === undefined ? {} : { wasPerson: job.person }),
      }),
    onSuccess: moved,
    onError: (e) => setTold(e.message),
  });
  const fix = useMutation({
    mutationFn: (fixed: boolean) => fixJob(job.id, fixed),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['plan'] }),
    onError: (e) => setTold(e.message),
  });
  const day = held ?? (move.isPending ? move.variables : rest);
  const left = (d: string, end = 0): number => Math.min(100, Math.max(0, ((daysBetween(first, d) + end) / days) * 100));
  const now = held === null ? null : refusal(job, held, today);
  const still = job.running || job.state === 'cannot';
  const drop = (to: string | null): void => {
    setHeld(null);
    if (to === null || to === rest) {
      return;
    }
    const why = refusal(job, to, today);
    setTold(why === null ? null : `${why} It stays where it was.`);
    if (why === null) {
      move.mutate(to);
    }
  };
  const dayAt = (e: PointerEvent): string => {
    const box = track.current?.getBoundingClientRect();
    return box === undefined
      ? rest
      : addDays(first, Math.min(days - 1, Math.max(0, Math.floor(((e.clientX - box.left) / box.width) * days))));
  };
  const key = (e: KeyboardEvent): void => {
    const step = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7, PageUp: -7, PageDown: 7 }[e.key];
    if (step !== undefined) {
      e.preventDefault();
      setTold(null);
      setHeld(addDays(held ?? rest, step));
    } else if (e.key === 'Home' || e.key === 'End') {
      e.preventDefault();
      setHeld(nearestInside(job, e.key === 'Home' ? '0000-01-01' : '9999-01-01', today));
    } else if (e.key === 'Enter' && held !== null) {
      e.preventDefault();
      drop(held);
    } else if (e.key === 'Escape' && held !== null) {
      e.preventDefault();
      e.stopPropagation();
      setHeld(null);
    }
  };
  return (
    <li className="border-b border-rule py-1" data-plan-job={job.position} data-state={job.state}>
      <div className="flex items-center">
        <div className="w-[248px] shrink-0 pr-3 max-[1000px]:w-[172px]">
          <p className="truncate leading-snug font-semibold">
            <Link to={`/register/position/${job.position}`} className="underline-offset-4 hover:underline">
              {job.position}
            </Link>{' '}
            <span className="font-condensed text-[14px] font-normal text-quiet">
              {job.personName ?? ''}
              {planned !== undefined && job.personName !== undefined && !job.fixed ? ', may move' : ''}
            </span>
          </p>
          <p
            className="truncate font-condensed text-[14px] leading-snug text-quiet"
            data-hint={`${job.title}, ${job.reason}, ${stateWords(job, today)}`}
          >
            <span className={job.state === 'overdue' ? 'font-semibold text-ink' : ''}>{stateWords(job, today)}</span>,{' '}
            {job.title.toLowerCase()}
          </p>
        </div>
        <div ref={track} className="relative h-11 min-w-0 flex-1" data-track>
          <span className="absolute top-[21px] right-0 left-0 h-px bg-rule" aria-hidden="true" />
          {job.closes < first ? (
            <svg
              viewBox="0 0 8 12"
              width={8}
              height={12}
              className="absolute top-[16px] -left-[11px] text-ink"
              aria-hidden="true"
            >
              <path d="M7 1 2 6l5 5" fill="none" stroke="currentColor" strokeWidth="2" />
            </svg>
          ) : null}
          <span
            className="absolute top-[15px] h-[13px] bg-band"
            style={{ left: `${left(job.opens)}%`, right: `${100 - left(job.closes, 1)}%` }}
            aria-hidden="true"
          />
          {left(job.due) > 0 && left(job.due) < 100 ? (
            <span
              className="absolute top-[11px] h-[21px] w-[2px] bg-ink"
              style={{ left: `${left(job.due, 0.5)}%` }}
              aria-hidden="true"
            />
          ) : null}
          <span
            className="absolute top-0 bottom-0 w-px bg-lake opacity-50"
            style={{ left: `${left(today, 0.5)}%` }}
            aria-hidden="true"
          />
          {still ? null : (
            <span
              role="slider"
              tabIndex={0}
              aria-label={`Day of ${job.position}`}
              aria-valuemin={0}
              aria-valuemax={days - 1}
              aria-valuenow={Math.max(0, daysBetween(first, day))}
              aria-valuetext={`${shortDay(day)}${held === null ? (planned === undefined ? ', not planned yet' : ', planned') : now === null ? ', inside its window' : `, ${now}`}; window ${shortDay(job.opens)} to ${shortDay(job.closes)}`}
              onKeyDown={key}
              onBlur={() => setHeld(null)}
              onPointerDown={(e) => {
                e.currentTarget.setPointerCapture(e.pointerId);
                setTold(null);
                setHeld(rest);
              }}
              onPointerMove={(e) =>
                held !== null && e.currentTarget.hasPointerCapture(e.pointerId) ? setHeld(dayAt(e)) : undefined
              }
              onPointerUp={(e) => {
                if (held !== null) {
                  e.currentTarget.releasePointerCapture(e.pointerId);
                  drop(dayAt(e) === rest ? null : held);
                }
              }}
              onPointerCancel={() => setHeld(null)}
              className={`absolute top-[5px] flex h-[33px] w-[24px] -translate-x-1/2 cursor-grab touch-none justify-center ${held !== null ? 'z-20 cursor-grabbing' : ''}`}
              style={{ left: `${left(day, 0.5)}%` }}
            >
              <span
                className={`h-full w-[8px] border-2 ${now !== null ? 'border-ink bg-sheet' : planned !== undefined || held !== null ? 'border-lake bg-lake' : 'border-lake bg-sheet'}`}
              />
            </span>
          )}
          {held !== null ? (
            <span
              className={`absolute -top-2 z-20 border border-ink bg-paper px-1.5 font-condensed text-[14px] whitespace-nowrap ${left(held) > 70 ? '-translate-x-full' : 'translate-x-3'}`}
              style={{ left: `${left(held)}%` }}
            >
              {shortDay(held)}
              {now === null ? '' : ': outside its window'}
            </span>
          ) : null}
        </div>
        <div className="w-9 shrink-0 max-[1000px]:w-11">
          {job.running ? null : (
            <DotsMenu word={`More about ${job.position}`}>
              <MenuItem chosen={() => ask('move')}>Day and person</MenuItem>
              {planned === undefined ? null : (
                <MenuItem chosen={() => fix.mutate(!job.fixed)}>
                  {job.fixed ? 'A proposal may move it' : 'Fix it to this day'}
                </MenuItem>
              )}
              {job.plannedFor === undefined ? null : (
                <MenuItem chosen={() => ask('putBack')}>Put back, not done</MenuItem>
              )}
              {job.state === 'deferred' || job.state === 'cannot' ? (
                <MenuItem chosen={() => ask('resume')}>Take up again</MenuItem>
              ) : null}
              <MenuItem chosen={() => ask('defer')}>Defer</MenuItem>
              {job.state === 'cannot' ? null : <MenuItem chosen={() => ask('cannot')}>Cannot be done</MenuItem>}
            </DotsMenu>
          )}
        </div>
      </div>
      {job.lacks.length > 0 && job.state !== 'cannot' ? (
        <p className="pl-[248px] font-condensed text-[14px] max-[1000px]:pl-[172px]">
          Not ready{planned === undefined ? '' : ` on ${shortDay(planned)}`}: {job.lacks.join('; ')}
          {job.arrangeBy === undefined ? '' : `. Arrange by ${shortDay(job.arrangeBy)}`}
        </p>
      ) : null}
      <p
        role="status"
        className="pl-[248px] font-condensed text-[15px] font-semibold empty:hidden max-[1000px]:pl-[172px]"
      >
        {now ?? told ?? ''}
      </p>
    </li>
  );
}
