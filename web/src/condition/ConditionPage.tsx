import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useCallback, useState, type ReactNode } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { condition, devices, FLEET_FILTERS, fleetQuery, type FleetFilter, type FleetOrder } from '../api/condition';
import type { ConditionView, FleetDevice, Standing } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { readRegion, regionText, type Region } from '../draw/drift';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Option, Select } from '../ui/Select';
import { STANDING_WORDS, StandingMark } from '../ui/StandingMark';
import { DeviceList } from './DeviceList';
import { DriftMap } from './DriftMap';
import { FleetTable } from './FleetTable';
import { AGES, headline, trendAddress } from './words';

const STANDINGS: readonly Standing[] = ['act', 'watch', 'sound', 'unknown'];

/** The condition of the fleet: the drift map, and beside it what needs attention or what was chosen on it. */
export function ConditionPage() {
  const [given, set] = useSearchParams();
  const filter: FleetFilter = Object.fromEntries(
    FLEET_FILTERS.flatMap((name) => (given.get(name) === null ? [] : [[name, given.get(name)]])),
  );
  const region = readRegion(given.get('region'));
  const asTable = given.get('as') === 'table';
  const order = (given.get('order') ?? 'gravest') as FleetOrder;
  const go = useNavigate();
  const [pointed, setPointed] = useState<string | null>(null);
  usePlanNews();
  const view = useQuery({
    queryKey: ['condition', 'fleet', filter],
    queryFn: () => condition(filter),
    placeholderData: (before) => before,
    refetchOnMount: 'always',
  });
  const narrowed = Object.keys(filter).length > 0;
  const listed = region !== null || asTable || narrowed;
  const list = useInfiniteQuery({
    queryKey: ['condition', 'devices', filter, region, order],
    queryFn: ({ pageParam }) => devices(filter, region, order, pageParam),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => {
      const so = pages.reduce((n, p) => n + p.devices.length, 0);
      return so < last.total && last.devices.length > 0 ? so : undefined;
    },
    enabled: listed,
    placeholderData: (before) => before,
    refetchOnMount: 'always',
  });
  usePlace(
    'Condition',
    <>
      <b className="font-semibold">Condition of the fleet</b>
      <span className="text-quiet"> {told(view.data, filter)}</span>
    </>,
    `condition ${told(view.data, filter)}`,
  );
  const change = useCallback(
    (values: Readonly<Record<string, string>>): void =>
      set(
        (was) => {
          const next = new URLSearchParams(was);
          for (const [name, value] of Object.entries(values)) {
            if (value === '') {
              next.delete(name);
            } else {
              next.set(name, value);
            }
          }
          return next;
        },
        { replace: true },
      ),
    [set],
  );
  const choose = useCallback(
    (next: Region | null): void => change({ region: next === null ? '' : regionText(next) }),
    [change],
  );
  const open = useCallback((asset: string): void => void go(trendAddress(asset)), [go]);
  if (view.data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Looking at the fleet…</p>
    );
  }
  const { counts, marks, needs, choices } = view.data;
  const all = counts.act + counts.watch + counts.sound + counts.unknown;
  // A table has everything in it already.
  const alone = asTable && !narrowed && region === null;
  const shown: FleetDevice[] | undefined = listed ? list.data?.pages.flatMap((p) => p.devices) : needs;
  const total = listed ? (list.data?.pages[0]?.total ?? 0) : needs.length;
  return (
    <main
      className={`grid h-full min-h-0 max-[1000px]:h-auto max-[1000px]:grid-cols-1 ${alone ? 'grid-cols-1' : 'grid-cols-[minmax(0,1fr)_388px]'}`}
    >
      <section
        className={`flex min-h-0 min-w-0 flex-col px-5 pt-4 pb-2 ${asTable ? 'overflow-auto' : ''}`}
        aria-label={asTable ? 'Devices' : 'Drift map'}
      >
        <header className="flex items-start gap-4">
          <h1 className="min-w-0 flex-1 text-[21px] leading-tight font-semibold" data-headline>
            {headline(counts)}
          </h1>
          <Link
            className="inline-flex min-h-9 items-center font-semibold text-lake underline underline-offset-4 max-[1000px]:min-h-11"
            to="/condition/month"
          >
            The month
          </Link>
          <span className="flex" role="group" aria-label="Shown as">
            {(['map', 'table'] as const).map((as) => (
              <button
                key={as}
                type="button"
                className={`min-h-9 border border-ink px-3 text-[14px] font-semibold not-first:border-l-0 max-[1000px]:min-h-11 ${(as === 'table') === asTable ? 'bg-ink text-paper' : 'bg-sheet'}`}
                aria-pressed={(as === 'table') === asTable}
                onClick={() => change({ as: as === 'table' ? 'table' : '' })}
                data-as={as}
              >
                {as === 'map' ? 'Map' : 'Table'}
              </button>
            ))}
          </span>
        </header>
        <search className="mt-1 mb-2 flex flex-wrap items-center gap-y-1 text-[14px]">
          {STANDINGS.map((s) => (
            <button
              key={s}
              type="button"
              className={`inline-flex min-h-9 items-center gap-1 border px-1.5 font-medium max-[1000px]:min-h-11 ${filter.standing === s ? 'border-ink bg-sheet' : 'border-transparent'} ${filter.standing !== undefined && filter.standing !== s ? 'text-quiet' : ''}`}
              aria-pressed={filter.standing === s}
              data-hint={filter.standing === s ? 'Show every standing' : `Only: ${STANDING_WORDS[s].toLowerCase()}`}
              onClick={() => change({ standing: filter.standing === s ? '' : s })}
              data-standing-filter={s}
            >
              <StandingMark standing={s} size={13} silent coloured />
              {counts[s]} {STANDING_WORDS[s].toLowerCase()}
            </button>
          ))}
          <span className="flex-1" />
          <Filters filter={filter} choices={choices} change={change} />
          {narrowed ? (
            <Button
              weight="quiet"
              className="min-h-9 px-1"
              onClick={() => change(Object.fromEntries(FLEET_FILTERS.map((f) => [f, ''])))}
            >
              Show all
            </Button>
          ) : null}
        </search>
        {view.isError ? <Notice>{view.error.message}</Notice> : null}
        {all === 0 ? (
          <Empty narrowed={narrowed} />
        ) : asTable ? (
          <FleetTable
            devices={shown ?? []}
            order={order}
            sort={(next) => change({ order: next === 'gravest' ? '' : next })}
            pending={list.isPending}
          />
        ) : marks.margin.length === 0 ? (
          <TooFew all={all} />
        ) : (
          <DriftMap marks={marks} region={region} shown={pointed} choose={choose} open={open}>
            <NotOnMap marks={marks} change={change} />
          </DriftMap>
        )}
        {asTable && list.hasNextPage ? (
          <p className="py-3">
            <Button disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
              Show more, {shown?.length ?? 0} of {total} are shown
            </Button>
          </p>
        ) : null}
      </section>
      <aside
        hidden={alone}
        className="min-h-0 overflow-auto border-l border-rule bg-sheet max-[1000px]:border-t max-[1000px]:border-l-0"
        aria-label={region !== null ? 'The chosen region' : narrowed ? 'The chosen part' : 'What needs attention'}
      >
        <DeviceList
          devices={shown ?? []}
          total={total}
          region={region}
          filter={filter}
          counts={counts}
          pending={listed && list.isPending}
          clear={() => choose(null)}
          pointed={setPointed}
        />
        <p className="px-4 py-3 font-condensed text-[14px] text-quiet">
          Export {region === null && !narrowed ? 'the fleet' : 'the chosen'} as{' '}
          <a
            className="font-semibold text-lake underline underline-offset-4"
            href={`/api/condition/devices/table${fleetQuery(filter, region, { order })}`}
            download
          >
            CSV
          </a>
        </p>
      </aside>
    </main>
  );
}

