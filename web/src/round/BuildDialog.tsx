import { useMutation, useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { resources } from '../api/plan';
import { addToRound, freeJobs, MOST_FREE } from '../api/round';
import type { FreeJob, Round } from '../api/types';
import { useMoved } from '../app/moved';
import { daysBetween, hours } from '../state/plan';
import { numbered, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Option, Select } from '../ui/Select';

/** How near the end of its window something must be to be listed at first. */
const NEAR_DAYS = 14;

/** Picks jobs for a day: what may be done on it, by site along the line. */
export function BuildDialog({ day, shows, close }: { day: Round; shows: (next: Round) => void; close: () => void }) {
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [all, setAll] = useState(false);
  const [site, setSite] = useState('');
  const free = useQuery({
    queryKey: ['round', 'free', day.person, day.day, site],
    queryFn: () => freeJobs(day.person, day.day, site),
    placeholderData: (was: FreeJob[] | undefined) => was,
  });
  const known = useQuery({ queryKey: ['resources'], queryFn: resources });
  const moved = useMoved();
  const add = useMutation({
    mutationFn: () => addToRound(day.person, day.day, [...chosen]),
    onSuccess: (next) => {
      shows(next);
      moved();
      close();
    },
  });
  const jobs = useMemo(
    () =>
      (free.data ?? []).filter(
        (j) =>
          (site === '' || j.site === site) &&
          (all || chosen.has(j.id) || j.over || daysBetween(day.day, j.due) <= NEAR_DAYS),
      ),
    [free.data, all, site, chosen, day.day],
  );
  const minutes = (free.data ?? []).filter((j) => chosen.has(j.id)).reduce((sum, j) => sum + j.minutes, 0);
  const toggle = (ids: number[], on: boolean): void =>
    setChosen((was) => {
      const next = new Set(was);
      ids.forEach((id) => (on ? next.add(id) : next.delete(id)));
      return next;
    });
  const groups = new Map<string, FreeJob[]>();
  jobs.forEach((j) => groups.set(j.site, [...(groups.get(j.site) ?? []), j]));
  return (
    <Dialog title={`Jobs for ${day.name}, ${shortDay(day.day)}`} close={close} wide>
      <div className="mb-3 flex flex-wrap items-center gap-4">
        <label className="flex items-center gap-2">
          <span className="text-[14px] font-semibold">Site</span>
          <Select value={site} onChange={(picked) => setSite(picked)}>
            <Option value="">all along the line</Option>
            {known.data?.sites.map((s) => (
              <Option key={s.code} value={s.code}>
                {s.name}
              </Option>
            ))}
          </Select>
        </label>
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={all} onChange={(e) => setAll(e.target.checked)} /> also what is due later but
          may be done already
        </label>
      </div>
      {free.isPending ? <p className="text-quiet">Looking what may be done on this day…</p> : null}
      {free.isError ? <Notice>{free.error.message}</Notice> : null}
      {free.isSuccess && jobs.length === 0 ? (
        <p className="text-quiet">
          {free.data.length === 0
            ? 'Nothing that may be done on this day is without a day.'
            : `Nothing is due within ${NEAR_DAYS} days; ${free.data.length} may be done already.`}
        </p>
      ) : null}
      {(free.data?.length ?? 0) >= MOST_FREE ? (
        <p className="mb-2 font-condensed">
          Only the {MOST_FREE} that are due first are listed; choose a site to see all of it.
        </p>
      ) : null}
      <div className="max-h-[52vh] overflow-y-auto">
        {[...groups.entries()].map(([code, list]) => (
          <fieldset key={code} className="mb-3">
            <legend className="flex w-full items-baseline gap-3 border-b border-ink font-semibold">
              {list[0]?.siteName}{' '}
              <span className="font-mono text-[13px] font-medium">{list[0]?.km.toFixed(1)}&#8198;km</span>
              <span className="font-condensed text-[14px] font-normal text-quiet">
                {(list[0]?.detour ?? 0) === 0 ? 'on the way' : `${list[0]?.detour ?? 0} min more on the way`}
              </span>
              <span className="flex-1" />
              <button
                type="button"
                className="font-condensed text-[14px] text-lake underline-offset-4 hover:underline"
                onClick={() =>
                  toggle(
                    list.map((j) => j.id),
                    !list.every((j) => chosen.has(j.id)),
                  )
                }
              >
                {list.every((j) => chosen.has(j.id)) ? 'none' : 'all'}
              </button>
            </legend>
            {list.map((job) => (
              <Choice key={job.id} job={job} on={chosen.has(job.id)} toggle={(on) => toggle([job.id], on)} />
            ))}
          </fieldset>
        ))}
      </div>
      {add.isError ? <Notice>{add.error.message}</Notice> : null}
      <p className="mt-4 flex items-center justify-end gap-4">
        <span className="flex-1 font-condensed text-quiet">
          {chosen.size === 0
            ? 'Nothing is chosen.'
            : `${numbered(chosen.size, 'job')}, ${hours(minutes)}: with it ${hours(day.work + minutes)} of work.`}
        </span>
        <Button onClick={close}>Leave it</Button>
        <Button weight="primary" disabled={chosen.size === 0 || add.isPending} onClick={() => add.mutate()} data-send>
          Add to the round
        </Button>
      </p>
    </Dialog>
  );
}

function Choice({ job, on, toggle }: { job: FreeJob; on: boolean; toggle: (on: boolean) => void }) {
  return (
    <label className="flex items-start gap-3 border-b border-rule py-1.5" data-free={job.position}>
      <input type="checkbox" className="mt-0.5 shrink-0" checked={on} onChange={(e) => toggle(e.target.checked)} />
      <span className="min-w-0 flex-1">
        <b className="font-semibold">{job.position}</b> {job.title}
        <span className="block font-condensed text-[14px] text-quiet">
          <span className={job.over ? 'font-semibold text-ink' : ''}>
            {job.over
              ? `due ${shortDay(job.due)}, over since ${shortDay(job.closes)}`
              : `due ${shortDay(job.due)}, window to ${shortDay(job.closes)}`}
          </span>
          , {job.reason}
          {job.lacks.length > 0 ? <span className="text-ink">. Not ready: {job.lacks.join('; ')}</span> : null}
        </span>
      </span>
      <span className="font-condensed whitespace-nowrap text-quiet">{job.minutes} min</span>
    </label>
  );
}
