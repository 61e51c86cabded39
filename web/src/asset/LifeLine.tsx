import { Link } from 'react-router';
import type { AssetView } from '../api/types';
import { positionAddress } from '../register/address';
import { recordAddress, standingOf, verdictWord } from '../record/words';
import { dayAt, dayWithYear, shortDay } from '../state/words';
import { Mark } from '../ui/Mark';

const DAY = 86_400_000;

/** Installed, tested, repaired, due: on one axis of time. */
export function LifeLine({ view }: { view: AssetView }) {
  const now = Date.now();
  const times = [
    ...view.standings.map((s) => Date.parse(s.from)),
    ...view.records.map((r) => Date.parse(r.finishedAt)),
  ];
  const dues = view.jobs.map((j) => Date.parse(`${j.due}T12:00:00Z`));
  const from = Math.min(now - 30 * DAY, ...times);
  const to = Math.max(now, ...dues) + 120 * DAY;
  const at = (time: number): string => `${(((time - from) / (to - from)) * 100).toFixed(2)}%`;
  const years: number[] = [];
  for (let y = new Date(from).getFullYear() + 1; Date.UTC(y, 0, 1) < to; y++) {
    years.push(y);
  }
  return (
    <figure className="relative mt-4 h-[92px]" aria-label="Life on one axis of time">
      <span className="absolute inset-x-0 top-[46px] h-px bg-ink" />
      {years.map((y) => (
        <span
          key={y}
          className="absolute top-[42px] border-l border-quiet pt-4 pl-1 font-condensed text-[13px] text-quiet"
          style={{ left: at(Date.UTC(y, 0, 1)), height: 28 }}
        >
          {y}
        </span>
      ))}
      {view.standings.map((s) => {
        const words = `${s.position}, ${dayAt(s.from, view.zone)} ${s.to === undefined ? 'till today' : `to ${dayAt(s.to, view.zone)}`}`;
        const left = ((Date.parse(s.from) - from) / (to - from)) * 100;
        const right = (((s.to === undefined ? now : Date.parse(s.to)) - from) / (to - from)) * 100;
        return (
          <Link
            key={s.from}
            to={positionAddress(s.position)}
            className="absolute top-0 h-[30px] overflow-hidden border-l-2 border-ink pl-1.5 font-condensed text-[13px] leading-tight whitespace-nowrap hover:underline"
            style={{ left: `${left}%`, width: `max(6px, ${right - left}%)` }}
            data-hint={words}
          >
            {s.position}
            <span className="absolute inset-x-0 bottom-0 h-[5px] bg-ink" />
          </Link>
        );
      })}
      {view.repairs.map((r) => (
        <span
          key={r.at}
          className="absolute top-[22px] h-[34px] w-[2px] bg-ink"
          style={{ left: at(Date.parse(r.at)) }}
          tabIndex={0}
          data-hint={`${dayAt(r.at, view.zone)}: ${r.what}`}
        >
          <span className="sr-only">{`Adjusted ${dayAt(r.at, view.zone)}: ${r.what}`}</span>
        </span>
      ))}
      {view.records.map((r) => (
        <Link
          key={r.run}
          to={recordAddress(r.number)}
          className="absolute top-[46px] -translate-x-1/2 -translate-y-1/2 p-2"
          style={{ left: at(Date.parse(r.finishedAt)) }}
          data-hint={`${r.number}: ${verdictWord(r)}, ${dayAt(r.finishedAt, r.zone)}`}
          aria-label={`Record ${r.number}, ${verdictWord(r)}`}
        >
          <span className="block rounded-full bg-paper p-0.5">
            <Mark standing={standingOf(r)} size={16} silent />
          </span>
        </Link>
      ))}
      {view.jobs.map((j, i) => (
        <span
          key={j.id}
          className="absolute top-[46px] -translate-x-1/2 -translate-y-1/2 bg-paper p-0.5"
          style={{ left: at(dues[i] ?? now) }}
          tabIndex={0}
          data-hint={`Due ${dayWithYear(j.due)}`}
        >
          <Mark standing="todo" size={16} silent />
          {/* Further ones stand close; each says its day when pointed at. */}
          {i === 0 ? (
            <span className="absolute bottom-[20px] left-[14px] font-condensed text-[13px] whitespace-nowrap">
              due {shortDay(j.due)}
            </span>
          ) : (
            <span className="sr-only">due {shortDay(j.due)}</span>
          )}
        </span>
      ))}
      <span className="absolute top-[6px] h-[62px] border-l border-dashed border-quiet" style={{ left: at(now) }}>
        <span className="absolute -top-[6px] right-1 font-condensed text-[13px] text-quiet">today</span>
      </span>
    </figure>
  );
}
