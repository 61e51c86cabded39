import { closestCenter, DndContext, type DragEndEvent, type UniqueIdentifier } from '@dnd-kit/core';
import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { lazy, Suspense, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Round, SiteNeed, StopJob } from '../api/types';
import { trendAddress } from '../condition/words';
import { againstStart, StartButton } from '../job/StartButton';
import type { Decide } from '../plan/DecideDialog';
import { BarredMark } from '../register/BarredNotice';
import { clockOf, moved } from '../state/plan';
import { plural, shortDay } from '../state/words';
import { Notice } from '../ui/controls';
import { LimitStrip } from '../ui/LimitStrip';
import { Mark } from '../ui/Mark';
import { DotsMenu, MenuItem } from '../ui/Menu';
import { announced, HOW, useDragging } from './drag';
import { Cut } from '../ui/Hints';
import { asStanding, StandingMark } from '../ui/StandingMark';

const DecideDialog = lazy(() => import('../plan/DecideDialog').then((m) => ({ default: m.DecideDialog })));

/** Verdict, job, strip, minutes, button, more: on a tablet without the minutes, on less without the strip. */
const COLUMNS =
  'gap-3 grid-cols-[20px_minmax(160px,1fr)_minmax(120px,260px)_56px_104px_36px] max-[1000px]:grid-cols-[20px_minmax(190px,1fr)_minmax(110px,190px)_104px_44px] max-[700px]:grid-cols-[20px_minmax(0,1fr)_104px_44px]';

interface Props {
  day: Round;
  /** All jobs in their order. */
  ids: number[];
  /** Moves a job some places on in the order of the day. */
  move: (job: number, by: number) => void;
  /** Puts the jobs of the day in another order. */
  order: (jobs: number[]) => void;
}

/** The stops of a day along the line. */
export function Stops({ day, ids, move, order }: Props) {
  const sensors = useDragging();
  const [asked, setAsked] = useState<{ job: StopJob; what: Decide } | null>(null);
  const next =
    day.stops.flatMap((s) => s.jobs).find((j) => j.run !== undefined) ??
    day.stops.flatMap((s) => s.jobs).find((j) => j.status !== 'done' && j.lacks.length === 0);
  const dropped = ({ active, over }: DragEndEvent): void => {
    const from = ids.indexOf(Number(active.id));
    const to = over === null ? -1 : ids.indexOf(Number(over.id));
    if (from >= 0 && to >= 0 && from !== to) {
      order(moved(ids, from, to - from));
    }
  };
  const named = (id: UniqueIdentifier): string =>
    day.stops.flatMap((s) => s.jobs).find((j) => j.id === Number(id))?.position ?? '';
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={dropped}
      accessibility={{ announcements: announced(named, 'place'), screenReaderInstructions: HOW }}
    >
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        <ol className="relative mt-3">
          {day.stops.map((stop, i) => (
            <li
              key={`${stop.site} ${stop.arrives}`}
              className="grid grid-cols-[84px_26px_minmax(0,1fr)]"
              data-stop={stop.site}
            >
              <div className="pt-2 text-right leading-tight">
                <span className="font-mono text-[14px] font-medium">{stop.km.toFixed(1)}&#8198;km</span>
                <br />
                <span className="font-condensed text-[13px] text-quiet">{stop.altitude}&#8198;m</span>
              </div>
              <div className="relative" aria-hidden="true">
                <span
                  className="absolute left-1/2 w-[2px] -translate-x-1/2 bg-ink"
                  style={{ top: i === 0 ? 12 : 0, bottom: i === day.stops.length - 1 ? 'calc(100% - 18px)' : 0 }}
                />
                <span className="absolute top-[12px] left-1/2 h-3 w-3 -translate-x-1/2 rounded-full border-2 border-ink bg-sheet" />
              </div>
              <div className="pb-3">
                <div className="flex items-baseline gap-3 border-b border-rule py-1.5">
                  <Cut as="h2" className="font-semibold">
                    {stop.name}
                  </Cut>
                  <p className="flex-1 font-condensed text-[14px] whitespace-nowrap text-quiet">
                    {clockOf(stop.arrives)} to {clockOf(stop.goesOn)}
                    {stop.travel > 0 ? `, ${stop.travel} min on the way` : ''}
                  </p>
                  {i === 0 ? (
                    <p className="font-condensed text-[13px] whitespace-nowrap text-quiet max-[1000px]:hidden">
                      strips: nearest to its limit, last time
                    </p>
                  ) : null}
                </div>
                <ul>
                  {stop.jobs.map((job) => (
                    <Job
                      key={job.id}
                      job={job}
                      day={day}
                      first={job.id === ids[0]}
                      last={job.id === ids[ids.length - 1]}
                      primary={job.id === next?.id}
                      move={move}
                      ask={(what) => setAsked({ job, what })}
                      need={stop.needs.find((n) => n.asset === job.asset)}
                    />
                  ))}
                </ul>
                <Needs needs={stop.needs.filter((n) => stop.jobs.every((j) => j.asset !== n.asset))} site={stop.name} />
              </div>
            </li>
          ))}
        </ol>
      </SortableContext>
      {asked !== null ? (
        <Suspense fallback={null}>
          <DecideDialog
            job={{ ...asked.job, plannedFor: day.day, person: day.person }}
            what={asked.what}
            today={day.today}
            close={() => setAsked(null)}
          />
        </Suspense>
      ) : null}
    </DndContext>
  );
}

