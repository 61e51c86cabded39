import { useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { asset } from '../api/records';
import { assetPage, bar, bringBack, clear, remove, retire } from '../api/register';
import type { AssetPage as AssetPageView, AssetView } from '../api/types';
import { usePlace } from '../app/place';
import { HappenedDialog } from '../plan/HappenedDialog';
import { RaiseDialog } from '../plan/RaiseDialog';
import { DeviceJobs } from '../job/DeviceJobs';
import { compareAddress, recordAddress, standingOf, verdictWord } from '../record/words';
import { positionAddress } from '../register/address';
import { trendAddress } from '../condition/words';
import { useClasses } from '../register/AssetFields';
import { BarredNotice } from '../register/BarredNotice';
import { Changes } from '../register/Changes';
import { Editable } from '../register/Editable';
import { RouteValue } from '../register/RouteField';
import { ExtraValues } from '../register/ExtraValues';
import { Files } from '../register/Files';
import { ReasonDialog } from '../register/ReasonDialog';
import { plateText } from '../register/words';
import { dayAndTime, dayAt, dayWithYear } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Mark } from '../ui/Mark';
import { Menu, MenuItem } from '../ui/Menu';
import { testSetAddress } from '../testset/address';
import { LifeLine } from './LifeLine';
import { SmallMultiple } from './SmallMultiple';

/** The life of one asset: where it stood, when it was tested and repaired, and how each of its readings moved. */
export function AssetPage() {
  const { key = '' } = useParams();
  const view = useQuery({ queryKey: ['asset', key], queryFn: () => asset(key), refetchOnMount: 'always' });
  const at = view.data?.standings.find((s) => s.to === undefined);
  const name = view.data === undefined ? '' : `${view.data.maker} ${view.data.model}, no. ${view.data.serial}`;
  usePlace(
    name,
    <>
      {at === undefined ? '' : `${at.siteName} › ${at.position} › `}
      <b className="font-semibold">{name}</b>
    </>,
    name,
  );
  if (view.data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Looking up its life…</p>
    );
  }
  return <Life key={view.data.asset} view={view.data} name={name} />;
}

