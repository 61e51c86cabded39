import { useMutation, useQueries, useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useParams, useSearchParams } from 'react-router';
import { devices, trends, unwatch } from '../api/condition';
import type { TrendPoint, TrendsView } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { RaiseDialog } from '../plan/RaiseDialog';
import { recordAddress } from '../record/words';
import { assetAddress } from '../register/address';
import { sharesOut, works } from '../state/roles';
import { dayAt, dayWithYear, figure, withUnit } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Cut } from '../ui/Hints';
import { Mark } from '../ui/Mark';
import { Option, OptionGroup, Select } from '../ui/Select';
import { asStanding, StandingMark, STANDING_WORDS } from '../ui/StandingMark';
import { BaselineDialog } from './BaselineDialog';
import { download } from '../ui/download';
import { png, standalone, trendTable } from './exporting';
import { TrendField, type Shown } from './TrendField';
import { WatchDialog } from './WatchDialog';
import { months, sentence, signedPercent, withParam } from './words';

const MOST_OVER = 3;
/** Longer ones are not advised. */
const LONGEST_ADVICE = 120;

const keyOf = (p: { series: string; lane: string }): string => `${p.series} ${p.lane}`;

/** The trends of one device: one test point large, all of them small. */
export function TrendPage() {
  const { key = '' } = useParams();
  usePlanNews();
  const view = useQuery({
    queryKey: ['condition', 'trends', key],
    queryFn: () => trends(key),
    refetchOnMount: 'always',
  });
  const { data } = view;
  const name = data === undefined ? '' : `${data.maker} ${data.model}, no. ${data.serial}`;
  usePlace(
    `Trend, ${data?.position ?? name}`,
    <>
      {data?.siteName === undefined ? '' : `${data.siteName} › ${data.position ?? ''} › `}
      <b className="font-semibold">{name}</b>
    </>,
    name,
  );
  if (data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Reading its records…</p>
    );
  }
  return <Trends key={data.asset} view={data} name={name} />;
}

function Trends({ view, name }: { view: TrendsView; name: string }) {
  const [given, set] = useSearchParams();
  const person = useSession();
  const [raising, setRaising] = useState(false);
  const may = works(person) || sharesOut(person);
  const wanted = given.get('point') ?? keyOf({ series: view.series ?? '', lane: view.lane ?? '' });
  const point = view.points.find((p) => keyOf(p) === wanted) ?? view.points[0];
  const over = given.getAll('with').slice(0, MOST_OVER);
  const put = (overlays: readonly string[]): void => set(withParam(given, 'with', overlays), { replace: true });
  return (
    <main className="grid min-h-full grid-cols-[minmax(0,1fr)_340px] max-[1000px]:grid-cols-1">
      <section className="min-w-0 px-5 pt-4 pb-16" aria-label="Trend">
        <header className="flex flex-wrap items-center gap-x-4 gap-y-1">
          <h1 className="min-w-0 flex-1 text-[21px] font-semibold">
            {view.position ?? view.asset} <span className="font-normal">{name}</span>
          </h1>
          {view.position !== undefined && may ? <Button onClick={() => setRaising(true)}>Raise a job…</Button> : null}
          {may ? <Watching view={view} /> : null}
          <Link
            className="inline-flex min-h-11 items-center font-semibold text-lake underline underline-offset-4"
            to={assetAddress(view.asset)}
          >
            Its life
          </Link>
        </header>
        <p className="flex items-center gap-2 text-[15px]" data-standing={view.standing}>
          <StandingMark standing={asStanding(view.standing)} size={14} silent coloured />
          <span>
            <b className="font-semibold">{STANDING_WORDS[asStanding(view.standing)]}</b>: {view.reason}
            {view.watched === undefined ? '' : ` (${view.watched.by}, ${dayAt(view.watched.since, view.zone)})`}
          </span>
        </p>
        {point === undefined ? (
          <p className="mt-6 max-w-prose">
            Nothing has been measured on it yet that can be compared over time. With its first record each test point
            gets a line here; it takes four values for a date.
          </p>
        ) : (
          <Large key={keyOf(point)} view={view} point={point} over={over} put={put} />
        )}
        <All
          view={view}
          chosen={point}
          choose={(p) => set(withParam(given, 'point', [keyOf(p)], ['with']), { replace: true })}
        />
      </section>
      <aside
        className="border-l border-rule bg-sheet max-[1000px]:border-t max-[1000px]:border-l-0"
        aria-label="Its values"
      >
        {point === undefined ? null : <Values point={point} view={view} />}
        <Baselines view={view} may={may} />
      </aside>
      {raising ? (
        <RaiseDialog
          asset={view.asset}
          assetClass={view.assetClass}
          finding={sentence(view.reason).slice(0, 120)}
          procedure={point?.procedure}
          close={() => setRaising(false)}
        />
      ) : null}
    </main>
  );
}

