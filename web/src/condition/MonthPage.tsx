import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { monthOf } from '../api/condition';
import type { MonthFigures, MonthView } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { recordAddress } from '../record/words';
import { positionAddress } from '../register/address';
import { dayWithYear, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { asStanding, StandingMark } from '../ui/StandingMark';
import { briefly, trendAddress } from './words';

const LINK = 'font-semibold text-lake underline-offset-4 hover:underline';

/** A month away from another, as 2026-11. */
function shifted(month: string, by: number): string {
  const [y = 0, m = 1] = month.split('-').map(Number);
  const at = new Date(Date.UTC(y, m - 1 + by, 1));
  return `${at.getUTCFullYear()}-${String(at.getUTCMonth() + 1).padStart(2, '0')}`;
}

const day = (instant: string): string => shortDay(instant.slice(0, 10));
const share = (part: number, all: number): string => (all === 0 ? '-' : `${Math.round((100 * part) / all)}\u2006%`);

/** What a month came to, on one page: for who answers for the fleet, to read, print and hand on. */
export function MonthPage() {
  const [given, set] = useSearchParams();
  const month = given.get('month') ?? '';
  usePlanNews();
  const view = useQuery({
    queryKey: ['condition', 'month', month],
    queryFn: () => monthOf(month),
    placeholderData: (before) => before,
    refetchOnMount: 'always',
  });
  usePlace('The month', <b className="font-semibold">Condition › The month</b>, 'month');
  if (view.data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Counting the month…</p>
    );
  }
  const { data } = view;
  const to = (by: number): void => set({ month: shifted(data.month, by) }, { replace: true });
  return (
    <main className="px-5 pt-4 pb-10">
      <header className="flex flex-wrap items-center gap-x-3 gap-y-2">
        <h1 className="min-w-0 flex-1 text-[21px] font-semibold" data-month={data.month}>
          The fleet in {data.name}
        </h1>
        <Button aria-label="The month before" onClick={() => to(-1)}>
          ‹
        </Button>
        <Button aria-label="The month after" disabled={data.month >= data.today.slice(0, 7)} onClick={() => to(1)}>
          ›
        </Button>
        <a
          className="inline-flex min-h-11 items-center rounded-xs border border-ink bg-sheet px-4 font-semibold"
          href={`/api/month/paper?month=${data.month}`}
          download
          data-paper
        >
          PDF
        </a>
      </header>
      {view.isError ? <Notice>{view.error.message}</Notice> : null}
      <Figures own={data.own} coming={data.coming.length} />
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-8 max-[1000px]:grid-cols-1">
        <div className="min-w-0">
          <Coming view={data} />
          <Part title="Moved" none="Nothing was deferred." count={data.moved.length}>
            {data.moved.map((m) => (
              <Line key={`${m.position} ${m.at}`} position={m.position}>
                {m.title}, due {dayWithYear(m.due)},{' '}
                {m.until === undefined ? 'cannot be done' : `to ${dayWithYear(m.until)}`}: {m.why} ({m.by})
              </Line>
            ))}
          </Part>
          <Part title="Fails most often, twelve months" none="Nothing failed." count={data.steps.length}>
            {data.steps.map((s) => (
              <li key={`${s.title} ${s.label}`} className="flex gap-3 border-b border-rule py-1">
                <span className="min-w-0 flex-1">
                  {s.label}, <span className="text-quiet">{s.title}</span>
                </span>
                <span className="font-mono text-[14px] whitespace-nowrap">
                  {s.failed} of {s.of}
                </span>
              </li>
            ))}
          </Part>
        </div>
        <div className="min-w-0">
          <Part title="Failed at a test" none="Nothing failed." count={data.failed.length}>
            {data.failed.map((f) => (
              <Line key={f.record} position={f.position}>
                {f.what}, {day(f.at)}.{' '}
                <Link className={LINK} to={recordAddress(f.record)}>
                  {f.record}
                </Link>
                <span className={f.since === 'open' ? 'font-semibold' : 'text-quiet'}>, {f.since}</span>
              </Line>
            ))}
          </Part>
          <Part title="Found and put right" none="Nothing was repaired or adjusted." count={data.repaired.length}>
            {data.repaired.map((r) => (
              <Line key={`${r.position} ${r.at}`} position={r.position}>
                {r.what}, {day(r.at)}
                {r.record === undefined ? null : (
                  <>
                    .{' '}
                    <Link className={LINK} to={recordAddress(r.record)}>
                      {r.record}
                    </Link>
                  </>
                )}
              </Line>
            ))}
          </Part>
          <Part
            title="Failed in service"
            none="None was entered. A failure between tests is entered on the page of its device."
            count={data.inService.length}
          >
            {data.inService.map((f) => (
              <Line key={`${f.position} ${f.at}`} position={f.position}>
                {f.what}, {day(f.at)}
              </Line>
            ))}
          </Part>
        </div>
      </div>
      <Year view={data} />
    </main>
  );
}

