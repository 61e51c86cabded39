import { useQuery } from '@tanstack/react-query';
import { lazy, Suspense } from 'react';
import { Link, useSearchParams } from 'react-router';
import { comparison } from '../api/records';
import type { ComparedCell, ComparedRow, ComparedSide, ComparisonView, Figured } from '../api/types';
import { usePlace } from '../app/place';
import { clock, plural, unitBetween, withUnit } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { LimitStrip } from '../ui/LimitStrip';
import { Mark } from '../ui/Mark';
import { recordAddress, sideName, standingOf } from './words';

const ComparedDrawings = lazy(() => import('./ComparedDrawings').then((m) => ({ default: m.ComparedDrawings })));

/** A record, or the run on the bench, beside up to three earlier ones. */
export function ComparePage() {
  const [given, set] = useSearchParams();
  const of = given.get('of') ?? '';
  const others = given.getAll('with');
  const view = useQuery({
    queryKey: ['comparison', of, others],
    queryFn: () => comparison(of, others),
    enabled: of !== '' && others.length > 0,
    retry: false,
    refetchOnMount: 'always',
  });
  const position = view.data?.of.position ?? '';
  usePlace(
    'Compare',
    <>
      {view.data === undefined ? '' : `${view.data.of.siteName} › ${position} › `}
      <b className="font-semibold">Compare</b>
    </>,
    `compare ${position}`,
  );
  if (view.data === undefined) {
    return (
      <main className="p-8">
        {view.isError ? (
          <Notice action={<Button onClick={() => history.back()}>Back</Button>}>{view.error.message}</Notice>
        ) : (
          <p className="text-quiet">
            {of === '' || others.length === 0
              ? 'Choose records to compare on the page of a record.'
              : 'Laying them side by side…'}
          </p>
        )}
      </main>
    );
  }
  const changedOnly = given.get('changed') === '1';
  const toggle = (): void =>
    set(
      (was) => {
        const next = new URLSearchParams(was);
        if (changedOnly) {
          next.delete('changed');
        } else {
          next.set('changed', '1');
        }
        return next;
      },
      { replace: true },
    );
  return <Compared view={view.data} changedOnly={changedOnly} toggle={toggle} />;
}

const changed = (row: ComparedRow): boolean =>
  row.then.some((c) => c.seen === 'changed' || c.seen === 'uncertaintyUnknown');

/** How many moved beyond their uncertainty, and of how many nobody can say. */
function summary(rows: readonly ComparedRow[], moved: readonly ComparedRow[], measured: number): string {
  const beyond = moved.filter((r) => r.then.some((c) => c.seen === 'changed')).length;
  const unknown = moved.length - beyond;
  const seen =
    beyond > 0
      ? `${beyond} of ${rows.length} points changed by more than their uncertainty.`
      : unknown > 0
        ? ''
        : `No change seen in ${measured} points.`;
  const unsaid =
    unknown === 0
      ? ''
      : unknown === 1
        ? 'Of one point the uncertainty is not known.'
        : `Of ${unknown} points the uncertainty is not known.`;
  return [seen, unsaid].filter((w) => w !== '').join(' ');
}

function Compared({ view, changedOnly, toggle }: { view: ComparisonView; changedOnly: boolean; toggle: () => void }) {
  const moved = view.rows.filter(changed);
  const rows = changedOnly ? moved : view.rows;
  const measured = view.rows.filter((r) => r.now.unit !== '' || r.now.strip !== undefined);
  return (
    <main className="px-5 py-4">
      <header className="flex flex-wrap items-baseline gap-x-6 gap-y-1">
        <h1 className="text-[21px] font-semibold">
          {view.of.maker} {view.of.model}, no. {view.of.serial}
        </h1>
        <p className="font-condensed text-[16px] text-quiet" data-summary>
          {summary(view.rows, moved, measured.length)} {farthest(view)}
        </p>
        <label className="ml-auto flex min-h-11 items-center gap-2 font-condensed">
          <input type="checkbox" checked={changedOnly} onChange={toggle} /> only what changed
        </label>
      </header>
      <div className="overflow-x-auto">
        <table className="w-full border-collapse">
          <Columns view={view} />
          <tbody>
            {rows.map((row, i) => (
              <Row key={row.now.key} row={row} first={rows[i - 1]?.step !== row.step} />
            ))}
          </tbody>
        </table>
      </div>
      {rows.length === 0 ? <p className="py-6">Nothing changed by more than its uncertainty.</p> : null}
      <OnlyThen view={view} />
      {view.charts.length + view.traces.length > 0 ? (
        <Suspense fallback={<p className="h-80 py-6 text-quiet">Drawing them over each other…</p>}>
          <ComparedDrawings view={view} />
        </Suspense>
      ) : null}
    </main>
  );
}

/** The point that moved most towards its limit since the first of the others: what to look at before anything else. */
function farthest(view: ComparisonView): string {
  const worse = view.rows
    .flatMap((r) => {
      const margin = r.then[0]?.seen === 'changed' ? r.then[0].marginPoints : undefined;
      return margin === undefined ? [] : [{ label: r.now.label, margin }];
    })
    .sort((a, b) => b.margin - a.margin)[0];
  return worse === undefined || Math.round(worse.margin) < 1
    ? ''
    : `Moved most towards its limit: ${worse.label}, ${points(worse.margin)}.`;
}

