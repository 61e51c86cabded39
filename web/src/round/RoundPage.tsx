import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { Problem } from '../api/http';
import { orderRound, ownRound, roundOf, sheetAddress, sideBySide, startRound } from '../api/round';
import type { Round } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { useMoved } from '../app/moved';
import { addDays, clockOf, hours, minuteOf, moved } from '../state/plan';
import { longDay, numbered, plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { TimeField } from '../ui/TimeField';
import { Menu, MenuItem } from '../ui/Menu';
import { Loadout } from './Loadout';
import { Stops } from './Stops';
import { Option, Select } from '../ui/Select';

// What is opened from the round, and what is not there on most days, is fetched when it is.
const BuildDialog = lazy(() => import('./BuildDialog').then((m) => ({ default: m.BuildDialog })));
const CalendarDialog = lazy(() => import('./CalendarDialog').then((m) => ({ default: m.CalendarDialog })));
const LeftOver = lazy(() => import('./LeftOver').then((m) => ({ default: m.LeftOver })));

/** A person's day as a line of stops, with what is to be taken along beside it. */
export function RoundPage() {
  const params = useParams();
  const me = useSession();
  usePlanNews();
  const own = params['person'] === undefined;
  const day = useQuery({
    queryKey: ['round', params['person'] ?? 'own', params['day'] ?? ''],
    queryFn: () => (own ? ownRound() : roundOf(params['person'] ?? '', params['day'] ?? '')),
    refetchInterval: 15_000,
    refetchOnMount: 'always',
  });
  const shown = day.data;
  usePlace(
    'Round',
    <Where day={shown} mine={shown === undefined || shown.person === me.id} />,
    `${shown?.person ?? ''} ${shown?.day ?? ''} ${shown?.back ?? ''} ${shown?.leaves ?? ''}`,
  );
  if (day.isPending) {
    return <p className="p-8 text-quiet">Looking what is due…</p>;
  }
  if (shown === undefined) {
    return (
      <div className="p-8">
        <Notice action={<Button onClick={() => void day.refetch()}>Try again</Button>}>
          {day.error instanceof Problem && day.error.status < 500 && day.error.status > 0
            ? day.error.message
            : `The round cannot be shown. ${day.error?.message ?? ''}`}
        </Notice>
      </div>
    );
  }
  return <Day day={shown} key={`${shown.person} ${shown.day}`} />;
}

function Where({ day, mine }: { day: Round | undefined; mine: boolean }) {
  if (day === undefined) {
    return <b className="font-semibold">Round</b>;
  }
  return (
    <>
      <b className="font-semibold">{longDay(day.day)}</b>
      {mine ? '' : `, ${day.name}`}
      {day.stops.length === 0
        ? ''
        : `, ${clockOf(day.leaves)} from the ${day.base.split(' ').slice(1).join(' ') || day.base}, back ${clockOf(day.back)}`}
    </>
  );
}

function Day({ day }: { day: Round }) {
  const queries = useQueryClient();
  const [building, setBuilding] = useState(false);
  const [calendar, setCalendar] = useState(false);
  const shows = (next: Round): void => {
    queries.setQueriesData<Round>({ queryKey: ['round'] }, (was) =>
      was?.person === next.person && was.day === next.day ? next : was,
    );
    void queries.invalidateQueries({ queryKey: ['rounds'] });
    void queries.invalidateQueries({ queryKey: ['plan'] });
  };
  const ids = day.stops.flatMap((s) => s.jobs.map((j) => j.id));
  const told = useMoved();
  const order = useMutation({
    mutationFn: (jobs: number[]) => orderRound(day.person, day.day, jobs),
    onSuccess: (next) => {
      shows(next);
      told();
    },
  });
  const move = (job: number, by: number): void => order.mutate(moved(ids, ids.indexOf(job), by));
  return (
    <main className="grid min-h-full grid-cols-[minmax(0,1fr)_300px] max-[1000px]:grid-cols-1">
      <section className="px-5 py-4" aria-label="Stops">
        <Heading
          day={day}
          build={() => setBuilding(true)}
          calendar={() => setCalendar(true)}
          inLine={() => order.mutate([])}
        />
        {day.leftOver.length === 0 ? null : (
          <Suspense fallback={null}>
            <LeftOver day={day} />
          </Suspense>
        )}
        <Conflicts day={day} />
        {order.isError ? <Notice>{order.error.message}</Notice> : null}
        <Stops day={day} move={move} order={order.mutate} ids={ids} />
        {day.stops.length === 0 ? <EmptyDay day={day} build={() => setBuilding(true)} /> : null}
      </section>
      <Loadout day={day} shows={shows} />
      <Suspense fallback={null}>
        {building ? <BuildDialog day={day} shows={shows} close={() => setBuilding(false)} /> : null}
        {calendar ? <CalendarDialog close={() => setCalendar(false)} /> : null}
      </Suspense>
    </main>
  );
}

function Heading({
  day,
  build,
  calendar,
  inLine,
}: {
  day: Round;
  build: () => void;
  calendar: () => void;
  inLine: () => void;
}) {
  const go = useNavigate();
  const me = useSession();
  const people = useQuery({ queryKey: ['rounds', day.day], queryFn: () => sideBySide(day.day) });
  const to = (person: string, on: string): void =>
    void go(person === me.id && on === day.today ? '/round' : `/round/${person}/${on}`);
  const jobs = day.stops.flatMap((s) => s.jobs);
  const open = jobs.filter((j) => j.status !== 'done');
  const over = open.filter((j) => j.overdue > 0);
  const longest = Math.max(0, ...over.map((j) => j.overdue));
  return (
    <header>
      <div className="flex flex-wrap items-baseline gap-x-5 gap-y-1">
        <h1 className="text-[21px] font-semibold">
          {jobs.length === 0
            ? 'Nothing planned'
            : `${numbered(jobs.length, 'job')} at ${numbered(day.stops.length, 'stop').toLowerCase()}`}
        </h1>
        {jobs.length > 0 ? (
          <p className="font-condensed text-[16px] text-quiet">
            {hours(day.work)} of work, {hours(day.travel)} on the way.{' '}
            {open.length < jobs.length
              ? `${open.length === 0 ? 'All done' : `${numbered(jobs.length - open.length, 'job')} done`}. `
              : ''}
            {over.length === 0
              ? ''
              : over.length === 1
                ? `One is ${plural(longest, 'day')} over its date.`
                : `${numbered(over.length, 'job')} over their date, by up to ${plural(longest, 'day')}.`}
          </p>
        ) : null}
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <Step word="Day before" sign="‹" chosen={() => to(day.person, addDays(day.day, -1))} />
        <DateField
          aria-label="Day"
          value={day.day}
          onChange={(on) => (on === '' ? undefined : to(day.person, on))}
          told="left"
          className="w-[150px]"
        />
        <Step word="Day after" sign="›" chosen={() => to(day.person, addDays(day.day, 1))} />
        <Select aria-label="Whose round" value={day.person} onChange={(picked) => to(picked, day.day)}>
          {(people.data ?? []).some((p) => p.person === day.person) ? null : (
            <Option value={day.person}>{day.name}</Option>
          )}
          {(people.data ?? []).map((p) => (
            <Option key={p.person} value={p.person}>
              {p.name}
            </Option>
          ))}
        </Select>
        <Leaves day={day} />
        <span className="flex-1" />
        {day.day >= day.today ? <Button onClick={build}>Add jobs</Button> : null}
        <Menu word="More">
          <MenuItem chosen={() => void go(`/days/${day.day}`)}>Everybody's day, side by side</MenuItem>
          <MenuItem chosen={() => window.open(sheetAddress(day.person, day.day), '_blank')}>
            Sheet to print (PDF)
          </MenuItem>
          {day.ordered ? <MenuItem chosen={inLine}>Order along the line again</MenuItem> : null}
          <MenuItem chosen={calendar}>Calendar address</MenuItem>
        </Menu>
      </div>
    </header>
  );
}

function Step({ word, sign, chosen }: { word: string; sign: string; chosen: () => void }) {
  return (
    <button
      type="button"
      aria-label={word}
      onClick={chosen}
      className="h-11 w-11 border border-quiet bg-sheet text-[20px]"
    >
      {sign}
    </button>
  );
}

/** When the day begins: stored when the field is left. */
function Leaves({ day }: { day: Round }) {
  const queries = useQueryClient();
  const set = useMutation({
    mutationFn: (minute: number) => startRound(day.person, day.day, minute),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['round'] }),
  });
  return (
    <label className="flex items-center gap-2 font-condensed text-quiet">
      <span className="max-[1000px]:sr-only">leaves</span>
      <TimeField value={clockOf(day.leaves)} onChange={(time) => set.mutate(minuteOf(time) ?? day.leaves)} />
    </label>
  );
}

