import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Dialog as Parts } from 'radix-ui';
import { useCallback, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { useNavigate } from 'react-router';
import { openRun } from '../api/calls';
import { planJob } from '../api/plan';
import { search } from '../api/register';
import type { Hit } from '../api/types';
import { useSession } from '../app/session';
import { recordAddress } from '../record/words';
import { assetAddress, measuringAddress, positionAddress, siteAddress } from '../register/address';
import { desk } from '../state/desk';
import { works } from '../state/roles';
import { randomId } from '../state/wires';
import { BarredTag } from '../ui/StandingMark';

/** A command of the program: what it is called, other words for it, and what it does. */
export interface Command {
  words: string;
  also: string;
  run: () => void;
}

const KINDS: Record<string, string> = {
  asset: 'Assets',
  position: 'Positions',
  measuringInstallation: 'Measuring installations',
  site: 'Sites',
  job: 'Jobs',
  record: 'Records',
  procedure: 'Procedures',
  assetClass: 'Classes',
  person: 'People',
};

function address(hit: Hit): string {
  switch (hit.kind) {
    case 'asset':
      return assetAddress(hit.key);
    case 'position':
      return positionAddress(hit.key);
    case 'measuringInstallation':
      return measuringAddress(hit.key);
    case 'site':
      return siteAddress(hit.key);
    case 'record':
      return recordAddress(hit.key);
    case 'job':
      return positionAddress(hit.title);
    case 'procedure':
      return `/records?procedure=${encodeURIComponent(hit.key)}`;
    case 'assetClass':
      return `/register/classes/${encodeURIComponent(hit.key)}`;
    default:
      return `/records?person=${encodeURIComponent(hit.key)}`;
  }
}

interface Line {
  id: string;
  group: string;
  title: string;
  detail: string;
  barred: boolean;
  open: () => void;
}

/** How many of the jobs that were found can be started from here. */
const AT_ONCE = 3;

/** One search for everything: typed, walked through with the arrows, opened with Enter. */
export function SearchDialog({ commands, close }: { commands: readonly Command[]; close: () => void }) {
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const go = useNavigate();
  const list = useRef<HTMLDivElement>(null);
  const typed = text.trim().toLowerCase();
  const found = useQuery({
    queryKey: ['search', typed],
    queryFn: () => search(typed),
    enabled: typed !== '',
    placeholderData: (before) => before,
    staleTime: 10_000,
  });
  const person = useSession();
  const queries = useQueryClient();
  const [wrong, setWrong] = useState<string | null>(null);
  const start = useCallback(
    async (hit: Hit): Promise<void> => {
      const job = await planJob(Number(hit.key));
      const today = new Date().toLocaleDateString('sv');
      if (job.run === undefined && (job.lacks.length > 0 || job.opens > today)) {
        // What it lacks is read there before it is started.
        void go(positionAddress(job.position));
        return;
      }
      if (desk.busyWith(job.run ?? null) !== null) {
        throw new Error('Another run is armed or live under this page. Stop it, or let it end, first.');
      }
      const run = job.run ?? (await openRun(job.id, randomId())).id;
      void queries.invalidateQueries({ queryKey: ['running'] });
      desk.open(run, true);
      void go(`/bench/${run}`);
    },
    [go, queries],
  );
  const may = works(person);
  const lines = useMemo<Line[]>(() => {
    const words = typed.split(/\s+/);
    const meant = commands.filter((c) => words.every((w) => `${c.words} ${c.also}`.toLowerCase().includes(w)));
    const hits = typed === '' ? [] : (found.data?.hits ?? []);
    return [
      ...hits.map((h) => ({
        id: `${h.kind}.${h.key}`,
        group: KINDS[h.kind] ?? h.kind,
        title: h.title,
        detail: h.kind === 'asset' ? `${h.key}, ${h.detail}` : h.detail,
        barred: h.barred,
        open: () => {
          close();
          void go(address(h));
        },
      })),
      ...(may ? hits.filter((h) => h.kind === 'job').slice(0, AT_ONCE) : []).map((h) => ({
        id: `start.${h.key}`,
        group: 'At once',
        title: `Start ${h.title}`,
        detail: h.detail,
        barred: h.barred,
        open: () => void start(h).then(close, (e: unknown) => setWrong(e instanceof Error ? e.message : String(e))),
      })),
      ...meant.map((c) => ({
        id: c.words,
        group: 'Commands',
        title: c.words,
        detail: '',
        barred: false,
        open: () => {
          close();
          c.run();
        },
      })),
    ];
  }, [close, commands, found.data, go, may, start, typed]);
  const chosen = Math.min(at, lines.length - 1);
  useEffect(() => {
    list.current?.querySelector('[aria-selected=true]')?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  const open = (line: Line | undefined): void => {
    setWrong(null);
    line?.open();
  };
  const keys = (e: KeyboardEvent): void => {
    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      e.preventDefault();
      setAt(Math.max(0, Math.min(lines.length - 1, chosen + (e.key === 'ArrowDown' ? 1 : -1))));
    } else if (e.key === 'Enter') {
      e.preventDefault();
      open(lines[chosen]);
    }
  };
  return (
    <Parts.Root open onOpenChange={(is) => (is ? undefined : close())}>
      <Parts.Portal>
        <Parts.Overlay className="fixed inset-0 z-40 bg-[#0b1014]/45" />
        <Parts.Content
          aria-describedby={undefined}
          className="fixed top-[8vh] left-1/2 z-50 flex max-h-[80vh] w-[min(94vw,720px)] -translate-x-1/2 flex-col rounded-xs border border-ink bg-paper shadow-[0_12px_40px_rgb(0_0_0/0.35)]"
        >
          <Parts.Title className="sr-only">Search everything</Parts.Title>
          <input
            className="h-[56px]! shrink-0 rounded-none! border-0! border-b! border-ink! bg-sheet px-5! text-[19px] outline-none"
            placeholder="Serial, position, site, record, person, or what to do"
            aria-label="Search everything"
            role="combobox"
            aria-expanded={lines.length > 0}
            aria-controls="search-found"
            aria-activedescendant={chosen >= 0 ? `found-${chosen}` : undefined}
            value={text}
            autoFocus
            onChange={(e) => {
              setText(e.target.value);
              setAt(0);
            }}
            onKeyDown={keys}
            data-search
          />
          <div
            ref={list}
            id="search-found"
            role="listbox"
            aria-label="Found"
            className="min-h-0 overflow-y-auto pb-2"
            data-busy={found.isFetching}
          >
            {typed !== '' && found.data?.like === true && lines.some((l) => l.group !== 'Commands') ? (
              <p className="px-5 pt-2 font-condensed text-quiet">Nothing is called that. This comes near:</p>
            ) : null}
            {lines.map((l, i) => (
              <div key={l.id}>
                {l.group !== lines[i - 1]?.group ? (
                  <p className="mt-2 border-b border-rule px-5 text-[13px] font-semibold text-quiet">{l.group}</p>
                ) : null}
                <div
                  id={`found-${i}`}
                  role="option"
                  aria-selected={i === chosen}
                  className={`flex min-h-10 cursor-pointer items-center gap-3 px-5 ${i === chosen ? 'bg-lake text-on-lake' : ''}`}
                  onClick={() => open(l)}
                  onMouseMove={() => setAt(i)}
                  data-hit={l.id}
                >
                  <span className="shrink-0 font-semibold">{l.title}</span>
                  <span className={`min-w-0 flex-1 truncate font-condensed ${i === chosen ? '' : 'text-quiet'}`}>
                    {l.detail}
                  </span>
                  {l.barred ? (
                    <span className="text-ink">
                      <BarredTag />
                    </span>
                  ) : null}
                </div>
              </div>
            ))}
            {wrong !== null ? (
              <p role="alert" className="px-5 py-3">
                It was not started. {wrong}
              </p>
            ) : null}
            {found.isError ? <p className="px-5 py-3">{found.error.message}</p> : null}
            {typed !== '' && found.isSuccess && !found.isFetching && lines.length === 0 ? (
              <p className="px-5 py-4">
                Nothing is called “{text.trim()}”, and nothing comes near it. Try a part of a serial number, a position
                or a maker.
              </p>
            ) : null}
          </div>
        </Parts.Content>
      </Parts.Portal>
    </Parts.Root>
  );
}
