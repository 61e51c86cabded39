import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { askProposal, currentProposal, stopProposal, takeUp, throwAway } from '../api/plan';
import type { Proposal, ProposalLine } from '../api/types';
import { useMoved } from '../app/moved';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { positionAddress } from '../register/address';
import { hours, mondayOf } from '../state/plan';
import { sharesOut } from '../state/roles';
import { longDay, numbered, plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { PlanNav } from './PlanNav';
import { ProposalLoad } from './ProposalLoad';

/** How often a proposal that is being worked on is looked at, ms. */
const WORKING = 400;

/** A proposal for the next weeks beside today's plan: made on demand, taken up whole, by week or by job. */
export function ProposalPage() {
  usePlace('Share out', <b className="font-semibold">Share out</b>, 'share out');
  usePlanNews();
  const person = useSession();
  const current = useQuery({
    queryKey: ['plan', 'proposal'],
    queryFn: currentProposal,
    refetchInterval: (q) => (q.state.data?.proposal?.status === 'working' ? WORKING : false),
  });
  const proposal = current.data?.proposal;
  return (
    <main className="px-5 pb-10">
      <PlanNav />
      {current.isPending ? <p className="mt-4 text-quiet">Looking for a proposal…</p> : null}
      {current.isError ? (
        <Notice action={<Button onClick={() => void current.refetch()}>Try again</Button>}>
          {current.error.message}
        </Notice>
      ) : null}
      {current.data !== undefined && (proposal === undefined || proposal.status === 'failed') ? (
        <>
          {proposal?.status === 'failed' ? (
            <div className="mt-4">
              <Notice>The last proposal came to nothing. {proposal.why} Ask for another.</Notice>
            </div>
          ) : null}
          <Ask may={sharesOut(person)} />
        </>
      ) : null}
      {proposal?.status === 'working' ? <Working of={proposal} may={sharesOut(person)} /> : null}
      {proposal?.status === 'ready' ? <Ready of={proposal} may={sharesOut(person)} /> : null}
    </main>
  );
}

const useFresh = (): (() => Promise<void>) => {
  const queries = useQueryClient();
  return () => queries.invalidateQueries({ queryKey: ['plan', 'proposal'] });
};

/** Asks for how many weeks. */
function Ask({ may }: { may: boolean }) {
  const [weeks, setWeeks] = useState(2);
  const fresh = useFresh();
  const ask = useMutation({ mutationFn: () => askProposal(weeks), onSettled: fresh });
  return (
    <section className="mt-5 max-w-[44rem]" aria-label="Ask for a proposal">
      <h1 className="text-[21px] font-semibold">Share out the open jobs</h1>
      <p className="mt-1">
        A proposal gives open jobs a day and a person, so that no window, absence, authorisation, outage, season, part
        or calibration is broken and little time goes into travel. What people have fixed stays. Nothing moves before
        you take it up.
      </p>
      {may ? (
        <>
          <fieldset className="mt-4">
            <legend className="font-semibold">Weeks from tomorrow on</legend>
            <div className="mt-1 flex flex-wrap" role="radiogroup" aria-label="Weeks">
              {[1, 2, 3, 4, 5, 6, 7, 8].map((n) => (
                <label
                  key={n}
                  className={`-ml-px flex h-11 w-12 cursor-pointer items-center justify-center border border-ink font-mono text-[16px] first:ml-0 has-focus-visible:outline-2 has-focus-visible:outline-lake ${n === weeks ? 'bg-lake font-semibold text-on-lake' : 'bg-sheet'}`}
                >
                  <input
                    type="radio"
                    name="weeks"
                    className="sr-only"
                    checked={n === weeks}
                    onChange={() => setWeeks(n)}
                    value={n}
                  />
                  {n}
                </label>
              ))}
            </div>
          </fieldset>
          <p className="mt-5">
            <Button weight="primary" disabled={ask.isPending} onClick={() => ask.mutate()} data-ask-proposal>
              Make a proposal
            </Button>
          </p>
          {ask.isError ? (
            <div className="mt-4">
              <Notice>{ask.error.message}</Notice>
            </div>
          ) : null}
        </>
      ) : (
        <p className="mt-4 text-quiet">A supervisor asks for one. There is none at the moment.</p>
      )}
    </section>
  );
}

function Working({ of, may }: { of: Proposal; may: boolean }) {
  const fresh = useFresh();
  const stop = useMutation({ mutationFn: () => stopProposal(of.id), onSettled: fresh });
  const share = Math.min(1, of.seconds / of.most);
  return (
    <section className="mt-5 max-w-[44rem]" aria-label="The work on the proposal">
      <h1 className="text-[21px] font-semibold">
        Sharing out {shortDay(of.first)} to {shortDay(of.last)}
      </h1>
      <p className="mt-3 font-mono text-[22px]" data-progress>
        {of.asked === 0 ? 'Gathering the jobs…' : `${of.placed} of ${of.asked}`}
      </p>
      <p className="text-quiet" aria-live="polite">
        {of.asked === 0
          ? 'Windows, absences, outages, authorisations, parts and gear are read.'
          : `jobs have a day; ${hours(of.travel)} on the way. Looking for less travel.`}
      </p>
      <div
        className="mt-3 h-3 border border-ink bg-sheet"
        role="progressbar"
        aria-label="Time of the work"
        aria-valuemin={0}
        aria-valuemax={of.most}
        aria-valuenow={Math.round(Math.min(of.most, of.seconds))}
      >
        <span className="block h-full bg-lake" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="mt-1 font-condensed text-[15px] text-quiet">
        {Math.floor(of.seconds)} s of at most {of.most} s; it ends sooner when nothing better is found.
      </p>
      {may ? (
        <p className="mt-4">
          <Button disabled={stop.isPending || of.asked === 0} onClick={() => stop.mutate()}>
            Stop with the best so far
          </Button>
        </p>
      ) : null}
      {stop.isError ? <Notice>{stop.error.message}</Notice> : null}
    </section>
  );
}

/** Lines in the order of the days, by week and then by day. */
function byWeek(lines: readonly ProposalLine[]): [string, [string, ProposalLine[]][]][] {
  const weeks = new Map<string, Map<string, ProposalLine[]>>();
  for (const line of lines) {
    const week = mondayOf(line.day);
    const days = weeks.get(week) ?? new Map<string, ProposalLine[]>();
    weeks.set(week, days);
    days.set(line.day, [...(days.get(line.day) ?? []), line]);
  }
  return [...weeks].map(([week, days]) => [week, [...days]]);
}

function Ready({ of, may }: { of: Proposal; may: boolean }) {
  const fresh = useFresh();
  const moved = useMoved();
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [left, setLeft] = useState<string[]>([]);
  const open = useMemo(() => of.lines.filter((l) => l.state === 'open'), [of.lines]);
  const taken = of.lines.filter((l) => l.state === 'taken' && !(l.wasDay === l.day && l.wasPerson === l.person)).length;
  const names = new Map(of.people.map((p) => [p.id, p.name]));
  const take = useMutation({
    mutationFn: (jobs: number[]) => takeUp(of.id, jobs),
    onSuccess: (done) => {
      setLeft(done.left);
      setChosen(new Set());
      moved();
    },
    onSettled: fresh,
  });
  const drop = useMutation({ mutationFn: () => throwAway(of.id), onSettled: fresh });
  const toggle = (job: number): void =>
    setChosen((now) => {
      const next = new Set(now);
      if (!next.delete(job)) {
        next.add(job);
      }
      return next;
    });
  const picked = open.filter((l) => chosen.has(l.job)).map((l) => l.job);
  const placed = of.lines.filter((l) => l.state !== 'fixed').length;
  return (
    <>
      <header className="mt-4 flex flex-wrap items-end gap-x-5 gap-y-2">
        <div className="min-w-[24rem] flex-1 max-[1000px]:min-w-full">
          <h1 className="text-[21px] font-semibold" data-proposal={of.id}>
            {open.length === 0
              ? taken > 0
                ? 'All of it is taken up'
                : 'Nothing to take up'
              : `${numbered(open.length, 'job')} to take up, ${shortDay(of.first)} to ${shortDay(of.last)}`}
          </h1>
          <p className="font-condensed text-[16px] text-quiet">
            {placed} of {placed + of.left.length} have a day; {hours(of.travel)} on the way with all of it,{' '}
            {of.travelNow === 0 ? 'none as planned today' : `${hours(of.travelNow)} as planned today`}. Made by{' '}
            {of.byName} in {Math.max(1, Math.round(of.seconds))} s.
          </p>
        </div>
        {may ? (
          <p className="flex flex-wrap gap-2">
            <Button disabled={drop.isPending} onClick={() => drop.mutate()}>
              {open.length === 0 ? 'Done with it' : 'Throw it away'}
            </Button>
            {open.length > 0 ? (
              <Button
                weight="primary"
                disabled={take.isPending}
                onClick={() => take.mutate(picked.length > 0 ? picked : open.map((l) => l.job))}
                data-take-up
              >
                {picked.length > 0 ? `Take up ${plural(picked.length, 'job')}` : `Take up all ${open.length}`}
              </Button>
            ) : null}
          </p>
        ) : null}
      </header>
      {take.isError ? <Notice>{take.error.message}</Notice> : null}
      {drop.isError ? <Notice>{drop.error.message}</Notice> : null}
      {left.length > 0 ? (
        <div className="mt-3">
          <Notice action={<Button onClick={() => setLeft([])}>Good</Button>}>
            <b className="font-semibold">{plural(left.length, 'job')} stayed as they were.</b> {left.join('; ')}.
          </Notice>
        </div>
      ) : null}
      <ProposalLoad of={of} />
      <div className="mt-5 grid grid-cols-[minmax(0,1fr)_312px] gap-x-6 max-[1000px]:grid-cols-1">
        <section aria-label="Proposed days" className="min-w-0">
          {of.lines.length === 0 ? (
            <p className="py-3 text-quiet">
              No open job can be done in these weeks. Why is beside each; with more weeks, outages or hours there may be
              more.
            </p>
          ) : null}
          {byWeek(of.lines).map(([week, days]) => {
            const ready = days.flatMap(([, lines]) => lines).filter((l) => l.state === 'open');
            return (
              <section key={week} className="mb-5" aria-label={`Week of ${shortDay(week)}`} data-proposed-week={week}>
                <div className="flex min-h-11 items-center justify-between border-b border-ink">
                  <h2 className="py-2 font-semibold">
                    Week of {shortDay(week)}
                    <span className="font-normal text-quiet">
                      {ready.length > 0 ? `, ${plural(ready.length, 'job')} to take up` : ', nothing left to take up'}
                    </span>
                  </h2>
                  {may && ready.length > 0 ? (
                    <Button
                      weight="quiet"
                      disabled={take.isPending}
                      onClick={() => take.mutate(ready.map((l) => l.job))}
                      data-take-week
                    >
                      Take up this week
                    </Button>
                  ) : null}
                </div>
                {days.map(([day, lines]) => (
                  <Day key={day} day={day} lines={lines} names={names} may={may} chosen={chosen} toggle={toggle} />
                ))}
              </section>
            );
          })}
        </section>
        <aside aria-label="Without a day">
          <h2 className="border-b border-ink py-2 font-semibold">
            {of.left.length === 0 ? 'Everything has a day' : `Without a day, ${plural(of.left.length, 'job')}`}
          </h2>
          {of.left.length === 0 ? (
            <p className="py-2 font-condensed text-quiet">All that is due in these weeks found a day.</p>
          ) : null}
          <ul>
            {of.left.map((l) => (
              <li key={l.job} className="border-b border-rule py-2" data-left={l.position}>
                <p>
                  <Link
                    className="font-semibold text-lake underline-offset-4 hover:underline"
                    to={positionAddress(l.position)}
                  >
                    {l.position}
                  </Link>
                  <span className="font-condensed text-quiet">
                    {' '}
                    {l.title.toLowerCase()}, due {shortDay(l.due)}
                  </span>
                </p>
                {l.words.map((w) => (
                  <p key={w} className="font-condensed text-[15px]">
                    {w}
                  </p>
                ))}
              </li>
            ))}
          </ul>
        </aside>
      </div>
    </>
  );
}

const STATE: Partial<Record<ProposalLine['state'], string>> = {
  fixed: 'fixed there',
  taken: 'taken up',
  changed: 'decided otherwise since',
};

function Day({
  day,
  lines,
  names,
  may,
  chosen,
  toggle,
}: {
  day: string;
  lines: ProposalLine[];
  names: ReadonlyMap<string, string>;
  may: boolean;
  chosen: ReadonlySet<number>;
  toggle: (job: number) => void;
}) {
  const people = [...new Set(lines.map((l) => l.person))];
  const name = (id: string | undefined): string => (id === undefined ? 'nobody' : (names.get(id) ?? id));
  return (
    <div className="grid grid-cols-[92px_minmax(0,1fr)] border-b border-rule max-[700px]:grid-cols-1">
      <h3 className="pt-2 font-condensed text-[15px] leading-tight">
        {longDay(day).split(' ')[0]?.replace(',', '')}
        <span className="block text-quiet">{shortDay(day)}</span>
      </h3>
      <div>
        {people.map((person) => (
          <section key={person} aria-label={`${name(person)}, ${shortDay(day)}`}>
            <p className="pt-2 font-condensed text-[14px] text-quiet">
              {name(person)}, {hours(lines.filter((l) => l.person === person).reduce((n, l) => n + l.minutes, 0))} of
              work
            </p>
            <ul>
              {lines
                .filter((l) => l.person === person)
                .map((l) => {
                  const stays = l.wasDay === l.day && l.wasPerson === l.person;
                  const open = l.state === 'open';
                  return (
                    <li
                      key={l.job}
                      className="flex items-start gap-2 py-1"
                      data-proposed={l.position}
                      data-at={l.state}
                    >
                      {may && open ? (
                        <label className="-m-2 flex h-11 w-11 shrink-0 items-center justify-center">
                          <input
                            type="checkbox"
                            checked={chosen.has(l.job)}
                            onChange={() => toggle(l.job)}
                            aria-label={`Choose ${l.position}, ${shortDay(l.day)}`}
                          />
                        </label>
                      ) : (
                        <span className="w-7 shrink-0" />
                      )}
                      <p className={`min-w-0 flex-1 leading-snug ${open ? '' : 'text-quiet'}`}>
                        <Link
                          to={positionAddress(l.position)}
                          className={`font-semibold underline-offset-4 hover:underline ${open ? 'text-lake' : ''}`}
                        >
                          {l.position}
                        </Link>{' '}
                        <span className="font-condensed">
                          {l.title.toLowerCase()}, {l.minutes} min
                        </span>
                        <span className="block font-condensed text-[15px] text-quiet">
                          {STATE[l.state] !== undefined && !(l.state === 'taken' && stays) ? (
                            <b className="font-semibold text-ink">
                              {STATE[l.state]}
                              {l.reasons.length > 0 ? '; ' : ''}
                            </b>
                          ) : null}
                          {l.reasons.join(', ')}
                          {open && l.wasDay !== undefined
                            ? `; in today’s plan on ${shortDay(l.wasDay)}, ${name(l.wasPerson)}`
                            : ''}
                        </span>
                      </p>
                    </li>
                  );
                })}
            </ul>
          </section>
        ))}
      </div>
    </div>
  );
}