/** "all families, all sites". */
function told(view: ConditionView | undefined, filter: FleetFilter): string {
  const label = (kind: string, value: string | undefined): string | undefined =>
    value === undefined ? undefined : (view?.choices[kind]?.find((c) => c.value === value)?.label ?? value);
  return [
    label('family', filter.family) ?? 'all families',
    label('site', filter.site) ?? 'all sites',
    ...(filter.model === undefined ? [] : [filter.model]),
  ].join(', ');
}

function Filters({
  filter,
  choices,
  change,
}: {
  filter: FleetFilter;
  choices: ConditionView['choices'];
  change: (values: Readonly<Record<string, string>>) => void;
}) {
  const one = (kind: 'family' | 'site' | 'model', word: string, width: string): ReactNode => (
    <Select
      aria-label={word}
      className={`h-9! gap-1! border-transparent! bg-transparent! px-1! font-condensed text-[15px] ${width}`}
      value={filter[kind] ?? ''}
      onChange={(value) => change({ [kind]: value })}
    >
      <Option value="">{`${word}: all`}</Option>
      {(choices[kind] ?? []).map((c) => (
        <Option key={c.value} value={c.value}>
          {`${c.label} (${c.assets})`}
        </Option>
      ))}
    </Select>
  );
  const age = AGES.find((a) => a.minAge === (filter.minAge ?? '') && a.maxAge === (filter.maxAge ?? ''));
  return (
    <>
      {one('family', 'Family', 'max-w-36')}
      {one('site', 'Site', 'max-w-36')}
      {one('model', 'Model', 'max-w-36')}
      <Select
        aria-label="Age"
        className="h-9! max-w-36 gap-1! border-transparent! bg-transparent! px-1! font-condensed text-[15px]"
        value={age?.word ?? ''}
        onChange={(word) => {
          const next = AGES.find((a) => a.word === word);
          change({ minAge: next?.minAge ?? '', maxAge: next?.maxAge ?? '' });
        }}
      >
        <Option value="">Age: all</Option>
        {AGES.map((a) => (
          <Option key={a.word} value={a.word}>
            {a.word}
          </Option>
        ))}
      </Select>
    </>
  );
}

