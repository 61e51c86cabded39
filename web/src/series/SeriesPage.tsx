import { useQuery } from '@tanstack/react-query';
import { Link, useParams } from 'react-router';
import { series } from '../api/series';
import type { SeriesField, TestSeries } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { recordAddress, standingOf, verdictWord } from '../record/words';
import { positionAddress } from '../register/address';
import { works } from '../state/roles';
import { clock, dayAt, plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Field } from '../ui/Field';
import { Mark } from '../ui/Mark';
import { Option, Select } from '../ui/Select';
import { inPattern, withField, withPattern } from './form';
import { useKeeping } from './useKeeping';
import { useNextTest } from './useNextTest';

/** Devices of a kind that are tested at one place, one after the other. */
export function SeriesPage() {
  const { position = '' } = useParams();
  const view = useQuery({
    queryKey: ['series', position],
    queryFn: () => series(position),
    refetchOnMount: 'always',
  });
  usePlace(
    `Series at ${position}`,
    <>
      <Link className="underline-offset-4 hover:underline" to={positionAddress(position)}>
        {position}
      </Link>{' '}
      › <b className="font-semibold">Series</b>
    </>,
    `series ${position}`,
  );
  if (view.data === undefined) {
    return view.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void view.refetch()}>Try again</Button>}>{view.error.message}</Notice>
      </main>
    ) : (
      <p className="p-8 text-quiet">Fetching the series…</p>
    );
  }
  return (
    <main className="px-5 py-4">
      <h1 className="text-[21px] font-semibold">
        One after the other at {position}
        <span className="ml-3 font-condensed text-[15px] font-normal text-quiet">{view.data.title}</span>
      </h1>
      {view.data.like === undefined ? (
        <p className="mt-4 max-w-prose">
          Nothing ever stood here. Install the first device of the kind; the next ones are made like it.{' '}
          <Link className="font-semibold text-lake underline underline-offset-4" to={positionAddress(position)}>
            To the position
          </Link>
        </p>
      ) : (
        <div className="mt-3 grid grid-cols-[minmax(0,440px)_minmax(0,1fr)] gap-x-10 gap-y-6 max-[1000px]:grid-cols-1">
          <NextAndNumber key={position} view={view.data} like={view.data.like} />
          <Done view={view.data} />
        </div>
      )}
    </main>
  );
}

function NextAndNumber({ view, like }: { view: TestSeries; like: NonNullable<TestSeries['like']> }) {
  const may = works(useSession());
  const keeping = useKeeping(view);
  const { edit, change, wrong } = keeping;
  const test = useNextTest(view.position);
  const next = view.ahead[0];
  const { open } = view;
  return (
    <div className="grid content-start gap-6">
      <section aria-label="The next one">
        <h2 className="border-b border-ink pb-1 text-[17px] font-semibold">
          {open === undefined ? 'The next one' : 'On the bench'}
        </h2>
        <p className="mt-2 font-mono text-[30px] leading-tight font-semibold [overflow-wrap:anywhere]" data-next>
          {open !== undefined ? open.serial : (next ?? 'none: the series is at its end')}
        </p>
        <p className="mt-1 font-condensed text-quiet">
          {like.className}, {like.maker} {like.model}, with the plate of {like.asset}
          {view.ahead.length > 1 ? (
            <>
              . Then{' '}
              {view.ahead.slice(open === undefined ? 1 : 0, 4).map((number, i) => (
                <span key={number}>
                  {i === 0 ? '' : ', '}
                  <span className="whitespace-nowrap">{number}</span>
                </span>
              ))}
            </>
          ) : null}
          .
        </p>
        {view.taken !== undefined && open === undefined ? (
          <div className="mt-2">
            <Notice>
              {view.taken} has the number {next} already. Change a field below; no number is given twice.
            </Notice>
          </div>
        ) : null}
        {test.trouble === null ? null : (
          <div className="mt-2">
            <Notice>{test.trouble}</Notice>
          </div>
        )}
        {may ? (
          <p className="mt-3">
            {open !== undefined ? (
              <Button weight="primary" onClick={() => test.atBench(open.run)} autoFocus>
                Go on with {open.serial}
              </Button>
            ) : (
              <Button
                weight="primary"
                autoFocus
                disabled={
                  next === undefined ||
                  view.taken !== undefined ||
                  view.version === 0 ||
                  keeping.state !== 'kept' ||
                  test.beginning
                }
                onClick={() => (next === undefined ? undefined : test.begin(next))}
              >
                {test.beginning ? 'Opening…' : `Test ${next ?? ''}`}
              </Button>
            )}
            {view.version === 0 && edit.procedure === '' ? (
              <span className="ml-3 font-condensed text-quiet">Choose its procedure first.</span>
            ) : null}
          </p>
        ) : null}
      </section>
      <section aria-label="How it goes on">
        <div className="flex items-baseline justify-between border-b border-ink pb-1">
          <h2 className="text-[17px] font-semibold">How it goes on</h2>
          <span className="font-condensed text-quiet" role="status" data-keeping={keeping.state}>
            {
              {
                kept: view.version === 0 ? 'not begun' : 'kept',
                keeping: edit.procedure === '' ? 'choose a procedure' : 'keeping…',
                wrong: 'not kept',
              }[keeping.state]
            }
          </span>
        </div>
        {keeping.trouble === null ? null : (
          <div className="mt-2">
            <Notice action={<Button onClick={keeping.again}>Show what is kept</Button>}>{keeping.trouble}</Notice>
          </div>
        )}
        <fieldset disabled={!may} className="mt-3 grid gap-3">
          <Field label="Procedure" wrong={wrong['procedure']}>
            {(own) => (
              <Select
                {...own}
                className="w-full"
                value={edit.procedure}
                disabled={!may}
                onChange={(procedure) => change({ ...edit, procedure })}
              >
                {view.procedures.map((p) => (
                  <Option key={p.code} value={p.code}>
                    {p.title}
                  </Option>
                ))}
              </Select>
            )}
          </Field>
          <Field
            label="Number"
            wrong={wrong['pattern']}
            hint="What is in braces is a field, such as {box}; write a new one to have it."
          >
            {(own) => (
              <input
                {...own}
                className="w-full font-mono"
                value={edit.pattern}
                spellCheck={false}
                onChange={(e) => change(withPattern(edit, e.target.value))}
              />
            )}
          </Field>
          <ul className="grid gap-2">
            {inPattern(edit).map((f) => (
              <FieldRow
                key={f.name}
                field={f}
                wrong={wrong[`fields.${f.name}`]}
                change={(to) => change(withField(edit, f.name, to))}
              />
            ))}
          </ul>
        </fieldset>
      </section>
    </div>
  );
}

