import { useQuery } from '@tanstack/react-query';
import { Command } from 'cmdk';
import { useState } from 'react';
import { find } from '../api/register';
import type { PlaceLine } from '../api/types';
import { BarredTag } from '../ui/StandingMark';

const SHOWN = 40;

/** Finds a device by typing: in the store first, elsewhere if one says so. */
export function AssetPicker({
  family,
  not,
  chosen,
  choose,
}: {
  family: string;
  not: string | undefined;
  chosen: PlaceLine | null;
  choose: (line: PlaceLine | null) => void;
}) {
  const [text, setText] = useState('');
  const [anywhere, setAnywhere] = useState(false);
  const found = useQuery({
    queryKey: ['register', 'find', text, anywhere ? '' : 'store', SHOWN],
    queryFn: () => find(text, anywhere ? '' : 'store', SHOWN),
    placeholderData: (b) => b,
    enabled: !anywhere || text.trim() !== '',
  });
  const lines = (found.data?.places ?? []).filter(
    (l) => l.asset !== undefined && l.asset.id !== not && l.family === family,
  );
  if (chosen !== null) {
    return (
      <p className="flex items-center gap-3 border border-ink bg-sheet px-3 py-2" data-chosen={chosen.asset?.id}>
        <span className="min-w-0 flex-1">
          <b className="font-semibold">{chosen.asset?.id}</b>, {chosen.asset?.maker} {chosen.asset?.model}, no.{' '}
          {chosen.asset?.serial}
          <span className="block font-condensed text-quiet">
            {chosen.position === undefined ? 'from the store' : `is taken from ${chosen.position}, which is empty then`}
          </span>
        </span>
        <button type="button" className="min-h-11 font-semibold text-lake" onClick={() => choose(null)}>
          Another
        </button>
      </p>
    );
  }
  return (
    <Command shouldFilter={false} loop label="Find the device that comes in">
      <Command.Input
        className="w-full"
        placeholder="Id, serial number, maker or model"
        aria-label="Find the device that comes in"
        value={text}
        autoFocus
        onValueChange={setText}
        data-pick
      />
      <label className="mt-2 flex min-h-9 items-center gap-2">
        <input type="checkbox" checked={anywhere} onChange={(e) => setAnywhere(e.target.checked)} /> look at other
        positions too, not only in the store
      </label>
      <Command.List
        label="Devices"
        key={found.dataUpdatedAt}
        className="mt-1 max-h-[216px] overflow-y-auto border-t border-rule"
      >
        {lines.map((l) => (
          <Command.Item
            key={l.asset?.id}
            value={l.asset?.id ?? ''}
            onSelect={() => choose(l)}
            className="flex min-h-11 cursor-pointer items-center gap-3 border-b border-rule px-2 data-[selected=true]:bg-sheet"
            data-choice={l.asset?.id}
          >
            <b className="w-24 shrink-0 font-semibold">{l.asset?.id}</b>
            <span className="min-w-0 flex-1 truncate font-condensed">
              {l.asset?.maker} {l.asset?.model}, no. {l.asset?.serial}
            </span>
            {l.asset?.doNotUse !== undefined ? (
              <BarredTag why={l.asset.doNotUse} />
            ) : (
              <span className="font-condensed text-[14px] text-quiet">{l.position ?? 'store'}</span>
            )}
          </Command.Item>
        ))}
      </Command.List>
      {found.isSuccess && lines.length === 0 ? (
        <p className="py-2 text-quiet">
          {text === ''
            ? 'Nothing of use is in the store. Enter a new device, or look at other positions.'
            : 'No device is like this.'}
        </p>
      ) : null}
    </Command>
  );
}