/** On the watch list or off it. */
function Watching({ view }: { view: TrendsView }) {
  const [asking, setAsking] = useState(false);
  const queries = useQueryClient();
  const off = useMutation({
    mutationFn: () => unwatch(view.asset),
    onSuccess: () => void queries.invalidateQueries({ queryKey: ['condition'] }),
  });
  return (
    <>
      {view.watched === undefined ? (
        <Button onClick={() => setAsking(true)} data-watch>
          Watch it…
        </Button>
      ) : (
        <Button disabled={off.isPending} onClick={() => off.mutate()} data-unwatch>
          Off the watch list
        </Button>
      )}
      {off.isError ? <Notice>{off.error.message}</Notice> : null}
      {asking ? <WatchDialog asset={view.asset} close={() => setAsking(false)} /> : null}
    </>
  );
}

/** One test point, large, with what is laid over it and what its trend says. */
function Large({
  view,
  point,
  over,
  put,
}: {
  view: TrendsView;
  point: TrendPoint;
  over: readonly string[];
  put: (over: readonly string[]) => void;
}) {
  const svg = useRef<SVGSVGElement>(null);
  const [wrong, setWrong] = useState<string | null>(null);
  const laid = useQueries({
    queries: over.map((o) => {
      const [asset = '', lane = ''] = o.split('~');
      return {
        queryKey: ['condition', 'trend', asset, point.series, lane],
        queryFn: () => trends(asset, point.series, lane),
      };
    }),
  });
  const own = {
    point,
    marks: view.marks,
    name: view.position ?? view.asset,
    asset: view.asset,
    position: view.position ?? '',
  };
  const others = laid.flatMap(({ data }) => {
    const found = data?.points[0];
    return data === undefined || found === undefined
      ? []
      : [
          {
            point: found,
            marks: data.marks,
            name: `${data.position ?? data.asset}${data.asset === view.asset || found.lane !== point.lane ? `, ${found.name}` : ''}`,
            asset: data.asset,
            position: data.position ?? '',
          },
        ];
  });
  const fitting = others.filter((o) => o.point.unit === point.unit);
  const shown: (Shown & { asset: string; position: string })[] = [own, ...fitting];
  const failed = laid.find((l) => l.isError)?.error?.message;
  const file = `trend-${view.position ?? view.asset}-${point.label.toLowerCase().replace(/[^a-z0-9]+/g, '-')}`;
  const last = point.visits[point.visits.length - 1];
  const picture = (made: Promise<Blob>, name: string): void => {
    made
      .then((blob) => download(name, blob))
      .catch((e: unknown) => setWrong(e instanceof Error ? e.message : String(e)));
  };
  return (
    <section className="mt-3" aria-label={point.label} data-trend={keyOf(point)}>
      <div className="flex flex-wrap items-baseline gap-x-4 border-t border-ink pt-2">
        <h2 className="min-w-0 flex-1 text-[17px] font-semibold">{point.label}</h2>
        {last === undefined ? null : (
          <p className="font-mono text-[22px] leading-none font-semibold" data-figure>
            {last.figure} <span className="font-sans text-[15px] font-normal text-quiet">{point.unit}</span>
          </p>
        )}
      </div>
      <p className="text-[16px]" data-outlook>
        <b className="font-semibold">{sentence(point.outlook)}.</b>{' '}
        {point.crossing === undefined
          ? ''
          : `The line ${point.crossing <= new Date().toLocaleDateString('sv') ? 'met' : 'meets'} it on ${dayWithYear(point.crossing)}.`}
      </p>
      <p className="font-condensed text-[14px] text-quiet" data-method>
        {point.words.join(' ')}
      </p>
      <Advice view={view} point={point} />
      <div className="mt-2 h-[330px] max-[1000px]:h-[380px]">
        <TrendField shown={shown} zone={view.zone} svg={svg} />
      </div>
      {others.length > fitting.length ? (
        <p className="mt-1">What has another unit than {point.unit} is not laid over it.</p>
      ) : null}
      {failed !== undefined ? <Notice>{failed}</Notice> : null}
      {wrong !== null ? <Notice>{wrong}</Notice> : null}
      <div className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
        <LaidOver view={view} point={point} over={over} shown={shown} put={put} />
        <span className="font-condensed text-[14px] text-quiet">
          Save as{' '}
          {(
            [
              ['CSV', () => download(`${file}.csv`, new Blob([trendTable(shown)], { type: 'text/csv' }))],
              [
                'PNG',
                () => {
                  if (svg.current !== null) {
                    picture(png(svg.current), `${file}.png`);
                  }
                },
              ],
              [
                'SVG',
                () => {
                  if (svg.current !== null) {
                    download(`${file}.svg`, new Blob([standalone(svg.current)], { type: 'image/svg+xml' }));
                  }
                },
              ],
            ] as const
          ).map(([word, save], i) => (
            <span key={word}>
              {i > 0 ? ', ' : ''}
              <button
                type="button"
                className="min-h-9 font-semibold text-lake underline underline-offset-4 max-[1000px]:min-h-11"
                onClick={save}
                data-save={word}
              >
                {word}
              </button>
            </span>
          ))}
        </span>
      </div>
    </section>
  );
}

