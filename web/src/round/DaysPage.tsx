import { useQuery } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { sideBySide } from '../api/plan';
import type { DayOf } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { addDays, clockOf, hours } from '../state/plan';
import { longDay, plural } from '../state/words';
import { Button, Notice } from '../ui/controls';

/** Minutes of the day that the columns show at least: seven to five. */
const FROM = 420;
const TO = 1020;
const PX_A_MINUTE = 1.15;

/** Several people's days side by side, on one clock. */
export function DaysPage() {
  const day = useParams()['day'] ?? new Date().toLocaleDateString('sv');
  const go = useNavigate();
  usePlanNews();
  usePlace('Days', <b className="font-semibold">{longDay(day)}</b>, day);
  const all = useQuery({ queryKey: ['rounds', day], queryFn: () => sideBySide(day) });
  const from = Math.min(FROM, ...(all.data ?? []).map((d) => Math.floor(d.leaves / 60) * 60));
  const to = Math.max(TO, ...(all.data ?? []).map((d) => Math.ceil(d.back / 60) * 60));
  const marks = Array.from({ length: Math.floor((to - from) / 60) + 1 }, (_, i) => from + 60 * i);
  return (
    <main className="px-5 py-4">
      <header className="flex flex-wrap items-center gap-2">
        <h1 className="mr-4 text-[21px] font-semibold">Everybody’s day</h1>
        <button
          type="button"
          aria-label="Day before"
          className="h-11 w-11 border border-quiet bg-sheet text-[20px]"
          onClick={() => void go(`/days/${addDays(day, -1)}`)}
        >
          ‹
        </button>
        <input
          type="date"
          aria-label="Day"
          value={day}
          onChange={(e) => (e.target.value === '' ? undefined : void go(`/days/${e.target.value}`))}
        />
        <button
          type="button"
          aria-label="Day after"
          className="h-11 w-11 border border-quiet bg-sheet text-[20px]"
          onClick={() => void go(`/days/${addDays(day, 1)}`)}
        >
          ›
        </button>
      </header>
      {all.isError ? (
        <Notice action={<Button onClick={() => void all.refetch()}>Try again</Button>}>{all.error.message}</Notice>
      ) : null}
      {all.isPending ? <p className="mt-4 text-quiet">Fetching the days…</p> : null}
      {all.data !== undefined ? (
        <div
          className="mt-4 grid gap-x-3"
          style={{ gridTemplateColumns: `44px repeat(${Math.max(1, all.data.length)}, minmax(0, 1fr))` }}
        >
          <span />
          {all.data.map((d) => (
            <Head key={d.person} of={d} />
          ))}
          <div className="relative" style={{ height: (to - from) * PX_A_MINUTE }} aria-hidden="true">
            {marks.map((m) => (
              <span
                key={m}
                className="absolute right-1 -translate-y-1/2 font-mono text-[13px] text-quiet"
                style={{ top: (m - from) * PX_A_MINUTE }}
              >
                {clockOf(m)}
              </span>
            ))}
          </div>
          {all.data.map((d) => (
            <Column key={d.person} of={d} from={from} to={to} marks={marks} />
          ))}
        </div>
      ) : null}
    </main>
  );
}

function Head({ of }: { of: DayOf }) {
  const jobs = of.stops.reduce((n, s) => n + s.jobs.length, 0);
  return (
    <div className="border-b border-ink pb-1" data-day-of={of.person}>
      <Link to={`/round/${of.person}/${of.day}`} className="font-semibold text-lake underline-offset-4 hover:underline">
        {of.name}
      </Link>
      <p className="font-condensed text-[14px] text-quiet">
        {of.away === undefined
          ? jobs === 0
            ? 'nothing planned'
            : `${plural(jobs, 'job')}, ${hours(of.work)} of work, ${hours(of.travel)} on the way`
          : `away: ${of.away}`}
      </p>
      {of.conflicts.length > 0 ? (
        <ul className="border-l-4 border-ink pl-2 font-condensed text-[14px]">
          {of.conflicts.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ul>
      ) : null}
    </div>
  );
}

/** How many lines of jobs are seen whole under the stop's own. */
const fits = (s: DayOf['stops'][number]): number =>
  Math.max(0, Math.floor(((s.goesOn - s.arrives) * PX_A_MINUTE - 20) / 17));

function Column({ of, from, to, marks }: { of: DayOf; from: number; to: number; marks: number[] }) {
  const y = (minute: number): number => (minute - from) * PX_A_MINUTE;
  return (
    <div className="relative bg-sheet" style={{ height: (to - from) * PX_A_MINUTE }}>
      {marks.map((m) => (
        <span key={m} className="absolute inset-x-0 h-px bg-rule" style={{ top: y(m) }} aria-hidden="true" />
      ))}
      {of.stops.length > 0 ? (
        <span
          className="absolute left-[9px] w-[2px] bg-ink"
          style={{ top: y(of.leaves), height: y(of.back) - y(of.leaves) }}
          aria-hidden="true"
        />
      ) : null}
      {of.stops.map((s) => (
        <div
          key={`${s.site} ${s.arrives}`}
          className="absolute right-0 left-0 overflow-hidden border-y border-ink bg-band pr-1 pl-6"
          style={{ top: y(s.arrives), height: Math.max(20, y(s.goesOn) - y(s.arrives)) }}
          title={`${s.name}, ${clockOf(s.arrives)} to ${clockOf(s.goesOn)}`}
        >
          <span
            className="absolute top-1 left-[4px] h-3 w-3 rounded-full border-2 border-ink bg-sheet"
            aria-hidden="true"
          />
          <p className="truncate font-condensed text-[14px] leading-[18px]">
            <b className="font-semibold">{clockOf(s.arrives)}</b> {s.name}
            {fits(s) < s.jobs.length ? (
              <span className="text-quiet">
                , {plural(s.jobs.length - fits(s), fits(s) === 0 ? 'job' : 'more', fits(s) === 0 ? 'jobs' : 'more')}
              </span>
            ) : null}
          </p>
          {s.jobs.slice(0, fits(s)).map((j) => (
            <p key={j.id} className="truncate font-condensed text-[13px] leading-[17px]">
              {j.position} {j.status === 'done' ? 'done' : j.over ? 'over' : ''}{' '}
              <span className="text-quiet">{j.minutes} min</span>
            </p>
          ))}
        </div>
      ))}
      {of.stops.length > 0 ? (
        <span className="absolute left-6 font-condensed text-[13px] text-quiet" style={{ top: y(of.back) - 8 }}>
          back {clockOf(of.back)}
        </span>
      ) : null}
    </div>
  );
}
