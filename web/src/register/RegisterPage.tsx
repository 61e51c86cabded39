import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useLocation, useParams, useSearchParams } from 'react-router';
import { find, measuring, overview, position } from '../api/register';
import type { PlaceLine, RegisterOverview } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Menu, MenuItem } from '../ui/Menu';
import { StandingMark } from '../ui/StandingMark';
import { AddDialog, type Adding } from './AddDialog';
import { useAllBarred } from './barred';
import { MeasuringPane } from './MeasuringPane';
import { PlaceRow } from './PlaceRow';
import { PositionPane } from './PositionPane';
import { SitePane } from './SitePane';
import { MarkCounts, Tree } from './Tree';
import { engineers } from '../state/roles';
import { Option, Select } from '../ui/Select';

const WHERE = [
  ['act', 'Act'],
  ['watch', 'Watch'],
  ['unknown', 'Not known'],
  ['sound', 'Sound'],
  ['barred', 'Not to be used'],
  ['empty', 'Empty positions'],
  ['store', 'In the store'],
  ['retired', 'Retired'],
] as const;

/**
 * What stands where: the tree of sites and positions with how each stands, a filter over all of it, and beside
 * it what is chosen.
 */
export function RegisterPage() {
  const { code = '' } = useParams();
  const { pathname } = useLocation();
  const kind = pathname.split('/')[2] ?? '';
  const all = useQuery({ queryKey: ['register', 'overview'], queryFn: overview, refetchOnMount: 'always' });
  const [given, set] = useSearchParams();
  const [cleared, setCleared] = useState(0);
  const text = given.get('text') ?? '';
  const where = given.get('where') ?? '';
  const site = useSiteOf(kind, code);
  const name = all.data?.sites.find((s) => s.code === site)?.name;
  usePlace(
    code === '' ? 'Register' : code,
    <>
      {name !== undefined && kind !== 'site' ? `${name} › ` : ''}
      <b className="font-semibold">{code === '' ? 'Register' : kind === 'site' ? name : code}</b>
    </>,
    `${code}${name ?? ''}`,
  );
  const put = (key: string, value: string): void =>
    set(
      (was) => {
        const next = new URLSearchParams(was);
        if (value === '') {
          next.delete(key);
        } else {
          next.set(key, value);
        }
        return next;
      },
      { replace: true },
    );
  const showAll = (): void => {
    set({}, { replace: true });
    setCleared(cleared + 1);
  };
  if (all.data === undefined) {
    return all.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void all.refetch()}>Try again</Button>}>{all.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Looking what stands where…</p>
    );
  }
  const narrowed = text !== '' || where !== '';
  return (
    <main className="flex h-full min-h-0 flex-col">
      <Head key={cleared} text={text} where={where} put={put} site={site} />
      <div className="grid min-h-0 flex-1 grid-cols-[minmax(430px,40%)_minmax(0,1fr)] max-[1000px]:block max-[1000px]:overflow-auto">
        <div
          className={`min-h-0 overflow-auto border-r border-rule py-2 max-[1000px]:border-r-0 ${code !== '' ? 'max-[1000px]:hidden' : ''}`}
        >
          {narrowed ? (
            <Found text={text} where={where} current={code} all={showAll} />
          ) : (
            <Tree register={all.data} current={code} site={site} />
          )}
        </div>
        <section className="min-h-0 overflow-auto px-5 pt-4 pb-24" aria-label="What is chosen" key={`${kind}${code}`}>
          {code !== '' ? (
            <Link
              to={`/register${given.toString() === '' ? '' : `?${given.toString()}`}`}
              className="mb-2 hidden min-h-11 items-center font-semibold text-lake max-[1000px]:inline-flex"
            >
              Back to the tree
            </Link>
          ) : null}
          {code === '' ? (
            <Glance register={all.data} />
          ) : kind === 'site' ? (
            <SitePane code={code} />
          ) : kind === 'measuring' ? (
            <MeasuringPane code={code} />
          ) : (
            <PositionPane code={code} />
          )}
        </section>
      </div>
    </main>
  );
}

