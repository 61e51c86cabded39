import { Link } from 'react-router';
import type { FleetOrder } from '../api/condition';
import type { FleetDevice } from '../api/types';
import { asStanding, STANDING_WORDS, StandingMark } from '../ui/StandingMark';
import { sentence, signedPercent, trendAddress } from './words';

const HEADS: readonly { word: string; order: FleetOrder | null; right?: boolean }[] = [
  { word: 'Standing', order: 'gravest' },
  { word: 'Position', order: 'position' },
  { word: 'Device', order: null },
  { word: 'Margin used', order: 'margin', right: true },
  { word: 'A year', order: 'drift', right: true },
  { word: 'Why', order: null },
];

/** The drift map as a table: the same devices, in an order that can be chosen. */
export function FleetTable({
  devices,
  order,
  sort,
  pending,
}: {
  devices: readonly FleetDevice[];
  order: FleetOrder;
  sort: (order: FleetOrder) => void;
  pending: boolean;
}) {
  if (pending) {
    return <p className="py-4 text-quiet">Looking for devices…</p>;
  }
  return (
    <table className="w-full border-collapse font-condensed text-[15px]">
      <thead>
        <tr className="text-left text-[13px] text-quiet">
          {HEADS.map((h) => (
            <th
              key={h.word}
              className={`pr-4 pb-1 font-normal ${h.right ? 'text-right' : ''}`}
              {...(h.order === order ? { 'aria-sort': h.order === 'position' ? 'ascending' : 'descending' } : {})}
            >
              {h.order === null ? (
                h.word
              ) : (
                <button
                  type="button"
                  className={`min-h-8 underline-offset-4 hover:underline ${h.order === order ? 'font-semibold text-ink' : ''}`}
                  onClick={() => sort(h.order ?? 'gravest')}
                >
                  {h.word}
                  {h.order === order ? (h.order === 'position' ? ' ↑' : ' ↓') : ''}
                </button>
              )}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {devices.map((d) => (
          <tr
            key={d.asset}
            className="border-t border-rule align-top hover:bg-sheet [&>td]:py-1 [&>td]:pr-4"
            data-device={d.asset}
          >
            <td className="whitespace-nowrap">
              <span className="inline-flex items-center gap-2">
                <StandingMark standing={asStanding(d.standing)} size={13} silent coloured />
                {STANDING_WORDS[asStanding(d.standing)]}
              </span>
            </td>
            <td className="whitespace-nowrap">
              <Link
                className="font-semibold text-lake underline-offset-4 hover:underline"
                to={trendAddress(d.asset, d.series, d.lane)}
              >
                {d.position}
              </Link>
            </td>
            <td className="whitespace-nowrap max-[1000px]:whitespace-normal">{d.model}</td>
            <td className="text-right font-mono text-[14px] whitespace-nowrap">
              {d.margin === undefined ? '' : `${Math.round(d.margin * 100)}\u2006%`}
            </td>
            <td className="text-right font-mono text-[14px] whitespace-nowrap">
              {d.drift === undefined ? '' : signedPercent(d.drift)}
            </td>
            <td>{sentence(d.reason)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