function Empty({ narrowed }: { narrowed: boolean }) {
  return (
    <div className="max-w-prose py-8">
      {narrowed ? (
        <p>No device is like this. Take a condition away above, or show all.</p>
      ) : (
        <>
          <p className="font-semibold">No device stands anywhere yet.</p>
          <p className="mt-2">
            The map shows each installed device as a mark: how much of its margin is used, and how fast. Enter devices
            in the{' '}
            <Link className="font-semibold text-lake underline underline-offset-4" to="/register">
              register
            </Link>
            , or import them from a table; with the first record each one gets its place here.
          </p>
        </>
      )}
    </div>
  );
}

function TooFew({ all }: { all: number }) {
  return (
    <div className="max-w-prose py-8">
      <p className="font-semibold">{plural(all, 'device')}, and none with a margin yet.</p>
      <p className="mt-2">
        A device gets its place on the map with the first record whose readings have a limit and an ideal value. From
        the third reading of a test point on it moves up or down by its rate; from the fourth on a date can be told at
        which it meets its limit.
      </p>
    </div>
  );
}

/** What has no place on the map is told, and is a list away. */
function NotOnMap({
  marks,
  change,
}: {
  marks: ConditionView['marks'];
  change: (values: Readonly<Record<string, string>>) => void;
}) {
  const rest = marks.asset.length - marks.margin.length;
  return rest === 0 ? null : (
    <>
      {rest} {rest === 1 ? 'has' : 'have'} no margin and no place here:{' '}
      <button
        type="button"
        className="min-h-8 font-semibold text-lake underline underline-offset-4"
        onClick={() => change({ as: 'table' })}
      >
        in the table
      </button>
      .
    </>
  );
}