/** The site of what is chosen, so that the tree opens there. */
function useSiteOf(kind: string, code: string): string {
  const at = useQuery({
    queryKey: ['register', 'position', code],
    queryFn: () => position(code),
    enabled: kind === 'position',
  });
  const whole = useQuery({
    queryKey: ['register', 'measuring', code],
    queryFn: () => measuring(code),
    enabled: kind === 'measuring',
  });
  return kind === 'site' ? code : (at.data?.place.site ?? whole.data?.site ?? '');
}

function Head({
  text,
  where,
  put,
  site,
}: {
  text: string;
  where: string;
  put: (key: string, value: string) => void;
  site: string;
}) {
  const [typed, setTyped] = useState(text);
  const [adding, setAdding] = useState<Adding | null>(null);
  const person = useSession();
  const barred = useAllBarred().length;
  return (
    <header className="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-ink px-4 py-2">
      <input
        type="search"
        className="w-[300px] min-w-0"
        placeholder="Filter by position, serial, maker…"
        aria-label="Filter the register"
        value={typed}
        onChange={(e) => {
          setTyped(e.target.value);
          put('text', e.target.value);
        }}
        data-filter
      />
      <label className="flex items-center gap-2 font-condensed text-quiet">
        Show
        <Select className="font-sans text-ink" value={where} onChange={(picked) => put('where', picked)} data-where>
          <Option value="">everything</Option>
          {WHERE.map(([id, word]) => (
            <Option key={id} value={id}>
              {word}
              {id === 'barred' && barred > 0 ? ` (${barred})` : ''}
            </Option>
          ))}
        </Select>
      </label>
      <span className="flex-1" />
      <nav className="flex items-center gap-4 font-semibold" aria-label="More of the register">
        <Link
          className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
          to="/register/classes"
        >
          Classes
        </Link>
        <Link
          className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
          to="/register/curves"
        >
          Curves
        </Link>
        <Link
          className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
          to="/register/standards"
        >
          Standards
        </Link>
        <Link
          className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
          to="/register/starting-points"
        >
          Starting points
        </Link>
        <Link
          className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
          to="/register/tables"
        >
          Import, export
        </Link>
        <Link
          className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
          to="/register/changes"
        >
          Changes
        </Link>
      </nav>
      <Menu word="Add">
        {engineers(person) ? <MenuItem chosen={() => setAdding('site')}>A site…</MenuItem> : null}
        <MenuItem chosen={() => setAdding('position')}>A position…</MenuItem>
        <MenuItem chosen={() => setAdding('measuring')}>A measuring installation…</MenuItem>
        <MenuItem chosen={() => setAdding('asset')}>An asset, to the store…</MenuItem>
      </Menu>
      {adding !== null ? <AddDialog what={adding} site={site} close={() => setAdding(null)} /> : null}
    </header>
  );
}

function Found({ text, where, current, all }: { text: string; where: string; current: string; all: () => void }) {
  const found = useQuery({
    queryKey: ['register', 'find', text, where, 200],
    queryFn: () => find(text, where),
    placeholderData: (before) => before,
  });
  if (found.isError) {
    return (
      <div className="px-4">
        <Notice action={<Button onClick={() => void found.refetch()}>Try again</Button>}>{found.error.message}</Notice>
      </div>
    );
  }
  const lines = found.data?.places ?? [];
  const count = found.data?.count ?? 0;
  const groups = new Map<string, PlaceLine[]>();
  lines.forEach((l) =>
    groups.set(l.siteName ?? 'In the store', [...(groups.get(l.siteName ?? 'In the store') ?? []), l]),
  );
  return (
    <div className="px-3" aria-live="polite">
      <p className="mb-1 flex items-center justify-between px-1 font-condensed text-quiet" data-found={count}>
        {found.isPending
          ? 'Looking…'
          : count > lines.length
            ? `${count.toLocaleString('en-GB')} found, the first ${lines.length} are shown`
            : plural(count, 'line')}
        <button type="button" className="min-h-8 font-sans font-semibold text-lake" onClick={all}>
          Show the tree
        </button>
      </p>
      {[...groups].map(([name, of]) => (
        <section key={name} aria-label={name}>
          <h2 className="border-b border-rule px-1 pt-2 pb-0.5 text-[14px] font-semibold">{name}</h2>
          {of.map((l) => (
            <PlaceRow key={l.position ?? l.asset?.id} line={l} current={current === l.position} />
          ))}
        </section>
      ))}
      {found.isSuccess && count === 0 ? (
        <p className="max-w-prose px-1 py-3">
          Nothing is like this. Every word must be somewhere in the code, title, site, maker, model, serial number or
          class; take one away, or use the search (Ctrl K), which forgives typos.
        </p>
      ) : null}
    </div>
  );
}

