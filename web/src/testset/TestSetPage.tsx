import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link, useNavigate, useParams } from 'react-router';
import { Problem } from '../api/http';
import { keepTestSet, startTestSet, testSet } from '../api/testset';
import type { TestSet } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { positionAddress } from '../register/address';
import { desk } from '../state/desk';
import { works } from '../state/roles';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Option, Select } from '../ui/Select';
import { moved, remaining, withVariant, type Wanted } from './order';

/** What is tested in one go at a position: kept there, started by one press. */
export function TestSetPage() {
  const { position = '' } = useParams();
  const view = useQuery({
    queryKey: ['testset', position],
    queryFn: () => testSet(position),
    refetchOnMount: 'always',
  });
  usePlace(
    `Tests of ${position}`,
    <>
      <Link className="underline-offset-4 hover:underline" to={positionAddress(position)}>
        {position}
      </Link>{' '}
      › <b className="font-semibold">Set of tests</b>
    </>,
    `tests ${position}`,
  );
  if (view.data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Fetching its tests…</p>
    );
  }
  return (
    <main className="max-w-[860px] px-5 py-4">
      <h1 className="text-[21px] font-semibold">
        Set of tests of {position}
        <span className="ml-3 font-condensed text-[15px] font-normal text-quiet">{view.data.title}</span>
      </h1>
      {view.data.asset === undefined ? (
        <p className="mt-4 max-w-prose">
          Nothing stands here. What is tested is chosen once something is installed.{' '}
          <Link className="font-semibold text-lake underline underline-offset-4" to={positionAddress(position)}>
            To the position
          </Link>
        </p>
      ) : (
        <SetOf key={position} view={view.data} asset={view.data.asset} />
      )}
    </main>
  );
}

const words = (error: Error | null): string | null =>
  error === null
    ? null
    : error instanceof Problem && Object.values(error.fields).length > 0
      ? Object.values(error.fields).join(' ')
      : error.message;

function SetOf({ view, asset }: { view: TestSet; asset: string }) {
  const may = works(useSession());
  const go = useNavigate();
  const queries = useQueryClient();
  const keep = useMutation({
    mutationFn: (items: readonly Wanted[]) => keepTestSet(view.position, { items: [...items], seen: view.version }),
    onSuccess: (now) => queries.setQueryData(['testset', view.position], now),
    onError: () => void queries.invalidateQueries({ queryKey: ['testset', view.position] }),
  });
  const start = useMutation({
    mutationFn: () =>
      desk.busyWith(null) === null
        ? startTestSet(view.position)
        : Promise.reject(new Error('Another run is armed or live under this page. Stop it, or let it end, first.')),
    onSuccess: ({ run }) => {
      for (const key of ['testset', 'running', 'register', 'round']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      desk.open(run, true);
      void go(`/bench/${run}`);
    },
    onError: () => void queries.invalidateQueries({ queryKey: ['testset', view.position] }),
  });
  const items: readonly Wanted[] = view.items.map((i) => ({
    procedure: i.procedure,
    ...(i.variant === undefined ? {} : { variant: i.variant }),
  }));
  const more = remaining(view.choices, items);
  const busy = keep.isPending || start.isPending;
  const trouble = words(keep.error) ?? words(start.error);
  const first = view.items[0];
  const next = view.items.find((i) => i.procedure === view.next);
  return (
    <>
      <p className="mt-1 font-condensed text-quiet">
        On {asset}, in this order. Starting it raises what is not open, puts on your round of today what is nobody
        else’s, and opens the first at the bench.
      </p>
      {trouble === null ? null : (
        <div className="mt-3">
          <Notice>{trouble}</Notice>
        </div>
      )}
      <ol className="mt-4 border-t border-ink" data-test-set>
        {view.items.map((item, i) => (
          <li
            key={item.procedure}
            className="grid min-h-14 grid-cols-[2rem_minmax(0,1fr)_15rem_auto] items-center gap-3 border-b border-rule max-[700px]:grid-cols-[2rem_minmax(0,1fr)_auto]"
            data-test={item.procedure}
          >
            <span className="font-mono text-quiet">{i + 1}</span>
            <span className="min-w-0 py-1 leading-tight">
              <b className="font-semibold">{item.title}</b>
              <span className="block font-condensed text-[14px] text-quiet">
                {item.procedure}
                {item.run !== undefined ? ', at the bench' : item.open ? ', a job of it is open' : ''}
              </span>
            </span>
            <VariantChoice
              label={`Variant of ${item.title}`}
              variants={view.choices.find((c) => c.code === item.procedure)?.variants ?? []}
              value={item.variant ?? ''}
              disabled={!may || busy}
              choose={(code) => keep.mutate(withVariant(items, i, code))}
            />
            {may ? (
              <span className="flex gap-1 max-[700px]:col-start-3 max-[700px]:row-start-1">
                <Small
                  name={`${item.title} earlier`}
                  off={busy || i === 0}
                  act={() => keep.mutate(moved(items, i, -1))}
                >
                  ↑
                </Small>
                <Small
                  name={`${item.title} later`}
                  off={busy || i === items.length - 1}
                  act={() => keep.mutate(moved(items, i, 1))}
                >
                  ↓
                </Small>
                <Small
                  name={`Take ${item.title} out`}
                  off={busy}
                  act={() => keep.mutate(items.filter((_, k) => k !== i))}
                >
                  ×
                </Small>
              </span>
            ) : null}
          </li>
        ))}
        {view.items.length === 0 ? (
          <li className="py-3 text-quiet">Nothing yet. Add what is tested here, the first test first.</li>
        ) : null}
      </ol>
      {may && more.length > 0 ? (
        <div className="mt-3 flex items-center gap-3">
          <Select
            aria-label="Add a test"
            className="w-[26rem]"
            value=""
            disabled={busy}
            onChange={(code) => (code === '' ? undefined : keep.mutate([...items, { procedure: code }]))}
          >
            <Option value="">Add a test…</Option>
            {more.map((c) => (
              <Option key={c.code} value={c.code}>
                {c.title}
              </Option>
            ))}
          </Select>
        </div>
      ) : null}
      {may && first !== undefined ? (
        <p className="mt-6">
          <Button weight="primary" disabled={busy} onClick={() => start.mutate()}>
            {start.isPending
              ? 'Opening…'
              : next !== undefined
                ? `Go on with ${next.title}`
                : `Start ${plural(view.items.length, 'test')}`}
          </Button>
        </p>
      ) : null}
    </>
  );
}

function VariantChoice({
  label,
  variants,
  value,
  disabled,
  choose,
}: {
  label: string;
  variants: readonly { code: string; name: string }[];
  value: string;
  disabled: boolean;
  choose: (code: string) => void;
}) {
  if (variants.length === 0) {
    return <span className="font-condensed text-[14px] text-quiet max-[700px]:col-start-2">as it stands</span>;
  }
  return (
    <Select aria-label={label} className="w-full" value={value} disabled={disabled} onChange={choose}>
      <Option value="">As it stands</Option>
      {variants.map((v) => (
        <Option key={v.code} value={v.code}>
          {v.name}
        </Option>
      ))}
    </Select>
  );
}

function Small({ name, off, act, children }: { name: string; off: boolean; act: () => void; children: string }) {
  return (
    <button
      type="button"
      aria-label={name}
      disabled={off}
      onClick={act}
      className="h-11 w-11 border border-rule text-[17px] font-semibold hover:border-ink disabled:text-quiet disabled:opacity-50"
    >
      {children}
    </button>
  );
}
