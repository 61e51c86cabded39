import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { compliance, complianceFile, complianceJobs, resources, type Period } from '../api/plan';
import type { ComplianceCell, ComplianceJob, ComplianceReport } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { dayWithYear, plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Menu, MenuItem } from '../ui/Menu';
import { PlanNav } from './PlanNav';
import { Option, Select } from '../ui/Select';

const OUTCOMES = {
  inWindow: 'in its window',
  late: 'late',
  missed: 'missed',
  over: 'over, still open',
  ahead: 'still ahead',
} as const;
type Outcome = keyof typeof OUTCOMES;

/** The first day of the quarter three quarters back: four quarters with the running one. */
function aYearBack(): string {
  const now = new Date();
  return new Date(Date.UTC(now.getFullYear(), Math.floor(now.getMonth() / 3) * 3 - 9, 1)).toISOString().slice(0, 10);
}

/** What was due, what came of it, and why not: by procedure and period, leading to the records. */
export function CompliancePage() {
  usePlace('Due and done', <b className="font-semibold">Plan › Due and done</b>, 'compliance');
  usePlanNews();
  const [params, setParams] = useSearchParams();
  const site = params.get('site') ?? '';
  const period: Period = {
    from: params.get('from') ?? aYearBack(),
    to: params.get('to') ?? new Date().toLocaleDateString('sv'),
    by: params.get('by') ?? 'quarter',
    ...(site === '' ? {} : { site }),
  };
  const set = (change: Record<string, string>): void =>
    setParams(
      (was) => {
        const next = new URLSearchParams(was);
        Object.entries(change).forEach(([k, v]) => (v === '' ? next.delete(k) : next.set(k, v)));
        return next;
      },
      { replace: true },
    );
  const report = useQuery({
    queryKey: ['compliance', period],
    queryFn: () => compliance(period),
    placeholderData: (was: ComplianceReport | undefined) => was,
  });
  const sites = useQuery({ queryKey: ['resources'], queryFn: resources });
  return (
    <main className="px-5 pb-8">
      <PlanNav />
      <header className="my-4 flex flex-wrap items-center gap-3">
        <h1 className="mr-3 text-[21px] font-semibold">Due and done</h1>
        <label className="flex items-center gap-2">
          <span className="font-condensed text-quiet">due from</span>{' '}
          <DateField value={period.from} onChange={(day) => set({ from: day })} told="left" past />
        </label>
        <label className="flex items-center gap-2">
          <span className="font-condensed text-quiet">to</span>{' '}
          <DateField value={period.to} onChange={(day) => set({ to: day })} told="left" past />
        </label>
        <Select aria-label="Periods" value={period.by} onChange={(picked) => set({ by: picked })}>
          <Option value="month">by month</Option>
          <Option value="quarter">by quarter</Option>
          <Option value="year">by year</Option>
        </Select>
        <Select aria-label="Site" value={site} onChange={(picked) => set({ site: picked })}>
          <Option value="">all sites</Option>
          {sites.data?.sites.map((s) => (
            <Option key={s.code} value={s.code}>
              {s.name}
            </Option>
          ))}
        </Select>
        <span className="flex-1" />
        <Menu word="Hand out">
          <MenuItem chosen={() => window.open(complianceFile('paper', period), '_blank')}>Report (PDF)</MenuItem>
          <MenuItem chosen={() => window.open(complianceFile('table', period), '_blank')}>
            Every job as a row (CSV)
          </MenuItem>
        </Menu>
      </header>
      {report.isError ? (
        <Notice action={<Button onClick={() => void report.refetch()}>Try again</Button>}>
          The report cannot be shown. {report.error.message}
        </Notice>
      ) : null}
      {report.isPending ? <p className="text-quiet">Counting…</p> : null}
      {report.data !== undefined ? <Report report={report.data} chosen={params} choose={set} site={site} /> : null}
    </main>
  );
}

