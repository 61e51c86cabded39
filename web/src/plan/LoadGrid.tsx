import { useRef, useState, type KeyboardEvent } from 'react';
import type { Load, LoadRow } from '../api/types';
import { addDays, hours } from '../state/plan';
import { plural, shortDay } from '../state/words';

/** What of the load is looked at: a row by its kind and key, empty for all; and a week by its Monday, or over. */
export interface Chosen {
  row: string;
  when: string;
}

const rowKey = (row: LoadRow): string => `${row.kind}:${row.key}`;
const NAMES = 'w-[196px] max-[1000px]:w-[128px]';

interface Props {
  load: Load;
  chosen: Chosen;
  choose: (next: Chosen) => void;
}

/**
 * Load against capacity: people and sites, week by week. One cell is in the order of the tab key; arrows go to
 * the others.
 */
export function LoadGrid({ load, chosen, choose }: Props) {
  const grid = useRef<HTMLDivElement>(null);
  const rows = [...load.people, ...load.sites];
  const [at, setAt] = useState<[number, number]>([0, 0]);
  const weeks = Array.from({ length: load.weeks }, (_, i) => addDays(load.first, 7 * i));
  const most = Math.max(1, ...rows.flatMap((r) => r.weeks.map((w) => w.minutes)));
  const key = (e: KeyboardEvent): void => {
    const step = { ArrowUp: [-1, 0], ArrowDown: [1, 0], ArrowLeft: [0, -1], ArrowRight: [0, 1] }[e.key];
    if (step === undefined) {
      return;
    }
    e.preventDefault();
    const row = Math.min(rows.length - 1, Math.max(0, at[0] + (step[0] ?? 0)));
    const column = Math.min(load.weeks, Math.max(0, at[1] + (step[1] ?? 0)));
    setAt([row, column]);
    grid.current?.querySelector<HTMLElement>(`[data-cell="${row} ${column}"]`)?.focus();
  };
  return (
    <div
      ref={grid}
      role="grid"
      aria-label="Load against capacity by week"
      onKeyDown={key}
      className="pr-9 select-none max-[1000px]:pr-11"
    >
      <div className="flex items-end font-condensed text-[13px] text-quiet" role="row">
        <span className={NAMES} role="columnheader">
          <span className="sr-only">who or where</span>
        </span>
        <span className="w-[52px] max-[1000px]:w-[44px] pr-2 text-right" role="columnheader">
          over
        </span>
        {weeks.map((monday, i) => (
          <span
            key={monday}
            className="min-w-0 flex-1 border-l border-transparent pl-0.5 leading-tight"
            role="columnheader"
            aria-label={`week of ${shortDay(monday)}`}
          >
            {i === 0 || monday.slice(8) <= '07' ? (
              <b className="block font-semibold whitespace-nowrap text-ink">{shortDay(monday).split(' ')[1]}</b>
            ) : null}
            <span className="max-[1000px]:hidden">{Number(monday.slice(8))}</span>
          </span>
        ))}
      </div>
      {rows.map((row, r) => (
        <div
          key={rowKey(row)}
          role="row"
          className={`flex items-stretch border-b border-rule ${r === load.people.length ? 'mt-3 border-t border-t-ink' : r === 0 ? 'border-t border-t-ink' : ''}`}
          data-load={rowKey(row)}
        >
          <span
            className={`${NAMES} flex items-center gap-1 truncate pr-2 ${row.key === '' ? 'text-quiet' : ''}`}
            role="rowheader"
          >
            <button
              type="button"
              className="truncate text-left underline-offset-4 hover:underline"
              tabIndex={-1}
              onClick={() => choose({ row: rowKey(row), when: 'all' })}
            >
              {row.name}
            </button>
          </span>
          <Cell
            row={r}
            column={0}
            at={at}
            setAt={setAt}
            on={chosen.row === rowKey(row) && chosen.when === 'over'}
            label={`${row.name}, over their window: ${plural(row.over, 'job')}`}
            choose={() => choose({ row: rowKey(row), when: 'over' })}
            className="w-[52px] max-[1000px]:w-[44px] border-l-0 pr-2 text-right"
          >
            {row.over > 0 ? <b className="font-mono text-[14px]">{row.over}</b> : null}
          </Cell>
          {row.weeks.map((week, w) => {
            const scale = week.capacity ?? most;
            const over = week.capacity !== undefined && week.minutes > week.capacity;
            const share = scale === 0 ? (week.minutes > 0 ? 1 : 0) : Math.min(1, week.minutes / scale);
            const monday = weeks[w] ?? load.first;
            return (
              <Cell
                key={monday}
                row={r}
                column={w + 1}
                at={at}
                setAt={setAt}
                on={chosen.row === rowKey(row) && chosen.when === monday}
                label={`${row.name}, week of ${shortDay(monday)}: ${plural(week.jobs, 'job')}, ${hours(week.minutes)}${week.capacity === undefined ? '' : ` of ${hours(week.capacity)}`}${over ? ', more than there is' : ''}`}
                choose={() => choose({ row: rowKey(row), when: monday })}
                className="min-w-0 flex-1"
              >
                {week.capacity === 0 ? (
                  <span className="hatched absolute inset-0 opacity-60" aria-hidden="true" />
                ) : null}
                <span
                  className={`absolute inset-x-0 bottom-0 ${over ? 'hatched border-t-2 border-ink' : 'bg-band'}`}
                  style={{ height: `${share * 100}%` }}
                  aria-hidden="true"
                />
                <span
                  className={`relative font-condensed text-[13px] max-[1000px]:hidden ${over ? 'font-semibold' : ''}`}
                >
                  {week.jobs > 0 ? week.jobs : ''}
                </span>
              </Cell>
            );
          })}
        </div>
      ))}
    </div>
  );
}

interface CellProps {
  row: number;
  column: number;
  at: [number, number];
  setAt: (at: [number, number]) => void;
  on: boolean;
  label: string;
  choose: () => void;
  className: string;
  children: React.ReactNode;
}

function Cell({ row, column, at, setAt, on, label, choose, className, children }: CellProps) {
  return (
    <button
      type="button"
      role="gridcell"
      aria-label={label}
      aria-selected={on}
      data-hint={label}
      data-cell={`${row} ${column}`}
      tabIndex={at[0] === row && at[1] === column ? 0 : -1}
      onFocus={() => setAt([row, column])}
      onClick={choose}
      className={`relative h-8 border-l border-rule px-0.5 text-left max-[1000px]:h-10 ${on ? 'z-10 outline-2 -outline-offset-1 outline-lake' : ''} ${className}`}
    >
      {children}
    </button>
  );
}