/** The whole at a glance, where nothing is chosen. */
function Glance({ register }: { register: RegisterOverview }) {
  const sum = register.sites.reduce(
    (a, s) => ({
      act: a.act + s.marks.act,
      watch: a.watch + s.marks.watch,
      sound: a.sound + s.marks.sound,
      unknown: a.unknown + s.marks.unknown,
    }),
    { act: 0, watch: 0, sound: 0, unknown: 0 },
  );
  const positions = register.sites.reduce((a, s) => a + s.positions, 0);
  const barred = useAllBarred();
  if (register.sites.length === 0) {
    return (
      <div className="max-w-prose">
        <h1 className="text-[21px] font-semibold">The register is empty</h1>
        <p className="mt-2">
          It says what stands where, since when. Add a site, or bring all of it in as a table: Import, export, above.
        </p>
      </div>
    );
  }
  return (
    <>
      <h1 className="text-[21px] font-semibold">
        {register.assets.toLocaleString('en-GB')} assets at {plural(positions, 'position')}
      </h1>
      <p className="font-condensed text-[16px] text-quiet">
        {register.sites.length} sites. {register.stored} in the store, {register.retired} retired.
      </p>
      <dl className="mt-4 grid max-w-[460px] grid-cols-[22px_56px_1fr] items-center gap-y-1">
        {(
          [
            ['act', sum.act, 'to act on: failed, or not to be used'],
            ['watch', sum.watch, 'to watch: marginal'],
            ['sound', sum.sound, 'sound'],
            ['unknown', sum.unknown, 'not known: never tested, in part, or overdue'],
          ] as const
        ).map(([m, n, words]) => (
          <div key={m} className="col-span-3 grid grid-cols-subgrid items-center border-b border-rule py-1">
            <StandingMark standing={m} size={18} silent />
            <dd className="text-right font-mono text-[19px] font-medium">{n}</dd>
            <dt className="pl-3">
              <Link className="underline-offset-4 hover:underline" to={`/register?where=${m}`}>
                {words}
              </Link>
            </dt>
          </div>
        ))}
      </dl>
      <section className="mt-6 max-w-[560px]" aria-label="By family">
        <h2 className="border-b border-rule pb-1 font-semibold">By family</h2>
        <ul className="font-condensed text-[15px]">
          {register.families.map((f) => (
            <li
              key={f.family}
              className="grid min-h-8 grid-cols-[minmax(0,1fr)_48px_150px] items-center gap-x-4 border-b border-rule"
            >
              {f.family}
              <span className="text-right font-mono">{f.assets}</span>
              <MarkCounts site={f} />
            </li>
          ))}
        </ul>
      </section>
      {barred.length > 0 ? (
        <section className="mt-6 max-w-[560px]" aria-label="Not to be used">
          <h2 className="border-b border-rule pb-1 font-semibold">Not to be used</h2>
          <ul>
            {barred.map((b) => (
              <li key={b.asset} className="border-b border-rule py-1.5">
                <Link className="font-semibold text-lake underline-offset-4 hover:underline" to={`/asset/${b.asset}`}>
                  {b.asset}
                </Link>
                , {b.why}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      <p className="mt-6 max-w-prose text-quiet">
        Choose a site or a position at the left, or type what you know of it.
      </p>
    </>
  );
}