function Report({
  report,
  chosen,
  choose,
  site,
}: {
  report: ComplianceReport;
  chosen: URLSearchParams;
  choose: (change: Record<string, string>) => void;
  site: string;
}) {
  const total = report.all.reduce<ComplianceCell>(
    (sum, c) => ({
      ...sum,
      due: sum.due + c.due,
      inWindow: sum.inWindow + c.inWindow,
      late: sum.late + c.late,
      missed: sum.missed + c.missed,
      over: sum.over + c.over,
      ahead: sum.ahead + c.ahead,
    }),
    {
      period: 'all',
      from: report.from,
      to: report.to,
      due: 0,
      inWindow: 0,
      late: 0,
      missed: 0,
      over: 0,
      ahead: 0,
      whys: [],
    },
  );
  const whole = { ...total, settled: total.due - total.ahead };
  const procedure = chosen.get('procedure') ?? '';
  const cell = chosen.get('cell') ?? '';
  const row = report.rows.find((r) => r.procedure === procedure);
  const at =
    procedure === ''
      ? cell === 'all'
        ? total
        : report.all.find((c) => c.from === cell)
      : cell === 'all'
        ? row?.total
        : row?.periods.find((c) => c.from === cell);
  if (whole.due === 0) {
    return (
      <p className="text-quiet">
        Nothing was due in these days{site === '' ? '' : ' at this site'}. Choose other days above.
      </p>
    );
  }
  return (
    <>
      <p className="mb-3 text-[17px]">
        <b className="font-semibold">
          {whole.settled === 0
            ? 'Nothing is settled yet'
            : `${((100 * whole.inWindow) / whole.settled).toFixed(1)} % in their window`}
        </b>
        <span className="text-quiet">
          {' '}
          of {plural(whole.settled, 'job')} whose window is past or that are done: {whole.late} late, {whole.missed}{' '}
          missed, {whole.over} over and still open.
        </span>
      </p>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse font-condensed text-[15px]">
          <thead>
            <tr className="border-b border-ink text-right text-[14px] text-quiet">
              <th className="py-1 text-left font-normal">procedure</th>
              {report.all.map((c) => (
                <th key={c.period} className="px-2 py-1 font-normal whitespace-nowrap">
                  {c.period}
                </th>
              ))}
              <th className="py-1 pl-2 font-normal">in all</th>
            </tr>
          </thead>
          <tbody>
            <Row
              name="All procedures"
              cells={[...report.all, total]}
              code=""
              chosen={procedure === '' ? cell : ''}
              choose={choose}
              strong
            />
            {report.rows.map((r) => (
              <Row
                key={r.procedure}
                name={r.title}
                cells={[...r.periods, r.total]}
                code={r.procedure}
                chosen={procedure === r.procedure ? cell : ''}
                choose={choose}
              />
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 font-condensed text-[14px] text-quiet">
        In each field: done in the window, of those due; beneath what was done late, missed because the next came, or is
        over its window and still open. The rest is still ahead.
      </p>
      {at !== undefined ? (
        <Jobs
          cell={at}
          procedure={procedure}
          title={row?.title ?? 'All procedures'}
          site={site}
          whole={cell === 'all' ? report : null}
        />
      ) : (
        <p className="mt-4 text-quiet">Choose a field to see its jobs, the reasons, and the records they led to.</p>
      )}
    </>
  );
}

function Row({
  name,
  cells,
  code,
  chosen,
  choose,
  strong = false,
}: {
  name: string;
  cells: ComplianceCell[];
  code: string;
  chosen: string;
  choose: (change: Record<string, string>) => void;
  strong?: boolean;
}) {
  return (
    <tr className={`border-b border-rule ${strong ? 'border-b-ink' : ''}`} data-compliance={code === '' ? 'all' : code}>
      <th className={`py-1 pr-3 text-left ${strong ? 'font-semibold' : 'font-normal'}`}>{name}</th>
      {cells.map((c) => {
        const key = c.period === 'all' ? 'all' : c.from;
        const lacking = (
          [
            [c.late, 'late'],
            [c.missed, 'missed'],
            [c.over, 'over'],
          ] as const
        ).filter(([n]) => n !== 0);
        return (
          <td key={c.period} className="p-0 text-right">
            {c.due === 0 ? (
              <span className="px-2 text-quiet">·</span>
            ) : (
              <button
                type="button"
                className={`min-h-9 w-full px-2 py-1 text-right leading-tight ${chosen === key ? 'outline-2 -outline-offset-2 outline-lake' : ''}`}
                onClick={() => choose({ procedure: code, cell: key })}
              >
                <span className="sr-only">
                  {name}, {c.period}, done in window of those due:{' '}
                </span>
                <span className="font-mono text-[14px]">
                  <b className="font-semibold">{c.inWindow}</b>
                  <span className="text-quiet">/{c.due}</span>
                </span>
                {lacking.map(([n, w]) => (
                  <span key={w} className="block text-[13px] leading-[15px] font-semibold">
                    {n} {w}
                  </span>
                ))}
              </button>
            )}
          </td>
        );
      })}
    </tr>
  );
}

function Jobs({
  cell,
  procedure,
  title,
  site,
  whole,
}: {
  cell: ComplianceCell;
  procedure: string;
  title: string;
  site: string;
  whole: ComplianceReport | null;
}) {
  const from = whole?.from ?? cell.from;
  const to = whole?.to ?? cell.to;
  const jobs = useQuery({
    queryKey: ['compliance', 'jobs', procedure, from, to, site],
    queryFn: () =>
      complianceJobs({ from, to, ...(procedure === '' ? {} : { procedure }), ...(site === '' ? {} : { site }) }),
  });
  const order: Outcome[] = ['over', 'missed', 'late', 'inWindow', 'ahead'];
  return (
    <section className="mt-6" aria-label="Jobs of the field">
      <h2 className="border-b border-ink pb-1 font-semibold">
        {title}, due {shortDay(from)} to {dayWithYear(to)}
      </h2>
      {cell.whys.length > 0 ? (
        <p className="py-2 font-condensed text-[15px]">
          Why not in time: {cell.whys.map((w) => (w.count === 1 ? w.why : `${w.why} (${w.count})`)).join('; ')}.
        </p>
      ) : null}
      {jobs.isError ? <Notice>{jobs.error.message}</Notice> : null}
      {jobs.isPending ? <p className="py-2 text-quiet">Fetching the jobs…</p> : null}
      <ul>
        {[...(jobs.data ?? [])]
          .sort((a, b) => order.indexOf(a.outcome) - order.indexOf(b.outcome))
          .map((job) => (
            <One key={job.id} job={job} all={procedure === ''} />
          ))}
      </ul>
    </section>
  );
}

function One({ job, all }: { job: ComplianceJob; all: boolean }) {
  return (
    <li className="grid grid-cols-[150px_130px_minmax(0,1fr)_120px_170px] items-baseline gap-3 border-b border-rule py-1.5 font-condensed text-[15px] max-[1000px]:grid-cols-[120px_110px_minmax(0,1fr)_150px]">
      <Link to={`/register/position/${job.position}`} className="font-semibold underline-offset-4 hover:underline">
        {job.position}
      </Link>
      <span className="whitespace-nowrap">due {shortDay(job.due)}</span>
      <span className="min-w-0">
        <b className={job.outcome === 'inWindow' || job.outcome === 'ahead' ? 'font-normal' : 'font-semibold'}>
          {OUTCOMES[job.outcome]}
        </b>
        {job.doneOn === undefined ? '' : `, done ${dayWithYear(job.doneOn)}`}
        {job.why === '' ? '' : `: ${job.why}`}
        {all ? <span className="text-quiet">, {job.title.toLowerCase()}</span> : null}
      </span>
      <span className="text-quiet max-[1000px]:hidden">{job.reason}</span>
      {job.record === undefined ? (
        <span className="text-quiet">no record</span>
      ) : (
        <Link to={`/records/${job.record}`} className="font-semibold text-lake underline-offset-4 hover:underline">
          {job.record}
        </Link>
      )}
    </li>
  );
}
