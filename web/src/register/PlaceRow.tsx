import { Link } from 'react-router';
import type { PlaceLine } from '../api/types';
import { BarredTag, StandingMark } from '../ui/StandingMark';
import { assetAddress, positionAddress } from './address';

/** What makes a link an item of a tree: its level from 1 on; the tab key reaches the tree, not each item. */
export const inTree = (
  level: number,
  current: boolean,
): { role: 'treeitem'; 'aria-level': number; 'aria-selected': boolean; tabIndex: number } => ({
  role: 'treeitem',
  'aria-level': level,
  'aria-selected': current,
  tabIndex: -1,
});

/** A position with what stands there, or an asset in the store, in one line. */
export function PlaceRow({
  line,
  current,
  deep = 0,
  part = false,
  level,
}: {
  line: PlaceLine;
  current: boolean;
  deep?: number;
  part?: boolean;
  /** How deep it is in a tree; absent in a list. */
  level?: number;
}) {
  const { asset, position } = line;
  const to = position !== undefined ? positionAddress(position) : assetAddress(asset?.id ?? '');
  return (
    <Link
      to={to}
      className={`flex min-h-8 items-center gap-2 border-l-[3px] pr-2 font-condensed text-[15px] max-[1000px]:min-h-11 ${current ? 'border-lake bg-sheet' : 'border-transparent hover:bg-sheet'}`}
      style={{ paddingLeft: 8 + deep * 18 }}
      aria-current={current ? 'page' : undefined}
      {...(level === undefined ? {} : inTree(level, current))}
      data-place={position ?? asset?.id}
    >
      <span className="flex w-4 justify-center">
        {asset === undefined ? null : <StandingMark standing={asset.standing} />}
      </span>
      <span className="w-[104px] shrink-0 truncate font-semibold">{position ?? asset?.id}</span>
      <span className={`min-w-0 flex-1 truncate ${asset === undefined ? 'text-quiet italic' : ''}`}>
        <Words line={line} part={part} />
      </span>
      {asset?.doNotUse !== undefined ? <BarredTag why={asset.doNotUse} /> : null}
    </Link>
  );
}

function Words({ line, part }: { line: PlaceLine; part: boolean }) {
  const { asset } = line;
  if (asset === undefined) {
    return line.retired !== undefined ? 'retired' : `empty${line.title === '' ? '' : `, ${line.title}`}`;
  }
  const device = `${asset.maker} ${asset.model}`;
  const second = line.title === '' ? `no. ${asset.serial}` : line.title;
  return (
    <>
      {part ? (line.part ?? device) : device}
      <span className="text-quiet">, {part && line.part !== undefined ? device : second}</span>
    </>
  );
}