function FieldRow({
  field,
  wrong,
  change,
}: {
  field: SeriesField;
  wrong: string | undefined;
  change: (to: Partial<SeriesField>) => void;
}) {
  const input = (label: string, value: string, to: (text: string) => void, width: string) => (
    <input
      aria-label={`${field.name}, ${label}`}
      aria-invalid={wrong !== undefined}
      className={`${width} font-mono`}
      value={value}
      spellCheck={false}
      onChange={(e) => to(e.target.value)}
    />
  );
  return (
    <li data-series-field={field.name}>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <span className="w-20 truncate font-mono font-semibold">{field.name}</span>
        {input('next', field.value, (value) => change({ value }), field.runs ? 'w-20' : 'w-40')}
        <label className="flex min-h-11 items-center gap-2">
          <input type="checkbox" checked={field.runs} onChange={(e) => change({ runs: e.target.checked })} />
          runs
        </label>
        {field.runs ? (
          <span className="flex items-center gap-2 text-quiet">
            from {input('first', field.first ?? '', (first) => change({ first }), 'w-14')}
            to {input('last', field.last ?? '', (last) => change({ last }), 'w-14')}
          </span>
        ) : null}
      </div>
      {wrong === undefined ? null : (
        <p role="alert" className="mt-0.5 border-l-4 border-ink pl-2 text-[14px]" data-wrong>
          {wrong}
        </p>
      )}
    </li>
  );
}

function Done({ view }: { view: TestSeries }) {
  const failed = view.done.filter((d) => d.verdict === 'fail').length;
  return (
    <section aria-label="Tested here">
      <div className="flex items-baseline justify-between border-b border-ink pb-1">
        <h2 className="text-[17px] font-semibold">Tested here</h2>
        <span className="font-condensed text-quiet">
          {view.done.length === 0 ? '' : `${plural(view.done.length, 'device')}, ${failed} failed`}
        </span>
      </div>
      {view.done.length === 0 ? (
        <p className="mt-2 max-w-prose text-quiet">
          Nothing yet by this procedure. Each device that is tested here stands here with its verdict, the newest first;
          the number of the next goes up by itself.
        </p>
      ) : (
        <table className="w-full border-collapse">
          <thead>
            <tr className="text-left font-condensed text-[14px] text-quiet">
              <th className="py-1 font-normal">Number</th>
              <th className="font-normal">Verdict</th>
              <th className="font-normal">Points that fail</th>
              <th className="font-normal">When</th>
              <th className="font-normal">Record</th>
            </tr>
          </thead>
          <tbody>
            {view.done.map((d) => (
              <tr key={d.record} className="border-t border-rule" data-series-item={d.serial}>
                <td className="py-2 font-mono font-semibold">{d.serial}</td>
                <td>
                  <span className="inline-flex items-center gap-2">
                    <Mark standing={standingOf(d)} silent />
                    {verdictWord(d)}
                  </span>
                </td>
                <td className="font-mono">{d.failed === 0 ? '' : d.failed}</td>
                <td className="font-condensed">
                  {dayAt(d.at, view.zone)}, {clock(d.at, view.zone)}
                </td>
                <td>
                  <Link
                    className="inline-flex min-h-11 items-center text-lake underline-offset-4 hover:underline"
                    to={recordAddress(d.record)}
                  >
                    {d.record}
                  </Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
