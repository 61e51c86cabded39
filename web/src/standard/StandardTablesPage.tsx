import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { Problem } from '../api/http';
import { keepStandardTable, standardTable, standardTables } from '../api/standards';
import type { StandardTableView } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { BackToRegister, Failed } from '../register/PaneParts';
import { engineers } from '../state/roles';
import { dayWithYear, plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Field } from '../ui/Field';
import { copyOf, editOf, inWords, pasted, withCell, withoutRow, withRowAfter, type TableEdit } from './form';

const address = (id: string): string => `/register/standards/${encodeURIComponent(id)}`;

/** What devices are judged by: tables of standards and of the house, in their editions. */
export function StandardTablesPage() {
  const { id } = useParams();
  const all = useQuery({ queryKey: ['standards'], queryFn: standardTables });
  const chosen = all.data?.find((t) => t.id === id);
  usePlace(
    'Tables of standards',
    <>
      Register › <b className="font-semibold">Tables of standards</b>
      {chosen === undefined ? '' : ` › ${chosen.title}`}
    </>,
    `standards${id ?? ''}${chosen?.title ?? ''}`,
  );
  if (all.data === undefined) {
    return (
      <main className="p-8">
        {all.isError ? (
          <Failed problem={all.error} again={() => void all.refetch()} />
        ) : (
          <p className="text-quiet">Looking which tables there are…</p>
        )}
      </main>
    );
  }
  const groups = [...new Set(all.data.map((t) => t.group))];
  return (
    <main className="grid h-full min-h-0 grid-cols-[300px_minmax(0,1fr)] max-[1000px]:block max-[1000px]:overflow-auto">
      <nav
        className={`min-h-0 overflow-auto border-r border-rule px-4 py-3 max-[1000px]:border-r-0 ${id !== undefined ? 'max-[1000px]:hidden' : ''}`}
        aria-label="Tables of standards"
      >
        <BackToRegister />
        {groups.map((group) => (
          <section key={group} aria-label={inWords(group)}>
            <h2 className="mt-2 border-b border-rule text-[13px] font-semibold text-quiet">{inWords(group)}</h2>
            <ul>
              {all.data
                .filter((t) => t.group === group)
                .map((t) => (
                  <li key={t.id}>
                    <Link
                      to={address(t.id)}
                      className={`block min-h-11 border-l-[3px] px-2 py-1 ${t.id === id ? 'border-lake bg-sheet font-semibold' : 'border-transparent hover:bg-sheet'}`}
                      data-standard={t.id}
                    >
                      <span className="block truncate">{t.title}</span>
                      <span className="block truncate font-condensed text-[14px] font-normal text-quiet">
                        {t.edition}
                        {t.retired ? ', out of use' : t.revision > 0 ? `, revision ${t.revision}` : ''}
                      </span>
                    </Link>
                  </li>
                ))}
            </ul>
          </section>
        ))}
      </nav>
      <section className="min-h-0 overflow-auto px-5 pt-4 pb-24" aria-label="Table">
        {id !== undefined ? (
          <p className="hidden max-[1000px]:block">
            <Link className="inline-flex min-h-11 items-center font-semibold text-lake" to="/register/standards">
              All tables
            </Link>
          </p>
        ) : null}
        {id === undefined ? (
          <div className="max-w-prose">
            <h1 className="text-[21px] font-semibold">{plural(all.data.length, 'table')} of standards</h1>
            <p className="mt-2">
              Some steps, and some limits, go by a table. The nameplate says which one a device is judged by; a run
              keeps the one that was in use when it was opened, so a table that changes today changes no record.
            </p>
          </div>
        ) : chosen === undefined ? (
          <Notice>There is no table “{id}”.</Notice>
        ) : (
          <OneTable key={`${chosen.id} ${chosen.revision}`} of={chosen} />
        )}
      </section>
    </main>
  );
}

/** Which devices it is for, in words. */
const meantFor = (t: StandardTableView): string =>
  Object.keys(t.when).length === 0
    ? 'For all that no other table is meant for.'
    : `For ${Object.entries(t.when)
        .map(([key, value]) => `${inWords(key).toLowerCase()} “${value}”`)
        .join(' and ')}.`;

/** What it means that nothing stands in a cell. */
const emptyCell = (heading: string | undefined): string =>
  heading === 'lowest' || heading === 'highest' ? 'open' : 'any';

