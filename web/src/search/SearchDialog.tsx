import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Command as Found } from 'cmdk';
import { Dialog as Parts } from 'radix-ui';
import { useCallback, useMemo, useState } from 'react';
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
import { asStanding, BarredTag, STANDING_WORDS, StandingMark } from '../ui/StandingMark';

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
  /** How a device stands; absent for what is none. */
  standing?: string;
  open: () => void;
}

/** How many of the jobs that were found can be started from here. */
const STARTED_HERE = 3;
const AT_ONCE = 'At once';

/** One search for everything: typed, walked through with the arrows, opened with Enter. */
export function SearchDialog({ commands, close }: { commands: readonly Command[]; close: () => void }) {
  const [text, setText] = useState('');
  const go = useNavigate();
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
        ...(h.standing === undefined ? {} : { standing: h.standing }),
        open: () => {
          close();
          void go(address(h));
        },
      })),
      ...(may ? hits.filter((h) => h.kind === 'job').slice(0, STARTED_HERE) : []).map((h) => ({
        id: `start.${h.key}`,
        group: AT_ONCE,
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
  const [first, ...others] = [...new Set(lines.map((l) => l.group))];
  // What can be done at once comes after what answers best, where it is seen without scrolling.
  const groups = [first, ...others.filter((g) => g === AT_ONCE), ...others.filter((g) => g !== AT_ONCE)].filter(
    (g) => g !== undefined,
  );
  const open = (line: Line): void => {
    setWrong(null);
    line.open();
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
          <Found shouldFilter={false} loop label="Search everything" className="flex min-h-0 flex-col">
            <Found.Input
              className="h-[56px]! shrink-0 rounded-none! border-0! border-b! border-ink! bg-sheet px-5! text-[19px] outline-none"
              placeholder="Serial, position, site, record, person, or what to do"
              aria-label="Search everything"
              value={text}
              autoFocus
              onValueChange={setText}
              data-search
            />
            <div className="min-h-0 overflow-y-auto pb-2" data-busy={found.isFetching}>
              {typed !== '' && found.data?.like === true && lines.some((l) => l.group !== 'Commands') ? (
                <p className="px-5 pt-2 font-condensed text-quiet">Nothing is called that. This comes near:</p>
              ) : null}
              {/* What was found anew begins with its first line again. */}
              <Found.List label="Found" key={found.dataUpdatedAt}>
                {groups.map((group) => (
                  <Found.Group
                    key={group}
                    heading={
                      <p className="mt-2 border-b border-rule px-5 text-[13px] font-semibold text-quiet">{group}</p>
                    }
                  >
                    {lines
                      .filter((l) => l.group === group)
                      .map((l) => (
                        <One key={l.id} line={l} open={() => open(l)} />
                      ))}
                  </Found.Group>
                ))}
              </Found.List>
              {wrong !== null ? (
                <p role="alert" className="px-5 py-3">
                  It was not started. {wrong}
                </p>
              ) : null}
              {found.isError ? <p className="px-5 py-3">{found.error.message}</p> : null}
              {typed !== '' && found.isSuccess && !found.isFetching && lines.length === 0 ? (
                <p className="px-5 py-4">
                  Nothing is called “{text.trim()}”, and nothing comes near it. Try a part of a serial number, a
                  position or a maker.
                </p>
              ) : null}
            </div>
          </Found>
        </Parts.Content>
      </Parts.Portal>
    </Parts.Root>
  );
}

function One({ line, open }: { line: Line; open: () => void }) {
  return (
    <Found.Item
      value={line.id}
      onSelect={open}
      className="group flex min-h-9 cursor-pointer items-center gap-3 px-5 data-[selected=true]:bg-lake data-[selected=true]:text-on-lake max-[1000px]:min-h-11"
      data-hit={line.id}
    >
      <span className="shrink-0 font-semibold">{line.title}</span>
      <span className="min-w-0 flex-1 truncate font-condensed text-quiet group-data-[selected=true]:text-on-lake">
        {line.detail}
      </span>
      {line.standing === undefined || line.barred ? null : (
        <span className="flex w-[86px] shrink-0 items-center gap-1.5 font-condensed text-[14px]">
          <span className="group-data-[selected=true]:[&>svg]:text-on-lake">
            <StandingMark standing={asStanding(line.standing)} size={12} silent />
          </span>
          {STANDING_WORDS[asStanding(line.standing)]}
        </span>
      )}
      {line.barred ? (
        <span className="text-ink">
          <BarredTag />
        </span>
      ) : null}
    </Found.Item>
  );
}
