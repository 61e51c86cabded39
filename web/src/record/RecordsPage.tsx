import { useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { Link, useSearchParams } from 'react-router';
import { FILTERS, query, recordChoices, records, type Filter } from '../api/records';
import type { RecordLine } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { BarredMark } from '../register/BarredNotice';
import { dayAt, plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Mark } from '../ui/Mark';
import { FileNameDialog } from './FileNameDialog';
import { recordAddress, SIGNING_WORDS, standingOf, VERDICT_CHOICES, verdictWord } from './words';
import { administers, sharesOut, works } from '../state/roles';
import { Option, Select } from '../ui/Select';

/** Every record, narrowed by what stands in the address. */
export function RecordsPage() {
  const [given, set] = useSearchParams();
  const filter: Filter = Object.fromEntries(
    FILTERS.flatMap((name) => (given.get(name) === null ? [] : [[name, given.get(name)]])),
  );
  const list = useInfiniteQuery({
    queryKey: ['records', filter],
    queryFn: ({ pageParam }) => records(filter, pageParam),
    initialPageParam: null as string | null,
    getNextPageParam: (last) => last.next ?? null,
    refetchOnMount: 'always',
    placeholderData: (before) => before,
  });
  const [naming, setNaming] = useState(false);
  const [cleared, setCleared] = useState(0);
  const person = useSession();
  usePlace('Records', <b className="font-semibold">Records</b>, 'records');
  const change = (name: keyof Filter, value: string): void =>
    set(
      (was) => {
        const next = new URLSearchParams(was);
        if (value === '') {
          next.delete(name);
        } else {
          next.set(name, value);
        }
        return next;
      },
      { replace: true },
    );
  const showAll = (): void => {
    set({}, { replace: true });
    setCleared(cleared + 1);
  };
  const lines = list.data?.pages.flatMap((p) => p.records) ?? [];
  const count = list.data?.pages[0]?.count;
  const narrowed = Object.keys(filter).length > 0;
  return (
    <main className="flex min-h-full flex-col px-5 py-4">
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[21px] font-semibold" data-count>
          {count === undefined ? 'Records' : `${plural(count, 'record')}${narrowed ? ' found' : ''}`}
        </h1>
        {narrowed ? (
          <Button weight="quiet" onClick={showAll}>
            Show all
          </Button>
        ) : null}
        <span className="flex-1" />
        {works(person) ? (
          <Link className="font-semibold text-lake underline underline-offset-4" to="/intake" data-bring-in>
            Bring in files
          </Link>
        ) : null}
        <span className="font-condensed text-quiet">
          Export these:{' '}
          <a
            className="font-semibold text-lake underline underline-offset-4"
            href={`/api/records/export/csv${query(filter)}`}
            download
          >
            CSV
          </a>
          {', '}
          <a
            className="font-semibold text-lake underline underline-offset-4"
            href={`/api/records/export/json${query(filter)}`}
            download
          >
            JSON
          </a>
        </span>
        {sharesOut(person) || administers(person) ? (
          <Button weight="quiet" onClick={() => setNaming(true)}>
            File names…
          </Button>
        ) : null}
      </header>
      <Filters key={cleared} filter={filter} change={change} />
      {list.isError ? (
        <Notice action={<Button onClick={() => void list.refetch()}>Try again</Button>}>{list.error.message}</Notice>
      ) : null}
      <Table lines={lines} />
      {list.isPending ? <p className="py-4 text-quiet">Looking for records…</p> : null}
      {count === 0 ? <Nothing narrowed={narrowed} /> : null}
      {list.hasNextPage ? (
        <p className="py-3">
          <Button disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
            {list.isFetchingNextPage ? 'Fetching…' : `Show more, ${lines.length} of ${count ?? 0} are shown`}
          </Button>
        </p>
      ) : null}
      {naming ? <FileNameDialog close={() => setNaming(false)} /> : null}
    </main>
  );
}

function Nothing({ narrowed }: { narrowed: boolean }) {
  return (
    <p className="max-w-prose py-6">
      {narrowed
        ? 'No record is like this. Take a condition away above, or all of them.'
        : 'There is no record yet. A run that is finished at the bench comes here as a record, to be signed, printed and compared.'}
    </p>
  );
}

function Labelled({ label, children }: { label: string; children: ReactNode }) {
  return (
    <label className="flex min-w-0 flex-col gap-0.5 font-condensed text-[13px] text-quiet">
      {label}
      {children}
    </label>
  );
}

const FIELD = 'text-[15px] text-ink font-sans';

function Filters({ filter, change }: { filter: Filter; change: (name: keyof Filter, value: string) => void }) {
  const choices = useQuery({ queryKey: ['record-choices'], queryFn: recordChoices, staleTime: 60_000 });
  const one = (
    label: string,
    name: keyof Filter,
    all: string,
    items: readonly { id: string; word: string }[],
    width: string,
  ): ReactNode => (
    <Labelled label={label}>
      <Select className={`${FIELD} ${width}`} value={filter[name] ?? ''} onChange={(picked) => change(name, picked)}>
        <Option value="">{all}</Option>
        {items.map((c) => (
          <Option key={c.id} value={c.id}>
            {c.word}
          </Option>
        ))}
      </Select>
    </Labelled>
  );
  return (
    <search className="mt-3 mb-1 flex flex-wrap items-end gap-x-3 gap-y-2 border-b border-ink pb-3">
      <Labelled label="Position, number or model">
        <SearchField text={filter.text ?? ''} change={(text) => change('text', text)} />
      </Labelled>
      {one('Site', 'site', 'every site', choices.data?.sites ?? [], 'w-40')}
      {one('Done by', 'person', 'everyone', choices.data?.people ?? [], 'w-32')}
      {one('Verdict', 'verdict', 'every verdict', VERDICT_CHOICES, 'w-32')}
      {one(
        'Signed',
        'signing',
        'all',
        Object.entries(SIGNING_WORDS).map(([id, word]) => ({ id, word })),
        'w-36',
      )}
      <Labelled label="From">
        <DateField
          className={`${FIELD} w-36`}

          value={filter.from ?? ''}
          onChange={(day) => change('from', day)}
          told="left"
          past
        />
      </Labelled>
      <Labelled label="To">
        <DateField
          className={`${FIELD} w-36`}

          value={filter.to ?? ''}
          onChange={(day) => change('to', day)}
          told="left"
          past
        />
      </Labelled>
      {filter.asset !== undefined || filter.position !== undefined || filter.procedure !== undefined ? (
        <p className="pb-3 font-condensed">
          only {[filter.position, filter.asset, filter.procedure].filter((w) => w !== undefined).join(', ')}
        </p>
      ) : null}
    </search>
  );
}

/** What is typed stands at once; the address follows it, and may be slower than the fingers. */
function SearchField({ text, change }: { text: string; change: (text: string) => void }) {
  const [typed, setTyped] = useState(text);
  return (
    <input
      className={`${FIELD} w-44`}
      type="search"
      value={typed}
      onChange={(e) => {
        setTyped(e.target.value);
        change(e.target.value);
      }}
    />
  );
}

function Table({ lines }: { lines: readonly RecordLine[] }) {
  return lines.length === 0 ? null : (
    <table className="w-full border-collapse font-condensed text-[15px]">
      <thead>
        <tr className="text-left text-[13px] text-quiet [&>th]:pr-4 [&>th]:pb-1 [&>th]:font-normal">
          <th>Verdict</th>
          <th>Record</th>
          <th>Device</th>
          <th className="max-[1000px]:hidden">Procedure</th>
          <th className="max-[1000px]:hidden">Site</th>
          <th>Done</th>
          <th>By</th>
          <th>Signed</th>
        </tr>
      </thead>
      <tbody>
        {lines.map((r) => (
          <tr
            key={r.run}
            className="border-t border-rule hover:bg-sheet [&>td]:pr-4 max-[1000px]:[&>td]:pr-3"
            data-record={r.number}
          >
            <td className="whitespace-nowrap">
              <span className="inline-flex items-center gap-2">
                <Mark standing={standingOf(r)} silent />
                {verdictWord(r)}
              </span>
            </td>
            <td className="whitespace-nowrap">
              <Link
                className="inline-flex min-h-8 items-center font-semibold text-lake underline-offset-4 hover:underline max-[1000px]:min-h-11"
                to={recordAddress(r.number)}
              >
                {r.number}
              </Link>
            </td>
            <td className="whitespace-nowrap max-[1000px]:py-1 max-[1000px]:whitespace-normal">
              {r.maker} {r.model}, no. {r.serial} <BarredMark asset={r.asset} />
            </td>
            <td className="max-[1000px]:hidden">
              {r.title}
              {r.baseline ? ', baseline' : ''}
            </td>
            <td className="max-[1000px]:hidden">{r.siteName}</td>
            <td className="whitespace-nowrap">{dayAt(r.finishedAt, r.zone)}</td>
            <td className="whitespace-nowrap max-[1000px]:whitespace-normal">{r.by}</td>
            <td className="whitespace-nowrap max-[1000px]:whitespace-normal">
              {r.signing === 'reviewed' ? (
                <span className="text-quiet">reviewed</span>
              ) : (
                <b className="font-semibold">{SIGNING_WORDS[r.signing]}</b>
              )}
              {r.amended ? ', amended' : ''}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
