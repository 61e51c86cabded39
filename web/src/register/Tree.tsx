import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { Link } from 'react-router';
import { site as sitePage } from '../api/register';
import type { RegisterOverview, SiteLine, SitePage } from '../api/types';
import { withUnit } from '../state/words';
import { StandingMark } from '../ui/StandingMark';
import { measuringAddress, siteAddress } from './address';
import { inTree, PlaceRow } from './PlaceRow';

interface Props {
  register: RegisterOverview;
  /** Code of the site, position or measuring installation that is shown. */
  current: string;
  /** Site of it. */
  site: string;
}

/**
 * Sites along the line, each opening to what stands in it. The tab key comes to the one that was left; arrows go up and
 * down, right opens or goes in, left closes or goes out.
 */
export function Tree({ register, current, site }: Props) {
  const [opened, setOpened] = useState<Readonly<Record<string, boolean>>>({});
  const list = useRef<HTMLUListElement>(null);
  const isOpen = (code: string): boolean => opened[code] ?? code === site;
  const keys = (e: KeyboardEvent): void => {
    const items = [...(list.current?.querySelectorAll<HTMLElement>('[role=treeitem]') ?? [])];
    const at = items.indexOf(document.activeElement as HTMLElement);
    const code = items[at]?.dataset['site'];
    const level = (item: HTMLElement | undefined): number => Number(item?.ariaLevel ?? 0);
    const go = (item: HTMLElement | undefined): void => {
      e.preventDefault();
      item?.focus();
    };
    if (at < 0) {
      return;
    }
    switch (e.key) {
      case 'ArrowDown':
        return go(items[at + 1]);
      case 'ArrowUp':
        return go(items[at - 1]);
      case 'Home':
        return go(items[0]);
      case 'End':
        return go(items[items.length - 1]);
      case 'ArrowRight':
        if (code !== undefined && !isOpen(code)) {
          setOpened({ ...opened, [code]: true });
        }
        return go(level(items[at + 1]) > level(items[at]) ? items[at + 1] : undefined);
      case 'ArrowLeft':
        if (code !== undefined) {
          setOpened({ ...opened, [code]: false });
          return go(undefined);
        }
        return go(
          items
            .slice(0, at)
            .reverse()
            .find((item) => level(item) < level(items[at])),
        );
      default:
    }
  };
  // One item is in the order of the tab key: where one was, else what is shown, else the first.
  const [left, setLeft] = useState<HTMLElement | null>(null);
  useEffect(() => {
    const items = [...(list.current?.querySelectorAll<HTMLElement>('[role=treeitem]') ?? [])];
    const one =
      (left !== null && items.includes(left) ? left : undefined) ??
      items.find((item) => item.ariaSelected === 'true') ??
      items[0];
    items.forEach((item) => (item.tabIndex = item === one ? 0 : -1));
  });
  return (
    <ul
      ref={list}
      role="tree"
      onKeyDown={keys}
      onFocus={(e) => setLeft(e.target)}
      aria-label="Sites and positions"
      className="relative"
    >
      {register.sites.map((s, i) => (
        <li key={s.code} role="none">
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

const counts = ({ marks }: Pick<SiteLine, 'marks'>): string =>
  `${marks.act} to act on, ${marks.watch} to watch, ${marks.sound} sound, ${marks.unknown} not known`;

/** How many stand how: those to act on first, and in few words for those who hear it. */
export function MarkCounts({ site }: { site: Pick<SiteLine, 'marks'> }) {
  return (
    <span className="flex items-center gap-1 font-mono text-[13px]" role="img" aria-label={counts(site)}>
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
        aria-label={`${site.name}, ${counts(site)}`}
        {...inTree(1, current)}
      >
        <span className="truncate">{site.name}</span>
      </Link>
      <span aria-hidden="true">
        <MarkCounts site={site} />
      </span>
      <button
        type="button"
        className="min-h-9 text-quiet max-[1000px]:min-h-11"
        aria-hidden="true"
        onClick={toggle}
        tabIndex={-1}
        data-toggle={site.code}
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
    <ul ref={list} role="group" className="relative pb-1 pl-[64px]">
      <span className="absolute top-0 bottom-0 left-[74px] w-[2px] bg-ink" aria-hidden="true" />
      <Branches page={page.data} current={current} />
    </ul>
  );
}

function Branches({ page, current }: { page: SitePage; current: string }) {
  const alone = page.places.filter((p) => p.partOf === undefined && p.retired === undefined);
  return (
    <>
      {page.places.length === 0 ? (
        <li role="none" className="pl-8 font-condensed text-quiet">
          No position yet.
        </li>
      ) : null}
      {page.measuring.map((m) => (
        <li key={m.code} role="none" className="pl-[22px]">
          <Link
            to={measuringAddress(m.code)}
            className={`flex min-h-8 items-center gap-2 border-l-[3px] pr-2 pl-2 font-condensed text-[15px] max-[1000px]:min-h-11 ${current === m.code ? 'border-lake bg-sheet' : 'border-transparent hover:bg-sheet'}`}
            aria-current={current === m.code ? 'page' : undefined}
            data-place={m.code}
            {...inTree(2, current === m.code)}
          >
            <span className="w-4" />
            <span className="w-[104px] shrink-0 font-semibold">{m.code}</span>
            <span className="min-w-0 flex-1 truncate">{m.title === '' ? 'measuring installation' : m.title}</span>
            <span className="font-mono text-[13px] text-quiet">
              {page.places.filter((p) => p.partOf === m.code).length} parts
            </span>
          </Link>
          <ul role="group">
            {page.places
              .filter((p) => p.partOf === m.code)
              .map((p) => (
                <li key={p.position} role="none">
                  <PlaceRow line={p} current={current === p.position} deep={1} part level={3} />
                </li>
              ))}
          </ul>
        </li>
      ))}
      {alone.map((p) => (
        <li key={p.position} role="none" className="pl-[22px]">
          <PlaceRow line={p} current={current === p.position} level={2} />
        </li>
      ))}
    </>
  );
}