function due(job: StopJob): string {
  if (job.overdue > 0) {
    return `${plural(job.overdue, 'day')} over, due ${shortDay(job.due)}`;
  }
  return job.overdue === 0 ? 'Due on this day' : `Due ${shortDay(job.due)}`;
}

interface JobProps {
  job: StopJob;
  day: Round;
  first: boolean;
  last: boolean;
  primary: boolean;
  move: (job: number, by: number) => void;
  ask: (what: Decide) => void;
  /** Why its device needs attention; absent where it does not. */
  need: SiteNeed | undefined;
}

const NEEDS_SHOWN = 2;

/** What else needs attention where one is going anyway. */
function Needs({ needs, site }: { needs: readonly SiteNeed[]; site: string }) {
  const [all, setAll] = useState(false);
  const shown = all ? needs : needs.slice(0, NEEDS_SHOWN);
  return needs.length === 0 ? null : (
    <section aria-label={`What needs attention at ${site}`} className="mt-1 font-condensed text-[14px]" data-needs>
      <p className="text-quiet">Also here:</p>
      <ul>
        {shown.map((n) => (
          <li key={n.asset} className="flex items-baseline gap-2 py-0.5">
            <span className="self-center">
              <StandingMark standing={asStanding(n.standing)} size={12} />
            </span>
            <Cut className="min-w-0 flex-1">
              <Link
                className="font-semibold text-lake underline-offset-4 hover:underline"
                to={trendAddress(n.asset, n.series, n.lane)}
              >
                {n.position}
              </Link>{' '}
              {n.reason}
            </Cut>
          </li>
        ))}
      </ul>
      {needs.length > NEEDS_SHOWN ? (
        <button
          type="button"
          className="min-h-8 font-semibold text-lake underline underline-offset-4 max-[1000px]:min-h-11"
          aria-expanded={all}
          onClick={() => setAll(!all)}
        >
          {all ? 'Fewer' : `${needs.length - NEEDS_SHOWN} more`}
        </button>
      ) : null}
    </section>
  );
}