/** The advised interval beside the one that is set; it is for people to change a plan. */
function Advice({ view, point }: { view: TrendsView; point: TrendPoint }) {
  const { interval, risk } = view;
  const { advice } = point;
  if (advice === undefined) {
    return null;
  }
  const set = interval === undefined ? 'No plan sets an interval' : `Set: every ${months(interval)}`;
  return (
    <p className="font-condensed text-[14px]" data-advice={advice}>
      {set}. Advised at a risk of {Math.round(risk * 1000) / 10}&#8198;%:{' '}
      <b className={interval !== undefined && advice < interval - 0.5 ? 'font-semibold' : 'font-normal'}>
        {advice === 0
          ? 'at once'
          : advice >= LONGEST_ADVICE
            ? `${months(LONGEST_ADVICE)} or more`
            : `at most ${months(advice)}`}
      </b>{' '}
      after the last test.
    </p>
  );
}

/** What is laid over the point: other lanes of it, and the same point of devices of its model. */
function LaidOver({
  view,
  point,
  over,
  shown,
  put,
}: {
  view: TrendsView;
  point: TrendPoint;
  over: readonly string[];
  shown: readonly Shown[];
  put: (over: readonly string[]) => void;
}) {
  const model = `${view.maker} ${view.model}`;
  const like = useQuery({
    queryKey: ['condition', 'devices', { model }, null, 'position'],
    queryFn: () => devices({ model }, null, 'position', 0),
    staleTime: 60_000,
  });
  const lanes = view.points.filter((p) => p.series === point.series && p.lane !== point.lane);
  const peers = (like.data?.devices ?? []).filter((d) => d.asset !== view.asset);
  const free = (id: string): boolean => !over.includes(id);
  const dashes = ['solid', 'dashed', 'dotted', 'dashed and dotted'];
  return (
    <div className="flex min-w-0 flex-1 flex-wrap items-center gap-x-3 gap-y-1 font-condensed text-[14px]">
      {over.length < MOST_OVER && (lanes.length > 0 || peers.length > 0) ? (
        <Select
          aria-label="Lay over it"
          className="h-9! max-w-60"
          value=""
          onChange={(id) => put([...over, id].filter((o) => o !== ''))}
        >
          <Option value="">Lay over it…</Option>
          {lanes.length === 0 ? null : (
            <OptionGroup label="Its other lanes">
              {lanes
                .filter((p) => free(`${view.asset}~${p.lane}`))
                .map((p) => (
                  <Option key={p.lane} value={`${view.asset}~${p.lane}`}>
                    {p.name}
                  </Option>
                ))}
            </OptionGroup>
          )}
          {peers.length === 0 ? null : (
            <OptionGroup label={`Others of its model`}>
              {peers
                .filter((d) => free(`${d.asset}~${point.lane}`))
                .map((d) => (
                  <Option key={d.asset} value={`${d.asset}~${point.lane}`}>
                    {d.position}
                  </Option>
                ))}
            </OptionGroup>
          )}
        </Select>
      ) : null}
      {over.map((o, i) => (
        <span key={o} className="inline-flex items-center gap-1">
          <svg width="26" height="8" aria-hidden="true">
            <path
              d="M0 4h26"
              stroke="var(--quiet)"
              strokeWidth="2"
              strokeDasharray={['7 4', '2 4', '10 3 2 3'][i] ?? ''}
            />
          </svg>
          {shown[i + 1]?.name ?? o.replace('~', ', ')}, {dashes[i + 1]}
          <button
            type="button"
            className="min-h-9 px-1 font-semibold text-lake underline-offset-4 hover:underline"
            onClick={() => put(over.filter((x) => x !== o))}
            aria-label={`Take ${o.split('~')[0] ?? ''} off`}
          >
            take off
          </button>
        </span>
      ))}
    </div>
  );
}

