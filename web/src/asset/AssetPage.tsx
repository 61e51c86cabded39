import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { asset } from '../api/records';
import type { AssetView } from '../api/types';
import { usePlace } from '../app/place';
import { compareAddress, recordAddress, standingOf, verdictWord } from '../record/words';
import { dayAndTime, dayAt, dayWithYear, withUnit } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Mark } from '../ui/Mark';
import { LifeLine } from './LifeLine';
import { SmallMultiple } from './SmallMultiple';

/** The life of one asset: where it stood, when it was tested and repaired, and how each of its readings moved. */
export function AssetPage() {
  const { key = '' } = useParams();
  const view = useQuery({ queryKey: ['asset', key], queryFn: () => asset(key), refetchOnMount: 'always' });
  const at = view.data?.standings.find((s) => s.to === undefined);
  const name = view.data === undefined ? '' : `${view.data.maker} ${view.data.model}, no. ${view.data.serial}`;
  usePlace(name, <>{at === undefined ? '' : `${at.siteName} › ${at.position} › `}<b className="font-semibold">{name}</b></>, name);
  if (view.data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Looking up its life…</p>
    );
  }
  return <Life view={view.data} name={name} />;
}

function Life({ view, name }: { view: AssetView; name: string }) {
  const steps = [...new Set(view.series.map((s) => s.step))];
  const times = view.records.map((r) => Date.parse(r.finishedAt));
  const span: [number, number] = [Math.min(...times), Math.max(...times)];
  return (
    <main className="grid min-h-full grid-cols-[minmax(0,1fr)_292px] max-[1000px]:grid-cols-1">
      <section className="min-w-0 px-5 py-4" aria-label="Life">
        <h1 className="text-[21px] font-semibold">{name}</h1>
        <p className="font-condensed text-[16px] text-quiet">{view.title}</p>
        <LifeLine view={view} />
        {view.series.length === 0 ? <p className="mt-6 max-w-prose">Nothing has been measured on it yet. With its first record each test point gets a line here, with its limits and its repairs.</p> : null}
        {steps.map((step) => (
          <section key={step} className="mt-5" aria-label={step}>
            <h2 className="border-b border-rule pb-1 font-semibold">{step}</h2>
            <div className="grid grid-cols-3 gap-x-5 gap-y-2 max-[1000px]:grid-cols-2 max-[700px]:grid-cols-1">
              {view.series.filter((s) => s.step === step).map((s) => (
                <SmallMultiple key={`${s.series}${s.lane}`} series={s} span={span} repairs={view.repairs} zone={view.zone} />
              ))}
            </div>
          </section>
        ))}
      </section>
      <aside className="border-l border-rule px-4 py-4 max-[1000px]:border-t max-[1000px]:border-l-0" aria-label="What is known of it">
        <Last view={view} />
        <Standing view={view} />
        <Plate view={view} />
        <Repairs view={view} />
      </aside>
    </main>
  );
}

function Head({ children }: { children: string }) {
  return <h2 className="mt-5 mb-1 text-[13px] font-semibold text-quiet first:mt-0">{children}</h2>;
}

function Last({ view }: { view: AssetView }) {
  const [last, before] = view.records;
  const job = view.jobs[0];
  return (
    <>
      <Head>Last record</Head>
      {last === undefined ? <p>Never tested.</p> : (
        <>
          <p className="flex items-center gap-2">
            <Mark standing={standingOf(last)} silent />
            <Link className="font-semibold text-lake underline-offset-4 hover:underline" to={recordAddress(last.number)}>{last.number}</Link>
          </p>
          <p className="font-condensed text-[15px]">
            {verdictWord(last)}, {dayAt(last.finishedAt, last.zone)}, by {last.by}
          </p>
          {before !== undefined ? (
            <p>
              <Link className="inline-flex min-h-9 items-center font-semibold text-lake underline underline-offset-4" to={compareAddress(last.number, [before.number])}>Compare with the one before</Link>
            </p>
          ) : null}
          <p>
            <Link className="inline-flex min-h-9 items-center font-semibold text-lake underline underline-offset-4" to={`/records?asset=${encodeURIComponent(view.asset)}`}>All {view.records.length} records</Link>
          </p>
        </>
      )}
      <Head>Next due</Head>
      {job === undefined ? <p>No job is laid.</p> : (
        <p>
          {dayWithYear(job.due)}, {job.reason}
          {job.run !== undefined ? (
            <>
              . <Link className="font-semibold text-lake underline underline-offset-4" to={`/bench/${job.run}`}>Its run is open</Link>
            </>
          ) : null}
        </p>
      )}
    </>
  );
}

function Standing({ view }: { view: AssetView }) {
  return (
    <>
      <Head>Where it stands and stood</Head>
      <ul>
        {view.standings.map((s) => (
          <li key={s.from} className="border-b border-rule py-1">
            <b className="font-semibold">{s.position}</b>, {s.siteName}
            <br />
            <span className="font-condensed text-[14px] text-quiet">{s.to === undefined ? `since ${dayAt(s.from, view.zone)}` : `${dayAt(s.from, view.zone)} to ${dayAt(s.to, view.zone)}`}</span>
          </li>
        ))}
      </ul>
      {view.standings.length === 0 ? <p>Installed nowhere.</p> : null}
    </>
  );
}

function Plate({ view }: { view: AssetView }) {
  return (
    <>
      <Head>Nameplate</Head>
      <dl className="font-condensed text-[15px]">
        {view.nameplate.map((f) => (
          <div key={f.label} className="flex justify-between gap-3 border-b border-rule py-1">
            <dt className="text-quiet">{f.label}</dt>
            <dd className="font-mono text-[15px]">{withUnit(f.figure, f.unit)}</dd>
          </div>
        ))}
      </dl>
    </>
  );
}

function Repairs({ view }: { view: AssetView }) {
  return view.repairs.length === 0 ? null : (
    <>
      <Head>Adjusted and repaired</Head>
      <ul>
        {[...view.repairs].reverse().map((r) => (
          <li key={r.at} className="border-b border-rule py-1">
            {r.what}
            <br />
            <span className="font-condensed text-[14px] text-quiet">
              {dayAndTime(r.at, view.zone)}, {r.points.join(', ')}
              {r.number === undefined ? '' : ', '}
              {r.number === undefined ? null : <Link className="text-lake underline-offset-4 hover:underline" to={recordAddress(r.number)}>{r.number}</Link>}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