function OneTable({ of }: { of: StandardTableView }) {
  const may = engineers(useSession());
  const [edit, setEdit] = useState<TableEdit | null>(null);
  const [shown, setShown] = useState<number | null>(null);
  const older = useQuery({
    queryKey: ['standards', of.id, shown],
    queryFn: () => standardTable(of.id, shown ?? 0),
    enabled: shown !== null,
  });
  const view = shown === null ? of : older.data;
  if (edit !== null) {
    return <Editor of={of} edit={edit} change={setEdit} leave={() => setEdit(null)} />;
  }
  return (
    <>
      <h1 className="text-[21px] font-semibold">{of.title}</h1>
      <p className="font-condensed text-[16px] text-quiet">
        {of.id}. {of.edition}. {meantFor(of)}
        {of.retired ? ' Out of use: runs that are opened from now on are not judged by it.' : ''}
      </p>
      {may ? (
        <p className="mt-3 flex flex-wrap gap-3">
          <Button onClick={() => setEdit(editOf(of))}>Change…</Button>
          <Button onClick={() => setEdit(copyOf(of))}>Make another from it…</Button>
        </p>
      ) : (
        <p className="mt-2 font-condensed text-quiet">An engineer or a supervisor changes tables.</p>
      )}
      {shown === null ? null : (
        <div className="mt-3">
          <Notice action={<Button onClick={() => setShown(null)}>Back to the newest</Button>}>
            {shown === 0 ? 'This is the table as it ships.' : `This is revision ${shown}, which is no longer in use.`}
          </Notice>
        </div>
      )}
      {view === undefined ? (
        older.isError ? (
          <Failed problem={older.error} again={() => void older.refetch()} />
        ) : (
          <p className="mt-3 text-quiet">Fetching that revision…</p>
        )
      ) : (
        <table className="mt-4 w-full max-w-[760px] border-collapse font-condensed text-[15px]" data-standard-rows>
          <thead>
            <tr className="text-left text-[13px] text-quiet [&>th]:pr-4 [&>th]:font-normal">
              {view.columns.map((c) => (
                <th key={c}>{inWords(c)}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {view.rows.map((row, i) => (
              <tr key={i} className="h-8 border-t border-rule [&>td]:pr-4">
                {row.map((cell, k) => (
                  <td key={k} className="font-mono">
                    {cell || <span className="font-condensed text-quiet">{emptyCell(view.columns[k])}</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {of.revisions.length === 0 ? null : (
        <section className="mt-6 max-w-[760px]" aria-label="Revisions">
          <h2 className="border-b border-ink pb-1 text-[17px] font-semibold">Revisions</h2>
          <ul>
            {of.revisions.map((r, i) => (
              <li key={r.revision} className="flex min-h-11 flex-wrap items-center gap-x-4 border-b border-rule">
                <span className="w-24 font-semibold">revision {r.revision}</span>
                <span className="min-w-0 flex-1">
                  {r.edition}
                  {r.retired ? ', out of use' : ''}
                </span>
                <span className="font-condensed text-quiet">
                  {r.by}, {dayWithYear(r.at.slice(0, 10))}
                </span>
                {i === 0 ? null : (
                  <Button weight="quiet" onClick={() => setShown(r.revision)}>
                    Show
                  </Button>
                )}
              </li>
            ))}
            <li className="flex min-h-11 items-center">
              <Button weight="quiet" className="px-0!" onClick={() => setShown(0)}>
                As it ships
              </Button>
            </li>
          </ul>
        </section>
      )}
    </>
  );
}

function Editor({
  of,
  edit,
  change,
  leave,
}: {
  of: StandardTableView;
  edit: TableEdit;
  change: (to: TableEdit) => void;
  leave: () => void;
}) {
  const go = useNavigate();
  const cache = useQueryClient();
  const other = edit.id !== of.id;
  const [fresh] = useState(other);
  const keep = useMutation({
    mutationFn: () =>
      keepStandardTable(edit.id, {
        group: of.group,
        title: edit.title,
        edition: edit.edition,
        when: Object.fromEntries(edit.when),
        rows: edit.rows,
        retired: edit.retired,
        seen: fresh ? 0 : of.revision,
      }),
    onSuccess: async (kept) => {
      await cache.invalidateQueries({ queryKey: ['standards'] });
      leave();
      await go(address(kept.id));
    },
  });
  const wrong = keep.error instanceof Problem ? keep.error.fields : {};
  const outside = Object.entries(wrong).filter(([f]) => !['id', 'title', 'edition', 'when', 'retired'].includes(f));
  const widths = of.columns.map((_, k) => Math.min(24, Math.max(8, ...edit.rows.map((r) => (r[k] ?? '').length))));
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        keep.mutate();
      }}
    >
      <h1 className="text-[21px] font-semibold">{fresh ? `Another from ${of.title}` : of.title}</h1>
      <p className="max-w-prose font-condensed text-quiet">
        Runs that are open keep the table they were opened with. Cells can be pasted from a table of yours, from the
        cell on where you paste.
      </p>
      <div className="mt-3 grid max-w-[760px] grid-cols-2 gap-x-6 gap-y-3 max-[700px]:grid-cols-1">
        {fresh ? (
          <Field label="Short name" wrong={wrong['id']} required>
            {(own) => (
              <input
                {...own}
                className="w-full font-mono"
                value={edit.id}
                spellCheck={false}
                onChange={(e) => change({ ...edit, id: e.target.value })}
              />
            )}
          </Field>
        ) : null}
        <Field label="What it is for" wrong={wrong['title']} required>
          {(own) => (
            <input
              {...own}
              className="w-full"
              value={edit.title}
              onChange={(e) => change({ ...edit, title: e.target.value })}
            />
          )}
        </Field>
        <Field label="Standard and edition, or house rule and day" wrong={wrong['edition']} required>
          {(own) => (
            <input
              {...own}
              className="w-full"
              value={edit.edition}
              onChange={(e) => change({ ...edit, edition: e.target.value })}
            />
          )}
        </Field>
      </div>
      <fieldset className="mt-3 max-w-[760px]">
        <legend className="text-[14px] font-semibold">For devices whose nameplate says</legend>
        {edit.when.map(([key, value], i) => (
          <p key={i} className="mt-1 flex items-center gap-2">
            <input
              aria-label={`Field ${i + 1} of the nameplate`}
              className="w-44 font-mono"
              value={key}
              spellCheck={false}
              onChange={(e) => change({ ...edit, when: edit.when.toSpliced(i, 1, [e.target.value, value]) })}
            />
            <span>contains</span>
            <input
              aria-label={`Value ${i + 1}`}
              className="w-44"
              value={value}
              onChange={(e) => change({ ...edit, when: edit.when.toSpliced(i, 1, [key, e.target.value]) })}
            />
            <Button weight="quiet" onClick={() => change({ ...edit, when: edit.when.toSpliced(i, 1) })}>
              Take off
            </Button>
          </p>
        ))}
        <p className="mt-1">
          {edit.when.length === 0 ? <span className="text-quiet">Anything. </span> : null}
          <Button weight="quiet" className="px-0!" onClick={() => change({ ...edit, when: [...edit.when, ['', '']] })}>
            Another condition
          </Button>
        </p>
        {wrong['when'] === undefined ? null : (
          <p role="alert" className="border-l-4 border-ink pl-2 text-[14px]" data-wrong>
            {wrong['when']}
          </p>
        )}
      </fieldset>
      <table className="mt-3 max-w-[820px] border-collapse text-[15px]">
        <thead>
          <tr className="text-left text-[13px] text-quiet [&>th]:pl-1 [&>th]:font-normal">
            {of.columns.map((c) => (
              <th key={c}>{inWords(c)}</th>
            ))}
            <th>
              <span className="sr-only">Rows</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {edit.rows.map((row, i) => (
            <tr key={i}>
              {row.map((cell, k) => (
                <td key={k} className="p-0.5">
                  <input
                    aria-label={`Row ${i + 1}, ${inWords(of.columns[k] ?? '')}`}
                    aria-invalid={wrong[`rows.${i}.${of.columns[k] ?? ''}`] !== undefined}
                    data-cell={`${i}.${of.columns[k] ?? ''}`}
                    className="font-mono"
                    style={{ width: `calc(${widths[k] ?? 0}ch + 22px)` }}
                    value={cell}
                    spellCheck={false}
                    onPaste={(e) => {
                      const text = e.clipboardData.getData('text');
                      if (/[\t\n;]/.test(text.trim())) {
                        e.preventDefault();
                        change(pasted(edit, i, k, text));
                      }
                    }}
                    onChange={(e) => change(withCell(edit, i, k, e.target.value))}
                  />
                </td>
              ))}
              <td className="whitespace-nowrap">
                <Button
                  weight="quiet"
                  aria-label={`A row like row ${i + 1}`}
                  onClick={() => change(withRowAfter(edit, i))}
                >
                  +
                </Button>
                <Button
                  weight="quiet"
                  aria-label={`Take off row ${i + 1}`}
                  disabled={edit.rows.length === 1}
                  onClick={() => change(withoutRow(edit, i))}
                >
                  −
                </Button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {outside.map(([field, words]) => (
        <p key={field} role="alert" className="mt-1 border-l-4 border-ink pl-2" data-wrong={field}>
          {words}
        </p>
      ))}
      {fresh ? null : (
        <label className="mt-3 flex min-h-11 items-center gap-2">
          <input
            type="checkbox"
            checked={edit.retired}
            onChange={(e) => change({ ...edit, retired: e.target.checked })}
          />
          Out of use
        </label>
      )}
      {wrong['retired'] === undefined ? null : (
        <p role="alert" className="border-l-4 border-ink pl-2 text-[14px]" data-wrong>
          {wrong['retired']}
        </p>
      )}
      {keep.isError && Object.keys(wrong).length === 0 ? (
        <div className="mt-2 max-w-prose">
          <Notice>{keep.error.message}</Notice>
        </div>
      ) : null}
      <p className="mt-4 flex gap-3">
        <Button weight="primary" type="submit" disabled={keep.isPending}>
          {keep.isPending ? 'Keeping…' : fresh ? 'Keep the new table' : 'Keep a new revision'}
        </Button>
        <Button type="button" onClick={leave}>
          Leave it as it was
        </Button>
      </p>
    </form>
  );
}