/** Every test point as a small multiple; one is chosen. */
function All({
  view,
  chosen,
  choose,
}: {
  view: TrendsView;
  chosen: TrendPoint | undefined;
  choose: (point: TrendPoint) => void;
}) {
  const steps = [...new Set(view.points.map((p) => p.step))];
  return (
    <>
      {steps.map((step) => (
        <section key={step} className="mt-5" aria-label={step}>
          <h2 className="border-b border-rule pb-1 font-semibold">{step}</h2>
          <div className="grid grid-cols-3 gap-x-5 gap-y-3 pt-2 max-[1000px]:grid-cols-2 max-[700px]:grid-cols-1">
            {view.points
              .filter((p) => p.step === step)
              .map((p) => (
                <figure
                  key={keyOf(p)}
                  className={`min-w-0 ${chosen !== undefined && keyOf(p) === keyOf(chosen) ? 'outline-2 outline-offset-4 outline-lake' : ''}`}
                >
                  <figcaption>
                    <button
                      type="button"
                      className="flex w-full items-end gap-2 text-left font-condensed text-[14px] hover:underline max-[1000px]:min-h-11"
                      onClick={() => choose(p)}
                      aria-pressed={chosen !== undefined && keyOf(p) === keyOf(chosen)}
                      data-choose={keyOf(p)}
                    >
                      <Cut className="min-w-0 flex-1">{p.name}</Cut>
                      <span className="whitespace-nowrap">
                        <b className="font-mono text-[15px] font-semibold">{p.visits[p.visits.length - 1]?.figure}</b>{' '}
                        <span className="text-quiet">{p.unit}</span>
                      </span>
                    </button>
                  </figcaption>
                  <div className="h-[92px]">
                    <TrendField
                      shown={[{ point: p, marks: view.marks, name: `small ${keyOf(p)}` }]}
                      zone={view.zone}
                      small
                    />
                  </div>
                  <p className={`font-condensed text-[13px] ${p.drifts ? '' : 'text-quiet'}`}>{p.outlook}</p>
                </figure>
              ))}
          </div>
        </section>
      ))}
    </>
  );
}