function Life({ view, name }: { view: AssetView; name: string }) {
  // What is measured once and not by lanes stands together, each under its own name.
  const alone = view.series.filter((s) => s.lane === '-');
  const steps = [...new Set(view.series.filter((s) => s.lane !== '-').map((s) => s.step))];
  const times = view.records.map((r) => Date.parse(r.finishedAt));
  const span: [number, number] = [Math.min(...times), Math.max(...times)];
  const own = useQuery({
    queryKey: ['register', 'asset', view.asset],
    queryFn: () => assetPage(view.asset),
    refetchOnMount: 'always',
  });
  return (
    <>
      <BarredNotice asset={view.asset} zone={view.zone} />
      <main className="grid min-h-full grid-cols-[minmax(0,1fr)_312px] max-[1000px]:grid-cols-1">
        <section className="min-w-0 px-5 pt-4 pb-24" aria-label="Life">
          <header className="flex flex-wrap items-center gap-x-4">
            <h1 className="min-w-0 flex-1 text-[21px] font-semibold">{name}</h1>
            {view.series.length > 0 ? (
              <Link
                className="inline-flex min-h-11 items-center font-semibold text-lake underline underline-offset-4"
                to={trendAddress(view.asset)}
                data-trends
              >
                Its trends
              </Link>
            ) : null}
            {own.data !== undefined ? <AssetActs page={own.data} /> : null}
          </header>
          <p className="font-condensed text-[16px] text-quiet">
            {view.asset}, {view.title.toLowerCase()}
            {own.data?.retired !== undefined ? (
              <b className="font-semibold text-ink">. Retired: {own.data.retired}</b>
            ) : null}
          </p>
          <DeviceJobs asset={view.asset} installed={own.data?.at !== undefined} zone={view.zone} />
          <LifeLine view={view} />
          {view.series.length === 0 ? (
            <p className="mt-6 max-w-prose">
              Nothing has been measured on it yet. With its first record each test point gets a line here, with its
              limits and its repairs.
            </p>
          ) : null}
          {alone.length > 0 ? (
            <section className="mt-5" aria-label="Readings">
              <h2 className="border-b border-rule pb-1 font-semibold">Readings</h2>
              <div className="grid grid-cols-3 gap-x-5 gap-y-2 max-[1000px]:grid-cols-2 max-[700px]:grid-cols-1">
                {alone.map((s) => (
                  <SmallMultiple key={s.series} series={s} span={span} repairs={view.repairs} zone={view.zone} />
                ))}
              </div>
            </section>
          ) : null}
          {steps.map((step) => (
            <section key={step} className="mt-5" aria-label={step}>
              <h2 className="border-b border-rule pb-1 font-semibold">{step}</h2>
              <div className="grid grid-cols-3 gap-x-5 gap-y-2 max-[1000px]:grid-cols-2 max-[700px]:grid-cols-1">
                {view.series
                  .filter((s) => s.step === step)
                  .map((s) => (
                    <SmallMultiple
                      key={`${s.series}${s.lane}`}
                      series={s}
                      span={span}
                      repairs={view.repairs}
                      zone={view.zone}
                    />
                  ))}
              </div>
            </section>
          ))}
          {own.data !== undefined ? (
            <Files kind="asset" of={view.asset} files={own.data.files} zone={view.zone} />
          ) : null}
          <section className="mt-5" aria-label="Changes">
            <h2 className="border-b border-rule pb-1 font-semibold">Who changed what</h2>
            <Changes of={`asset:${view.asset}`} zone={view.zone} />
          </section>
        </section>
        <aside
          className="border-l border-rule px-4 py-4 max-[1000px]:border-t max-[1000px]:border-l-0"
          aria-label="What is known of it"
        >
          <Last view={view} />
          <Standing view={view} />
          {own.data !== undefined ? <Plate page={own.data} /> : own.isError ? <p>{own.error.message}</p> : null}
          <Repairs view={view} />
        </aside>
      </main>
    </>
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
      {last === undefined ? (
        <p>Never tested.</p>
      ) : (
        <>
          <p className="flex items-center gap-2">
            <Mark standing={standingOf(last)} silent />
            <Link
              className="font-semibold text-lake underline-offset-4 hover:underline"
              to={recordAddress(last.number)}
            >
              {last.number}
            </Link>
          </p>
          <p className="font-condensed text-[15px]">
            {verdictWord(last)}, {dayAt(last.finishedAt, last.zone)}, by {last.by}
          </p>
          {before !== undefined ? (
            <p>
              <Link
                className="inline-flex min-h-9 items-center font-semibold text-lake underline underline-offset-4"
                to={compareAddress(last.number, [before.number])}
              >
                Compare with the one before
              </Link>
            </p>
          ) : null}
          <p>
            <Link
              className="inline-flex min-h-9 items-center font-semibold text-lake underline underline-offset-4"
              to={`/records?asset=${encodeURIComponent(view.asset)}`}
            >
              All {view.records.length} records
            </Link>
          </p>
        </>
      )}
      <Head>Next due</Head>
      {job === undefined ? (
        <p data-next-due>
          {view.next === undefined
            ? 'No plan asks for anything.'
            : `${dayWithYear(view.next.due)}, ${view.next.reason}`}
        </p>
      ) : (
        <p data-next-due>
          {dayWithYear(job.due)}, {job.reason}
          {job.run !== undefined ? (
            <>
              .{' '}
              <Link className="font-semibold text-lake underline underline-offset-4" to={`/bench/${job.run}`}>
                Its run is open
              </Link>
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
            <Link
              className="font-semibold text-lake underline-offset-4 hover:underline"
              to={positionAddress(s.position)}
            >
              {s.position}
            </Link>
            , {s.siteName}
            <br />
            <span className="font-condensed text-[14px] text-quiet">
              {s.to === undefined
                ? `since ${dayAt(s.from, view.zone)}`
                : `${dayAt(s.from, view.zone)} to ${dayAt(s.to, view.zone)}`}
            </span>
          </li>
        ))}
      </ul>
      {view.standings.every((s) => s.to !== undefined) ? (
        <p className="py-1">In the store, or retired: it stands nowhere now.</p>
      ) : null}
    </>
  );
}

/** What the plate says, and what the register says besides: each value is changed where it stands. */
function Plate({ page }: { page: AssetPageView }) {
  const units = useClasses().data?.units ?? [];
  return (
    <>
      <Head>Device</Head>
      <dl className="font-condensed text-[15px]">
        {(['maker', 'model', 'serial', 'curve'] as const)
          .filter((f) => f !== 'curve' || page.assetClass === 'lv-breaker' || page.curve !== undefined)
          .map((f) => (
            <Row key={f} label={f === 'serial' ? 'Serial number' : f.charAt(0).toUpperCase() + f.slice(1)}>
              <Editable kind="assets" of={page.id} field={f} label={f} value={page[f] ?? ''} />
            </Row>
          ))}
      </dl>
      <Head>Nameplate</Head>
      <dl className="font-condensed text-[15px]">
        {page.plate.map(({ field, typed }) => {
          const symbol = units.find((u) => u.code === field.unit)?.symbol ?? '';
          const shown = plateText(typed, field.kind, symbol);
          return field.kind === 'route' ? (
            <Row key={field.key} label={field.label}>
              <RouteValue
                of={page.id}
                field={`plate.${field.key}`}
                label={field.label}
                value={typed}
                kinds={field.choices}
              />
            </Row>
          ) : (
            <Row key={field.key} label={field.label}>
              <Editable
                kind="assets"
                of={page.id}
                field={`plate.${field.key}`}
                label={field.label}
                value={typed}
                shown={shown}
                {...(field.kind === 'choice'
                  ? { choices: field.required ? field.choices : ['', ...field.choices] }
                  : {})}
                className={field.kind === 'number' ? 'font-mono text-[15px]' : ''}
              />
            </Row>
          );
        })}
      </dl>
      {page.extra.length > 0 ? (
        <>
          <Head>Own fields</Head>
          <dl className="font-condensed text-[15px]">
            <ExtraValues kind="assets" of={page.id} values={page.extra} />
          </dl>
        </>
      ) : null}
    </>
  );
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex items-baseline justify-between gap-3 border-b border-rule">
      <dt className="shrink-0 text-quiet">{label}</dt>
      <dd className="min-w-0 text-right">{children}</dd>
    </div>
  );
}