function Conflicts({ day }: { day: Round }) {
  if (day.conflicts.length === 0) {
    return null;
  }
  return (
    <section aria-label="What stands against it" className="mt-3 border-l-4 border-ink bg-sheet px-4 py-2">
      <h2 className="font-semibold">
        {day.conflicts.length === 1
          ? 'One thing stands against this day'
          : `${numbered(day.conflicts.length, 'thing')} stand against this day`}
      </h2>
      <ul className="font-condensed text-[15px]">
        {day.conflicts.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
    </section>
  );
}

function EmptyDay({ day, build }: { day: Round; build: () => void }) {
  return (
    <div className="mt-5 max-w-prose">
      <p>
        {day.name} has no jobs on this day.{' '}
        {day.later.length > 0
          ? 'Due next and on nobody’s day:'
          : 'No job is due on any later day either; plans lay them as they fall due.'}
      </p>
      <ul className="my-3">
        {day.later.map((job) => (
          <li key={job.job}>
            <b className="font-semibold">{job.position}</b>, {job.title}, {job.siteName}, due {shortDay(job.due)}
          </li>
        ))}
      </ul>
      {day.day >= day.today ? (
        <Button weight="primary" onClick={build}>
          Build a round
        </Button>
      ) : (
        <Link className="font-semibold text-lake underline-offset-4 hover:underline" to="/round">
          To today
        </Link>
      )}
    </div>
  );
}
