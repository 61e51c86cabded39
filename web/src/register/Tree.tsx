import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { site as sitePage } from '../api/register';
import type { RegisterOverview, SiteLine, SitePage } from '../api/types';
import { withUnit } from '../state/words';
import { StandingMark } from '../ui/StandingMark';
import { measuringAddress, siteAddress } from './address';
import { PlaceRow } from './PlaceRow';

interface Props {
  register: RegisterOverview;
  /** Code of the site, position or measuring installation that is shown. */
  current: string;
  /** Site of it. */
  site: string;
}

/** Sites along the line, each opening to what stands in it. Arrows go up and down, right opens, left closes. */
export function Tree({ register, current, site }: Props) {
  const [opened, setOpened] = useState<Readonly<Record<string, boolean>>>({});
  const list = useRef<HTMLUListElement>(null);
  const isOpen = (code: string): boolean => opened[code] ?? code === site;
  const keys = (e: KeyboardEvent): void => {
    const items = [...(list.current?.querySelectorAll<HTMLElement>('a') ?? [])];
    const at = items.indexOf(document.activeElement as HTMLElement);
    const code = (document.activeElement as HTMLElement | null)?.dataset['site'];
    if (at >= 0 && (e.key === 'ArrowDown' || e.key === 'ArrowUp')) {
      e.preventDefault();
      items[at + (e.key === 'ArrowDown' ? 1 : -1)]?.focus();
    } else if (code !== undefined && (e.key === 'ArrowRight' || e.key === 'ArrowLeft')) {
      e.preventDefault();
      setOpened({ ...opened, [code]: e.key === 'ArrowRight' });
    }
  };
  return (
    <ul ref={list} onKeyDown={keys} aria-label="Sites and positions" className="relative">
      {register.sites.map((s, i) => (
        <li key={s.code}>
          <SiteRow
            site={s}
            open={isOpen(s.code)}
            current={current === s.code}
            first={i === 0}
            last={i === register.sites.length - 1 && !isOpen(s.code)}
            toggle={() => setOpened({ ...opened, [s.code]: !isOpen(s.code) })}
          />
          {isOpen(s.code) ? <Places code={s.code} current={current} /> : null}
        </li>
      ))}
    </ul>
  );
}

/** How many stand how: those to act on first, and in few words for those who hear it. */
export function MarkCounts({ site }: { site: Pick<SiteLine, 'marks'> }) {
  return (
    <span
      className="flex items-center gap-1 font-mono text-[13px]"
      role="img"
      aria-label={`${site.marks.act} to act on, ${site.marks.watch} to watch, ${site.marks.sound} sound, ${site.marks.unknown} not known`}
    >
      {(['act', 'watch', 'sound', 'unknown'] as const).map((m) => (
        <span
          key={m}
          className={`inline-flex w-[32px] items-center gap-0.5 ${site.marks[m] === 0 ? 'invisible' : ''}`}
          aria-hidden="true"
        >
          <StandingMark standing={m} size={12} silent />
          {site.marks[m]}
        </span>
      ))}
    </span>
  );
}

function SiteRow({
  site,
  open,
  current,
  first,
  last,
  toggle,
}: {
  site: SiteLine;
  open: boolean;
  current: boolean;
  first: boolean;
  last: boolean;
  toggle: () => void;
}) {
  return (
    <div className={`grid grid-cols-[64px_22px_minmax(0,1fr)_auto_32px] items-center ${current ? 'bg-sheet' : ''}`}>
      <span className="text-right font-mono text-[13px] whitespace-nowrap">{withUnit(site.km.toFixed(1), 'km')}</span>
      <span className="relative h-full" aria-hidden="true">
        <span
          className="absolute left-1/2 w-[2px] -translate-x-1/2 bg-ink"
          style={{ top: first ? '50%' : 0, bottom: last ? '50%' : 0 }}
        />
        <span
          className={`absolute top-1/2 left-1/2 h-2.5 w-2.5 -translate-x-1/2 -translate-y-1/2 rounded-full border-2 border-ink ${open ? 'bg-ink' : 'bg-sheet'}`}
        />
      </span>
      <Link
        to={siteAddress(site.code)}
        className="flex min-h-9 min-w-0 items-center font-semibold hover:underline max-[1000px]:min-h-11"
        data-site={site.code}
        aria-expanded={open}
        aria-current={current ? 'page' : undefined}
      >
        <span className="truncate">{site.name}</span>
      </Link>
      <MarkCounts site={site} />
      <button
        type="button"
        className="min-h-9 text-quiet max-[1000px]:min-h-11"
        aria-label={`${open ? 'Close' : 'Open'} ${site.name}`}
        onClick={toggle}
        tabIndex={-1}
      >
        <svg
          viewBox="0 0 10 10"
          width={10}
          height={10}
          className={`inline ${open ? 'rotate-90' : ''}`}
          aria-hidden="true"
        >
          <path d="M3 1l4 4-4 4" fill="none" stroke="currentColor" strokeWidth="1.8" />
        </svg>
      </button>
    </div>
  );
}

function Places({ code, current }: { code: string; current: string }) {
  const page = useQuery({ queryKey: ['register', 'site', code], queryFn: () => sitePage(code), staleTime: 15_000 });
  const list = useRef<HTMLUListElement>(null);
  const loaded = page.data !== undefined;
  useEffect(() => {
    if (loaded) {
      list.current?.querySelector('[aria-current=page]')?.scrollIntoView({ block: 'nearest' });
    }
  }, [loaded, current]);
  if (page.data === undefined) {
    return (
      <p className="py-1 pl-[90px] text-quiet">{page.isError ? page.error.message : 'Looking what stands there…'}</p>
    );
  }
  return (
    <ul ref={list} className="relative pb-1 pl-[64px]">
      <span className="absolute top-0 bottom-0 left-[74px] w-[2px] bg-ink" aria-hidden="true" />
      <Branches page={page.data} current={current} />
    </ul>
  );
}

function Branches({ page, current }: { page: SitePage; current: string }) {
  const alone = page.places.filter((p) => p.partOf === undefined && p.retired === undefined);
  return (
    <>
      {page.places.length === 0 ? <li className="pl-8 font-condensed text-quiet">No position yet.</li> : null}
      {page.measuring.map((m) => (
        <li key={m.code} className="pl-[22px]">
          <Link
            to={measuringAddress(m.code)}
            className={`flex min-h-8 items-center gap-2 border-l-[3px] pr-2 pl-2 font-condensed text-[15px] max-[1000px]:min-h-11 ${current === m.code ? 'border-lake bg-sheet' : 'border-transparent hover:bg-sheet'}`}
            aria-current={current === m.code ? 'page' : undefined}
            data-place={m.code}
          >
            <span className="w-4" />
            <span className="w-[104px] shrink-0 font-semibold">{m.code}</span>
            <span className="min-w-0 flex-1 truncate">{m.title === '' ? 'measuring installation' : m.title}</span>
            <span className="font-mono text-[13px] text-quiet">
              {page.places.filter((p) => p.partOf === m.code).length} parts
            </span>
          </Link>
          <ul>
            {page.places
              .filter((p) => p.partOf === m.code)
              .map((p) => (
                <li key={p.position}>
                  <PlaceRow line={p} current={current === p.position} deep={1} part />
                </li>
              ))}
          </ul>
        </li>
      ))}
      {alone.map((p) => (
        <li key={p.position} className="pl-[22px]">
          <PlaceRow line={p} current={current === p.position} />
        </li>
      ))}
    </>
  );
}