type Asking = 'raise' | 'happened' | 'bar' | 'clear' | 'retire' | 'back' | 'remove';

/** What can be done with an asset itself. Where it stands is changed at its position. */
function AssetActs({ page }: { page: AssetPageView }) {
  const [asking, setAsking] = useState<Asking | null>(null);
  const go = useNavigate();
  const close = (): void => setAsking(null);
  return (
    <>
      <Menu word="Do">
        {page.at !== undefined ? <MenuItem chosen={() => setAsking('raise')}>Raise a job…</MenuItem> : null}
        {page.at !== undefined ? (
          <MenuItem chosen={() => void go(testSetAddress(page.at ?? ''))}>The set of tests of its position…</MenuItem>
        ) : null}
        {page.at !== undefined ? (
          <MenuItem chosen={() => void go(`/intake?asset=${encodeURIComponent(page.id)}`)}>
            Bring in files of it
          </MenuItem>
        ) : null}
        <MenuItem chosen={() => setAsking('happened')}>Enter a repair, a failure, or what its counter shows…</MenuItem>
        {page.barred === undefined ? (
          <MenuItem chosen={() => setAsking('bar')}>Must not be used…</MenuItem>
        ) : (
          <MenuItem chosen={() => setAsking('clear')}>May be used again…</MenuItem>
        )}
        {page.at !== undefined ? (
          <MenuItem chosen={() => void go(positionAddress(page.at ?? ''))}>Exchange or take out, at {page.at}</MenuItem>
        ) : null}
        {page.at === undefined && page.retired === undefined && page.barred === undefined ? (
          <MenuItem chosen={() => void go('/register?where=empty')}>Install it: choose an empty position</MenuItem>
        ) : null}
        {page.at === undefined && page.retired === undefined ? (
          <MenuItem chosen={() => setAsking('retire')}>Retire it…</MenuItem>
        ) : null}
        {page.retired !== undefined ? <MenuItem chosen={() => setAsking('back')}>Bring it back…</MenuItem> : null}
        {page.at === undefined ? (
          <MenuItem chosen={() => setAsking('remove')}>Take it out of the register…</MenuItem>
        ) : null}
      </Menu>
      {asking === 'raise' ? <RaiseDialog asset={page.id} assetClass={page.assetClass} close={close} /> : null}
      {asking === 'happened' ? <HappenedDialog asset={page.id} close={close} /> : null}
      {asking === 'bar' ? (
        <ReasonDialog
          title={`${page.id} must not be used`}
          asked="Why"
          word="Everybody is to see it"
          send={(why) => bar(page.id, why)}
          close={close}
        >
          <p>
            Everybody sees it at once, wherever the device is shown: on the round, at the bench, in records and in the
            register. It cannot be installed anywhere until that is cleared.
          </p>
        </ReasonDialog>
      ) : null}
      {asking === 'clear' ? (
        <ReasonDialog
          title={`${page.id} may be used again`}
          word="It may be used"
          send={() => clear(page.id)}
          close={close}
        >
          <p>It was not to be used: {page.barred?.why}. Is that put right?</p>
        </ReasonDialog>
      ) : null}
      {asking === 'retire' ? (
        <ReasonDialog
          title={`Retire ${page.id}`}
          asked="Why"
          word="Retire it"
          send={(why) => retire('assets', page.id, why)}
          close={close}
        >
          <p>
            Its records and its history stay and are found. It cannot be installed any more, until it is brought back.
          </p>
        </ReasonDialog>
      ) : null}
      {asking === 'back' ? (
        <ReasonDialog
          title={`Bring back ${page.id}`}
          word="Bring it back"
          send={() => bringBack('assets', page.id)}
          close={close}
        >
          <p>It was retired: {page.retired}. It is in the store then.</p>
        </ReasonDialog>
      ) : null}
      {asking === 'remove' ? (
        <ReasonDialog
          title={`Take ${page.id} out of the register`}
          word="Take it out"
          send={() => remove('assets', page.id)}
          done={() => void go('/register')}
          close={close}
        >
          <p>
            Only what never stood anywhere and was never tested can be taken out; anything else is retired. Its photos
            and documents go with it. It can be undone.
          </p>
        </ReasonDialog>
      ) : null}
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
              {r.number === undefined ? null : (
                <Link className="text-lake underline-offset-4 hover:underline" to={recordAddress(r.number)}>
                  {r.number}
                </Link>
              )}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
