import {
  DndContext,
  DragOverlay,
  pointerWithin,
  rectIntersection,
  useDraggable,
  useDroppable,
  type CollisionDetection,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { moveJobs, sideBySide } from '../api/round';
import type { DayOf } from '../api/types';
import { useMoved } from '../app/moved';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { addDays, clockOf, hours, mondayOf } from '../state/plan';
import { longDay, plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { announced, HOW, useDragging } from './drag';

/** Minutes of the day that the columns show at least: seven to five. */
const FROM = 420;
const TO = 1020;
const PX_A_MINUTE = 1.15;

/** Under the pointer; by keys there is none, and what is dragged lies over a place. */
const where: CollisionDetection = (args) => {
  const under = pointerWithin(args);
  return under.length > 0 ? under : rectIntersection(args);
};

/** What is dragged: jobs of one person's day. */
interface Held {
  words: string;
  person: string;
  jobs: DayOf['stops'][number]['jobs'];
}

/** Several people's days side by side, on one clock; jobs and stops are dragged between people and days. */
export function DaysPage() {
  const day = useParams()['day'] ?? new Date().toLocaleDateString('sv');
  const go = useNavigate();
  usePlanNews();
  usePlace('Days', <b className="font-semibold">{longDay(day)}</b>, day);
  const all = useQuery({ queryKey: ['rounds', day], queryFn: () => sideBySide(day) });
  const from = Math.min(FROM, ...(all.data ?? []).map((d) => Math.floor(d.leaves / 60) * 60));
  const to = Math.max(TO, ...(all.data ?? []).map((d) => Math.ceil(d.back / 60) * 60));
  const marks = Array.from({ length: Math.floor((to - from) / 60) + 1 }, (_, i) => from + 60 * i);
  const sensors = useDragging();
  const moved = useMoved();
  const [held, setHeld] = useState<Held | null>(null);
  const move = useMutation({
    mutationFn: (to: { held: Held; person: string; day: string }) =>
      moveJobs(
        to.held.jobs.map((j) => ({
          job: j.id,
          to: { day: to.day, person: to.person, wasDay: day, wasPerson: to.held.person },
        })),
      ),
    onSuccess: moved,
  });
  const dropped = ({ active, over }: DragEndEvent): void => {
    setHeld(null);
    const what = active.data.current as Held | undefined;
    const to = over?.data.current as { person?: string; day?: string } | undefined;
    if (what !== undefined && to !== undefined) {
      const next = { person: to.person ?? what.person, day: to.day ?? day };
      if (next.person !== what.person || next.day !== day) {
        move.mutate({ held: what, ...next });
      }
    }
  };
  const named = (id: UniqueIdentifier): string => String(id).split('|')[1] ?? '';
  const days = Array.from({ length: 7 }, (_, i) => addDays(mondayOf(day), i));
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={where}
      onDragStart={({ active }) => setHeld((active.data.current as Held | undefined) ?? null)}
      onDragCancel={() => setHeld(null)}
      onDragEnd={dropped}
      accessibility={{ announcements: announced(named, 'day'), screenReaderInstructions: HOW }}
    >
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
          <DateField
            aria-label="Day"
            value={day}
            onChange={(on) => (on === '' ? undefined : void go(`/days/${on}`))}
            told="left"
          />
          <button
            type="button"
            aria-label="Day after"
            className="h-11 w-11 border border-quiet bg-sheet text-[20px]"
            onClick={() => void go(`/days/${addDays(day, 1)}`)}
          >
            ›
          </button>
          <ol className="ml-auto flex max-[700px]:hidden" aria-label="Days of the week">
            {days.map((d) => (
              <WeekDay key={d} day={d} on={d === day} dragging={held !== null} />
            ))}
          </ol>
        </header>
        {move.isError ? (
          <div className="mt-3">
            <Notice action={<Button onClick={() => move.reset()}>Good</Button>}>
              Nothing was moved. {move.error.message}
            </Notice>
          </div>
        ) : null}
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
        <p className="mt-3 font-condensed text-[14px] text-quiet">
          Drag a stop or a job to another person, or to a day of the week above. By keys: space takes it, the arrows
          move it, space puts it down.
        </p>
      </main>
      <DragOverlay dropAnimation={null}>
        {held === null ? null : (
          <p className="inline-block border border-ink bg-band px-2 py-1 font-condensed text-[14px] font-semibold">
            {held.words}
          </p>
        )}
      </DragOverlay>
    </DndContext>
  );
}

/** A day of the week: to go there, and to drop on. */
function WeekDay({ day, on, dragging }: { day: string; on: boolean; dragging: boolean }) {
  const past = day < new Date().toLocaleDateString('sv');
  const { setNodeRef, isOver } = useDroppable({ id: `day|${shortDay(day)}`, data: { day }, disabled: on || past });
  return (
    <li ref={setNodeRef}>
      <Link
        to={`/days/${day}`}
        aria-current={on ? 'date' : undefined}
        className={`-ml-px flex h-11 w-[74px] flex-col items-center justify-center border font-condensed text-[13px] leading-tight ${isOver ? 'border-lake bg-lake text-on-lake' : on ? 'border-ink bg-sheet font-semibold' : `border-rule ${dragging && !past ? 'bg-sheet' : ''}`}`}
        data-week-day={day}
      >
        <span>{longDay(day).slice(0, 3)}</span>
        <span className={on || isOver ? '' : 'text-quiet'}>{shortDay(day)}</span>
      </Link>
    </li>
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
  const { setNodeRef, isOver } = useDroppable({ id: `person|${of.name}`, data: { person: of.person } });
  return (
    <div
      ref={setNodeRef}
      className={`relative bg-sheet ${isOver ? 'outline-2 outline-lake' : ''}`}
      data-column={of.person}
      style={{ height: (to - from) * PX_A_MINUTE }}
    >
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
          data-hint={`${s.name}, ${clockOf(s.arrives)} to ${clockOf(s.goesOn)}`}
        >
          <span
            className="absolute top-1 left-[4px] h-3 w-3 rounded-full border-2 border-ink bg-sheet"
            aria-hidden="true"
          />
          <Drag person={of.person} words={s.name} id={`${of.person} ${s.site} ${s.arrives}`} jobs={s.jobs}>
            <span className="truncate text-[14px] leading-[18px]">
              <b className="font-semibold">{clockOf(s.arrives)}</b> {s.name}
              {fits(s) < s.jobs.length ? (
                <span>
                  , {plural(s.jobs.length - fits(s), fits(s) === 0 ? 'job' : 'more', fits(s) === 0 ? 'jobs' : 'more')}
                </span>
              ) : null}
            </span>
          </Drag>
          {s.jobs.slice(0, fits(s)).map((j) => (
            <Drag key={j.id} person={of.person} words={j.position} id={String(j.id)} jobs={[j]}>
              <span className="truncate text-[13px] leading-[17px]">
                {j.position} {j.status === 'done' ? 'done' : j.over ? 'over' : ''} {j.minutes} min
              </span>
            </Drag>
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

/** A stop or a job that can be dragged; what is done or running stays. */
function Drag({
  id,
  words,
  person,
  jobs,
  children,
}: {
  id: string;
  words: string;
  person: string;
  jobs: Held['jobs'];
  children: ReactNode;
}) {
  const open = jobs.filter((j) => j.status === 'open' || j.status === 'partly done');
  const { attributes, listeners, setNodeRef, isDragging } = useDraggable({
    id: `${id}|${words}`,
    data: { words: open.length > 1 ? `${words}, ${plural(open.length, 'job')}` : words, person, jobs: open },
    disabled: open.length === 0,
  });
  return open.length === 0 ? (
    <p className="flex font-condensed">{children}</p>
  ) : (
    <button
      ref={setNodeRef}
      type="button"
      className={`flex w-full cursor-grab touch-manipulation overflow-hidden text-left font-condensed ${isDragging ? 'opacity-50' : ''}`}
      {...attributes}
      {...listeners}
      data-drag={words}
    >
      {children}
    </button>
  );
}
