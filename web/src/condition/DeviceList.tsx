import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link } from 'react-router';
import { trends, type FleetFilter } from '../api/condition';
import type { FleetDevice } from '../api/types';
import { useSession } from '../app/session';
import type { Region } from '../draw/drift';
import { sharesOut, works } from '../state/roles';
import { Button } from '../ui/controls';
import { asStanding, StandingMark } from '../ui/StandingMark';
import { TrendField } from './TrendField';
import { RaiseJobs } from './RaiseJobs';
import { SharedTraits } from './SharedTraits';
import { briefly, chosenWords, inSentence, needWords, sentence, signedPercent, trendAddress } from './words';

interface Props {
  devices: readonly FleetDevice[];
  total: number;
  region: Region | null;
  filter: FleetFilter;
  counts: { act: number; watch: number; sound: number; unknown: number };
  pending: boolean;
  clear: () => void;
  /** A device the list points at; null for none. */
  pointed: (asset: string | null) => void;
}

/** What needs attention, or what was chosen on the map: each with its reason; one of them with its trend. */
export function DeviceList({ devices, total, region, filter, counts, pending, clear, pointed }: Props) {
  const [raising, setRaising] = useState(false);
  const person = useSession();
  const may = works(person) || sharesOut(person);
  // A part of the fleet that somebody chose: a region, a standing, a site.
  const chosen = region !== null || Object.keys(filter).length > 0;
  const [unfolded, setUnfolded] = useState<string | null>(null);
  const open = devices.some((d) => d.asset === unfolded) ? unfolded : (devices[0]?.asset ?? null);
  return (
    <>
      <header className="flex min-h-[46px] items-center gap-3 border-b border-rule px-4">
        <h2 className="min-w-0 flex-1 text-[16px] font-semibold" data-list-head>
          {!chosen ? needWords(counts.act + counts.watch) : chosenWords(total, region !== null)}
        </h2>
        {chosen && total > 0 && may ? (
          <Button weight="quiet" className="min-h-9! px-1!" onClick={() => setRaising(true)} data-raise-jobs>
            Raise jobs…
          </Button>
        ) : null}
        {region === null ? null : (
          <Button weight="quiet" className="min-h-9! px-1!" onClick={clear}>
            Clear
          </Button>
        )}
      </header>
      {raising ? <RaiseJobs filter={filter} region={region} count={total} close={() => setRaising(false)} /> : null}
      {pending ? <p className="px-4 py-3 text-quiet">Looking for devices…</p> : null}
      {devices.length === 0 && !pending ? (
        <p className="px-4 py-4">
          {region === null && chosen
            ? 'No device is like this.'
            : region === null
              ? counts.sound > 0
                ? 'Nothing failed, nothing will meet a limit before its next test but one, and nothing lies apart from its like. What is nearest to its limit stands at the right of the map.'
                : 'What fails, drifts towards its limit, or lies apart from others of its model is told here, with the reason. It takes records: four of a test point for a date.'
              : 'There is no mark in it. Drag over marks, or clear it.'}
        </p>
      ) : null}
      <ul>
        {devices.map((d) => (
          <li
            key={d.asset}
            className={`border-b border-rule ${d.asset === open ? 'bg-lake/12' : ''}`}
            onPointerEnter={() => pointed(d.asset)}
            onPointerLeave={() => pointed(null)}
            data-need={d.position}
          >
            <button
              type="button"
              className="grid w-full grid-cols-[18px_minmax(0,1fr)] gap-x-2 px-4 py-2 text-left"
              aria-expanded={d.asset === open}
              onClick={() => setUnfolded(d.asset)}
              onFocus={() => pointed(d.asset)}
              onBlur={() => pointed(null)}
            >
              <span className="pt-[3px]">
                <StandingMark standing={asStanding(d.standing)} size={13} coloured />
              </span>
              <span className="min-w-0">
                <span className="flex items-baseline gap-2">
                  <b className="min-w-0 flex-1 truncate font-semibold">
                    {d.position} <span className="font-normal">{inSentence(d.title)}</span>
                  </b>
                  {d.meets === undefined ? null : (
                    <b className="text-right text-[14px] font-semibold whitespace-nowrap">{briefly(d.meets)}</b>
                  )}
                </span>
                <span className="block font-condensed text-[14px] text-quiet">{sentence(d.detail)}</span>
              </span>
            </button>
            {d.asset === open ? <Unfolded device={d} /> : null}
          </li>
        ))}
      </ul>
      {chosen && total > 1 ? <SharedTraits filter={filter} region={region} /> : null}
      {total > devices.length ? (
        <p className="px-4 py-3 font-condensed text-[14px] text-quiet">
          The gravest {devices.length} are listed; the table and the export have all {total}.
        </p>
      ) : null}
    </>
  );
}

function Unfolded({ device }: { device: FleetDevice }) {
  const { asset, series, lane } = device;
  const view = useQuery({
    queryKey: ['condition', 'trend', asset, series, lane],
    queryFn: () => trends(asset, series, lane),
    enabled: series !== undefined,
  });
  const point = view.data?.points[0];
  return (
    <div className="bg-sheet px-4 pt-2 pb-3">
      {point !== undefined && view.data !== undefined ? (
        <>
          <div className="h-[116px]">
            <TrendField shown={[{ point, marks: view.data.marks, name: 'mini' }]} zone={view.data.zone} small />
          </div>
          <p className="mt-1 font-condensed text-[14px]">
            {point.outlook.charAt(0).toUpperCase() + point.outlook.slice(1)}. {point.words.join(' ')}
          </p>
        </>
      ) : view.isError ? (
        <p>{view.error.message}</p>
      ) : series === undefined ? (
        <p className="font-condensed text-[14px]">No test point of it has values that can be compared yet.</p>
      ) : (
        <p className="h-[116px] text-quiet">Reading its records…</p>
      )}
      <p className="mt-1 flex flex-wrap items-center gap-x-4 font-condensed text-[14px]">
        <span className="flex-1 text-quiet">
          {device.margin === undefined
            ? ''
            : `${Math.round(device.margin * 100)}\u2006% of its margin used${device.drift === undefined ? '' : `, ${signedPercent(device.drift)} a year`}`}
        </span>
        <Link
          className="inline-flex min-h-9 items-center font-semibold text-lake underline underline-offset-4 max-[1000px]:min-h-11"
          to={trendAddress(asset, series, lane)}
          data-to-trend
        >
          All its trends
        </Link>
      </p>
    </div>
  );
}
