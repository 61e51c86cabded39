import { Link } from 'react-router';
import type { Held } from '../api/types';
import { recordAddress, standingOf, verdictWord } from '../record/words';
import { dayAt } from '../state/words';
import { Mark } from '../ui/Mark';
import { assetAddress, positionAddress } from './address';
import { Cut } from '../ui/Hints';

const DAY = 86_400_000;

/**
 * Every device that stood at a position, on one axis of time: when it was here, where else it was, and each test
 * it had.
 */
export function HistoryAxis({ position, held, zone }: { position: string; held: readonly Held[]; zone: string }) {
  const now = Date.now();
  const times = held.flatMap((h) => [
    ...h.standings.map((s) => Date.parse(s.from)),
    ...h.tests.map((t) => Date.parse(t.at)),
  ]);
  const first = Math.min(now - 60 * DAY, ...times);
  const pad = (now - first) * 0.03;
  const from = first - pad;
  const to = now + pad;
  const at = (time: number): number => ((time - from) / (to - from)) * 100;
  const years: number[] = [];
  const step = Math.max(1, Math.ceil((to - from) / (365 * DAY) / 9));
  for (let y = new Date(from).getFullYear() + 1; Date.UTC(y, 0, 1) < to; y += step) {
    years.push(y);
  }
  return (
    <figure className="mt-2" aria-label={`What has stood at ${position}`}>
      <div className="grid grid-cols-[minmax(120px,190px)_minmax(0,1fr)] gap-x-3">
        {held.map((h) => (
          <div key={h.asset.id} className="contents">
            <p
              className="min-w-0 border-b border-rule py-1.5 font-condensed text-[15px] leading-tight"
              data-held={h.asset.id}
            >
              <Link
                className="font-semibold text-lake underline-offset-4 hover:underline"
                to={assetAddress(h.asset.id)}
              >
                {h.asset.id}
              </Link>
              <Cut className="block text-[13px] text-quiet">
                {h.asset.maker} {h.asset.model}, no. {h.asset.serial}
              </Cut>
            </p>
            <div className="relative h-[46px] border-b border-rule">
              {years.map((y) => (
                <span
                  key={y}
                  className="absolute inset-y-0 border-l border-rule"
                  style={{ left: `${at(Date.UTC(y, 0, 1))}%` }}
                />
              ))}
              {h.standings.map((s) => {
                const left = at(Date.parse(s.from));
                const width = at(s.to === undefined ? now : Date.parse(s.to)) - left;
                const words = `${s.position}, ${dayAt(s.from, zone)} ${s.to === undefined ? 'till today' : `to ${dayAt(s.to, zone)}`}`;
                return s.position === position ? (
                  <span
                    key={s.from}
                    className="absolute top-[17px] h-[12px] bg-ink"
                    style={{ left: `${left}%`, width: `max(3px, ${width}%)` }}
                    tabIndex={0}
                    data-hint={words}
                    data-stay="here"
                  >
                    <span className="sr-only">{words}</span>
                  </span>
                ) : (
                  <Link
                    key={s.from}
                    to={positionAddress(s.position)}
                    className="absolute top-[17px] h-[12px] overflow-visible border border-ink bg-paper"
                    style={{ left: `${left}%`, width: `max(3px, ${width}%)` }}
                    data-hint={words}
                    data-stay="elsewhere"
                  >
                    <span className="absolute -top-[17px] left-0 font-condensed text-[12px] leading-none whitespace-nowrap text-quiet">
                      {s.position}
                    </span>
                  </Link>
                );
              })}
              {h.tests.map((t) => (
                <Link
                  key={t.run}
                  to={recordAddress(t.number)}
                  className="absolute top-[23px] -translate-x-1/2 -translate-y-1/2 p-1"
                  style={{ left: `${at(Date.parse(t.at))}%` }}
                  data-hint={`${t.number}: ${verdictWord(t)}, ${dayAt(t.at, zone)}`}
                  aria-label={`Record ${t.number}, ${verdictWord(t)}`}
                >
                  <span className="block rounded-full bg-paper p-[3px]">
                    <Mark standing={standingOf(t)} size={14} silent />
                  </span>
                </Link>
              ))}
              <span
                className="absolute inset-y-0 border-l border-dashed border-quiet"
                style={{ left: `${at(now)}%` }}
              />
            </div>
          </div>
        ))}
        <p className="pt-1 text-right font-condensed text-[13px] text-quiet">
          <span className="inline-block h-[8px] w-[16px] bg-ink" /> here,{' '}
          <span className="inline-block h-[8px] w-[16px] border border-ink" /> elsewhere
        </p>
        <div className="relative h-5 font-condensed text-[13px] text-quiet">
          {years
            .filter((y) => at(Date.UTC(y, 0, 1)) < 93)
            .map((y) => (
              <span key={y} className="absolute pl-1" style={{ left: `${at(Date.UTC(y, 0, 1))}%` }}>
                {y}
              </span>
            ))}
        </div>
      </div>
    </figure>
  );
}