function Side({ side }: { side: ComparedSide }) {
  return (
    <span className="flex items-center gap-2">
      <Mark standing={standingOf(side)} silent />
      <span>
        {side.number === undefined ? (
          <Link
            className="text-[15px] font-semibold whitespace-nowrap text-lake underline-offset-4 hover:underline"
            to={`/bench/${side.run}`}
          >
            {sideName(side)}, {clock(side.at, side.zone, false)}
          </Link>
        ) : (
          <Link
            className="text-[15px] font-semibold whitespace-nowrap text-lake underline-offset-4 hover:underline"
            to={recordAddress(side.number)}
          >
            {sideName(side)}
          </Link>
        )}
        {side.baseline ? ', baseline' : ''}
        <br />
        <span className="font-normal text-quiet">{side.headline.title.toLowerCase()}</span>
      </span>
    </span>
  );
}

function Columns({ view }: { view: ComparisonView }) {
  return (
    <thead className="font-condensed text-[13px] [&_th]:pb-1.5 [&_th]:text-left [&_th]:align-bottom [&_th]:font-normal">
      <tr className="border-b border-ink">
        <th className="text-quiet">Test point</th>
        <th colSpan={2} className="pr-2">
          <Side side={view.of} />
        </th>
        <th className="pl-3 text-quiet max-[1000px]:hidden">Against limit and past</th>
        {view.with.map((side) => (
          <th key={side.run} colSpan={3} className="border-l border-rule pl-3">
            <Side side={side} />
          </th>
        ))}
      </tr>
    </thead>
  );
}

function Reading({ value, unit }: { value: Figured | undefined; unit: string }) {
  return value === undefined ? null : value.figure === undefined ? null : (
    <span className="whitespace-nowrap">
      <span className="font-mono text-[17px] font-semibold">{value.figure}</span>
      <span className="ml-1 font-condensed text-[13px] text-quiet">{unit}</span>
    </span>
  );
}

function Row({ row, first }: { row: ComparedRow; first: boolean }) {
  const p = row.now;
  return (
    <>
      {first ? (
        <tr>
          <th colSpan={4 + 3 * row.then.length} className="pt-4 pb-1 text-left font-semibold">
            {row.step}
          </th>
        </tr>
      ) : null}
      <tr className="border-t border-rule [&>td]:py-1.5" data-compared={p.key}>
        <td className="min-w-[150px] pr-3 font-condensed">{row.name}</td>
        <td className="text-right">
          <Reading value={p.counting} unit={p.unit} />
        </td>
        <td className="w-7 pl-2">{p.counting === undefined ? null : <Mark standing={p.counting.verdict} />}</td>
        <td className="w-[20%] min-w-[120px] pl-3 max-[1000px]:hidden">
          {p.strip !== undefined && p.counting !== undefined ? (
            <LimitStrip strip={p.strip} standing={p.verdict} />
          ) : null}
        </td>
        {row.then.map((cell, i) => (
          <Cell key={i} cell={cell} unit={p.unit} />
        ))}
      </tr>
    </>
  );
}

/** What a change means, in words. */
function seenWords(cell: ComparedCell, unit: string): string {
  const bound = cell.uncertainty === undefined ? '' : ` (U ${withUnit(cell.uncertainty, unit)})`;
  switch (cell.seen) {
    case 'changed':
      return cell.change === undefined ? 'another answer' : '';
    case 'noChangeSeen':
      return `no change seen${bound}`;
    case 'uncertaintyUnknown':
      return 'uncertainty not known';
    case 'new':
      return 'not measured then';
    case 'notComparable':
      return cell.differences.length === 0 ? 'does not compare' : '';
  }
}

function points(margin: number): string {
  const rounded = Math.round(margin);
  return rounded === 0 ? '' : `${rounded > 0 ? '+' : '\u2212'}${plural(Math.abs(rounded), 'point')} of margin`;
}

function Cell({ cell, unit }: { cell: ComparedCell; unit: string }) {
  const words = [
    seenWords(cell, unit),
    cell.marginPoints === undefined || cell.seen === 'noChangeSeen' ? '' : points(cell.marginPoints),
    cell.drift === undefined ? '' : `as found ${withUnit(cell.drift, unit)}`,
    ...cell.differences,
  ].filter((w) => w !== '');
  return (
    <>
      <td className="border-l border-rule pl-3 text-right">
        <Reading value={cell.value} unit={unit} />
      </td>
      <td className="w-7 pl-2">{cell.value === undefined ? null : <Mark standing={cell.value.verdict} />}</td>
      <td className="min-w-[120px] pl-2 leading-tight" data-seen={cell.seen}>
        {cell.change !== undefined ? (
          <span
            className={`font-mono text-[15px] whitespace-nowrap ${cell.seen === 'changed' ? 'font-semibold' : 'text-quiet'}`}
          >
            {withUnit(cell.change, unitBetween(unit))}
          </span>
        ) : null}
        {words.length > 0 ? (
          <span className="block font-condensed text-[13px] text-quiet">{words.join('; ')}</span>
        ) : null}
      </td>
    </>
  );
}

function OnlyThen({ view }: { view: ComparisonView }) {
  return view.onlyThen.map((labels, i) =>
    labels.length === 0 ? null : (
      <p key={view.with[i]?.run} className="mt-3 font-condensed">
        Only in {sideName(view.with[i])}: {labels.join(', ')}.
      </p>
    ),
  );
}