function Figures({ own, coming }: { own: MonthFigures; coming: number }) {
  const settled = own.due - own.ahead;
  const all: readonly [string, string, string][] = [
    [`${own.inWindow} of ${settled}`, 'done in their window', own.ahead > 0 ? `${own.ahead} still ahead` : ''],
    [share(own.first, own.tested), 'passed at once', `${own.first} of ${own.tested} records`],
    [String(own.failed), 'failed at a test', `${own.putRight} put right`],
    [String(own.inService), 'failed in service', ''],
    [String(coming), 'meet a limit', 'within 12 months'],
  ];
  return (
    <dl className="mt-3 grid grid-cols-5 border-y border-ink max-[1000px]:grid-cols-3">
      {all.map(([figure, words, more]) => (
        <div key={words} className="flex flex-col-reverse justify-end py-2">
          <dt className="font-condensed text-[15px]">
            {words}
            <span className="block text-[14px] text-quiet">{more}</span>
          </dt>
          <dd className="font-mono text-[28px] leading-tight font-semibold">{figure}</dd>
        </div>
      ))}
    </dl>
  );
}

function Part({ title, none, count, children }: { title: string; none: string; count: number; children: ReactNode }) {
  return (
    <section className="mt-5" aria-label={title}>
      <h2 className="border-b border-ink pb-1 font-semibold">
        {title} {count > 0 ? <span className="font-normal text-quiet">{count}</span> : null}
      </h2>
      {count === 0 ? (
        <p className="py-1 text-quiet">{none}</p>
      ) : (
        <ul className="font-condensed text-[15px]">{children}</ul>
      )}
    </section>
  );
}

function Line({ position, children }: { position: string; children: ReactNode }) {
  return (
    <li className="grid grid-cols-[108px_minmax(0,1fr)] gap-x-2 border-b border-rule py-1">
      <Link className={LINK} to={positionAddress(position)}>
        {position}
      </Link>
      <span>{children}</span>
    </li>
  );
}

function Coming({ view }: { view: MonthView }) {
  return (
    <Part title="Will meet a limit within 12 months" none="Nothing drifts that fast." count={view.coming.length}>
      {view.coming.map((c) => (
        <li
          key={c.asset}
          className="grid grid-cols-[16px_108px_minmax(0,1fr)_auto] items-baseline gap-x-2 border-b border-rule py-1"
          data-coming={c.position}
        >
          <span className="self-center">
            <StandingMark standing={asStanding(c.standing)} size={12} coloured />
          </span>
          <Link className={LINK} to={trendAddress(c.asset, c.series, c.lane)}>
            {c.position}
          </Link>
          <span className="min-w-0 text-quiet">{c.label}</span>
          <span className="text-right font-semibold">{briefly(c.meets)}</span>
        </li>
      ))}
    </Part>
  );
}

const COLUMNS: readonly [string, (f: MonthFigures) => string | number][] = [
  ['due', (f) => f.due],
  ['in window', (f) => f.inWindow],
  ['late', (f) => f.late],
  ['missed', (f) => f.missed],
  ['over', (f) => f.over],
  ['records', (f) => f.tested],
  ['passed at once', (f) => share(f.first, f.tested)],
  ['failed', (f) => f.failed],
  ['put right', (f) => f.putRight],
  ['in service', (f) => f.inService],
];

function Year({ view }: { view: MonthView }) {
  return (
    <section className="mt-6 overflow-x-auto" aria-label="Twelve months">
      <h2 className="font-semibold">Twelve months</h2>
      <table className="w-full border-collapse">
        <thead>
          <tr className="border-b border-ink font-condensed text-[13px] text-quiet">
            <th className="text-left font-normal">month</th>
            {COLUMNS.map(([word]) => (
              <th key={word} className="px-1 text-right font-normal">
                {word}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.year.map((f) => (
            <tr
              key={f.month}
              className={`border-b border-rule ${f.month === view.month ? 'font-semibold' : ''}`}
              data-figures={f.month}
            >
              <td className="py-0.5">
                <Link className={LINK} to={`/condition/month?month=${f.month}`}>
                  {f.name}
                </Link>
              </td>
              {COLUMNS.map(([word, of]) => (
                <td key={word} className="px-1 text-right font-mono text-[14px]">
                  {of(f)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