/** The values in figures, newest first. */
function Values({ point, view }: { point: TrendPoint; view: TrendsView }) {
  return (
    <section aria-label="Values" className="px-4 pt-4">
      <h2 className="border-b border-ink pb-1 font-semibold">
        {point.label}
        {point.margin === undefined ? null : (
          <span className="block font-condensed text-[14px] font-normal text-quiet">
            {Math.round(point.margin * 100)}&#8198;% of its margin used
            {point.drift === undefined ? '' : `, ${signedPercent(point.drift)} a year`}
          </span>
        )}
      </h2>
      <ol>
        {[...point.visits].reverse().map((v, i, all) => {
          const before = all[i + 1];
          const change = before === undefined ? null : (v.asFound ?? v.value) - before.value;
          const seen =
            change !== null && v.uncertainty !== undefined && before?.uncertainty !== undefined
              ? Math.abs(change) > Math.hypot(v.uncertainty, before.uncertainty)
              : true;
          return (
            <li key={v.run} className="border-b border-rule py-1.5" data-value={v.number}>
              <p className="flex items-baseline gap-2">
                <span className="self-center">
                  <Mark standing={v.verdict} size={12} />
                </span>
                <Link
                  className="flex-1 font-condensed text-[15px] font-semibold text-lake underline-offset-4 hover:underline"
                  to={recordAddress(v.number)}
                >
                  {dayAt(v.at, view.zone)}
                </Link>
                <span className="font-condensed text-[14px] text-quiet">
                  {change === null
                    ? ''
                    : !seen
                      ? 'no change seen'
                      : `${change >= 0 ? '+' : '\u2212'}${figure(Math.abs(change))}`}
                </span>
                <b className="w-20 text-right font-mono text-[16px] font-semibold">{v.figure}</b>
                <span className="w-9 text-[13px] text-quiet">{point.unit}</span>
              </p>
              {v.asFoundFigure === undefined ? null : (
                <p className="font-condensed text-[14px]">
                  as found {withUnit(v.asFoundFigure, point.unit)}, then adjusted
                </p>
              )}
              {v.baseline ? <p className="font-condensed text-[14px]">Baseline</p> : null}
              {v.flags.map((f) => (
                <p key={f} className="font-condensed text-[14px]">
                  {sentence(f)}
                </p>
              ))}
              <p className="font-condensed text-[13px] text-quiet">
                {[v.gear, v.with, v.source].filter((w) => w !== undefined).join('; ')}
              </p>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

/** What others are compared with, what they were compared with, and the choice of another. */
function Baselines({ view, may }: { view: TrendsView; may: boolean }) {
  const [asking, setAsking] = useState(false);
  return (
    <section aria-label="Baseline" className="px-4 pt-5 pb-6">
      <h2 className="border-b border-rule pb-1 font-semibold">Baseline</h2>
      {view.baselines.length === 0 ? (
        <p className="py-1 text-[14px]">None. The record of an acceptance is one by itself.</p>
      ) : null}
      <ul>
        {[...view.baselines].reverse().map((b) => (
          <li
            key={b.record}
            className="border-b border-rule py-1.5 font-condensed text-[15px]"
            data-baseline={b.record}
          >
            <Link
              className={`underline-offset-4 hover:underline ${b.inForce ? 'font-semibold text-lake' : 'text-lake'}`}
              to={recordAddress(b.record)}
            >
              {b.record}
            </Link>
            , {dayAt(b.finishedAt, view.zone)}
            <br />
            <span className={b.inForce ? '' : 'text-quiet'}>
              {b.inForce ? 'In force' : 'Not any more'}
              {b.reason === undefined ? ': the acceptance' : `: ${b.reason}`}
              {b.by === undefined || b.chosenAt === undefined ? '' : ` (${b.by}, ${dayAt(b.chosenAt, view.zone)})`}
            </span>
          </li>
        ))}
      </ul>
      {may && view.points.length > 0 ? (
        <p className="pt-2">
          <Button onClick={() => setAsking(true)} data-choose-baseline>
            Choose another…
          </Button>
        </p>
      ) : null}
      {asking ? <BaselineDialog view={view} close={() => setAsking(false)} /> : null}
    </section>
  );
}