function Job({ job, day, first, last, primary, move, ask, need }: JobProps) {
  const go = useNavigate();
  const [wrong, setWrong] = useState<string | null>(null);
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: job.id,
    disabled: job.status === 'done',
  });
  const against = againstStart(job, day.today, shortDay);
  const done = job.status === 'done';
  const { last: record } = job;
  const nearest = record?.nearest;
  return (
    <li
      ref={setNodeRef}
      style={{ transform: CSS.Translate.toString(transform), transition }}
      className={`relative border-b border-rule py-1.5 last:border-b-0 ${isDragging ? 'z-10 bg-paper outline-2 outline-lake' : ''}`}
      data-job={job.position}
      data-done={done}
    >
      <div className={`grid min-h-11 items-center ${COLUMNS}`}>
        {done ? (
          <Mark standing={record?.verdict ?? 'todo'} size={15} />
        ) : (
          <button
            ref={setActivatorNodeRef}
            type="button"
            className="-m-3 flex cursor-grab touch-manipulation items-center justify-center p-3"
            {...attributes}
            {...listeners}
            aria-label={`Move ${job.position} within the day`}
            data-drag
          >
            <Mark standing={record?.verdict ?? 'todo'} size={15} />
          </button>
        )}
        <div className="min-w-0">
          <p className="truncate font-semibold">
            <Link to={`/register/position/${job.position}`} className="underline-offset-4 hover:underline">
              {job.position}
            </Link>{' '}
            <span className="font-normal">
              {job.maker} {job.model}
            </span>
          </p>
          <p className="truncate font-condensed text-[14px] text-quiet" data-hint={job.title}>
            {done ? (
              <>Done, {job.title.toLowerCase()}</>
            ) : (
              <>
                <span className={job.overdue > 0 ? 'font-semibold text-ink' : ''}>{due(job)}</span>, {job.reason}
                {record === undefined ? ', never tested here' : ''}
              </>
            )}
          </p>
          {job.lacks.length > 0 ? (
            <p className="font-condensed text-[14px]">Not ready: {job.lacks.join('; ')}</p>
          ) : null}
          <p className="empty:hidden">
            <BarredMark asset={job.asset} />
          </p>
        </div>
        <div className="min-w-0 max-[700px]:hidden">
          {nearest?.strip ? (
            <>
              <p className="flex items-baseline justify-between gap-2 font-condensed text-[13px] leading-tight text-quiet">
                <Cut>{nearest.label}</Cut>
                <span className="whitespace-nowrap">
                  <b className="font-mono text-[14px] font-semibold text-ink">{nearest.counting?.figure}</b>{' '}
                  {nearest.unit}
                </span>
              </p>
              <LimitStrip strip={nearest.strip} standing={nearest.verdict} />
            </>
          ) : (
            <p className="font-condensed text-[13px] text-quiet">
              {record === undefined
                ? 'No reading yet: the first one becomes the baseline'
                : 'No reading with a margin last time'}
            </p>
          )}
        </div>
        <p className="text-right font-condensed text-[15px] whitespace-nowrap text-quiet max-[1000px]:hidden">
          {Math.round(job.minutes)}&#8198;min
        </p>
        {done ? (
          <Link
            to={`/records/${record?.record ?? ''}`}
            className="inline-flex min-h-11 items-center justify-center font-semibold text-lake underline-offset-4 hover:underline"
          >
            Record
          </Link>
        ) : (
          <StartButton
            job={job.id}
            position={job.position}
            run={job.run}
            against={against}
            primary={primary && day.day === day.today}
            partly={job.status === 'partly done'}
            failed={setWrong}
            className="w-full px-2"
          />
        )}
        {done || job.run !== undefined ? (
          <span />
        ) : (
          <DotsMenu word={`More about ${job.position}`}>
            {first ? null : <MenuItem chosen={() => move(job.id, -1)}>Earlier in the day</MenuItem>}
            {last ? null : <MenuItem chosen={() => move(job.id, 1)}>Later in the day</MenuItem>}
            <MenuItem chosen={() => ask('move')}>To another day or person</MenuItem>
            <MenuItem chosen={() => ask('putBack')}>Put back, not done</MenuItem>
            <MenuItem chosen={() => ask('defer')}>Defer</MenuItem>
            <MenuItem chosen={() => ask('cannot')}>Cannot be done</MenuItem>
            <MenuItem chosen={() => void go(`/intake?job=${job.id}`)}>Bring in files for it</MenuItem>
          </DotsMenu>
        )}
      </div>
      {need === undefined || done ? null : (
        <p className="flex items-baseline gap-2 pl-[31px] font-condensed text-[14px]" data-need={need.standing}>
          <span className="self-center">
            <StandingMark standing={asStanding(need.standing)} size={12} />
          </span>
          <Cut className="min-w-0 flex-1">
            <Link
              className="underline decoration-quiet underline-offset-3"
              to={trendAddress(need.asset, need.series, need.lane)}
            >
              {need.reason}
            </Link>
          </Cut>
        </p>
      )}
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
