import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type DragEvent } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { undo } from '../api/acts';
import { checkTable, giveUpTable, storeTable, table, takeTable, understand } from '../api/register';
import { Problem, type Progress } from '../api/http';
import type { ImportResult, ImportView } from '../api/types';
import { useActDone } from '../app/acts';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { BackToRegister, Failed } from './PaneParts';
import { engineers } from '../state/roles';
import { Option, OptionGroup, Select } from '../ui/Select';
import { Cut } from '../ui/Hints';
import { ProgressBar } from '../ui/ProgressBar';

/** The register as tables: handed out, and brought in by three steps: the columns, the check, storing. */
export function TablesPage() {
  const { id } = useParams();
  usePlace(
    'Import, export',
    <>
      Register › <b className="font-semibold">Import, export</b>
    </>,
    'tables',
  );
  const person = useSession();
  return (
    <main className="max-w-[1120px] px-5 pt-3 pb-24">
      <BackToRegister />
      {id !== undefined ? <OneTable id={id} /> : <Start supervisor={engineers(person)} />}
    </main>
  );
}

function Start({ supervisor }: { supervisor: boolean }) {
  const go = useNavigate();
  const chooser = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  const queries = useQueryClient();
  const take = useMutation({
    mutationFn: (file: File) => takeTable(file),
    onSuccess: (view) => {
      queries.setQueryData(['table', view.id], view);
      void go(`/register/tables/${view.id}`);
    },
  });
  const dropped = (e: DragEvent): void => {
    e.preventDefault();
    setOver(false);
    const file = e.dataTransfer.files[0];
    if (file !== undefined) {
      take.mutate(file);
    }
  };
  return (
    <div className="grid grid-cols-2 gap-10 max-[1000px]:grid-cols-1">
      <section aria-label="Bring in">
        <h1 className="text-[21px] font-semibold">Bring a table in</h1>
        {supervisor ? (
          <>
            <div
              className={`mt-3 flex flex-col items-start gap-3 border-2 border-dashed p-6 ${over ? 'border-lake bg-sheet' : 'border-quiet'}`}
              onDragOver={(e) => (e.preventDefault(), setOver(true))}
              onDragLeave={() => setOver(false)}
              onDrop={dropped}
            >
              <p>
                A table as a spreadsheet writes it: separated by commas, semicolons, tabs or bars, in UTF-8, UTF-16 or
                windows-1252, up to 48 MiB.
              </p>
              <Button weight="primary" disabled={take.isPending} onClick={() => chooser.current?.click()}>
                {take.isPending ? 'Reading it…' : 'Choose the file…'}
              </Button>
              <p className="font-condensed text-quiet">or drop it here</p>
              <input
                ref={chooser}
                type="file"
                hidden
                accept=".csv,.tsv,.txt,text/csv"
                data-table
                onChange={(e) => {
                  const file = e.target.files?.[0];
                  e.target.value = '';
                  if (file !== undefined) {
                    take.mutate(file);
                  }
                }}
              />
            </div>
            {take.error !== null ? (
              <div className="mt-3">
                <Notice>{take.error.message}</Notice>
              </div>
            ) : null}
            <ul className="mt-4 list-disc space-y-1 pl-5">
              <li>
                The first row has the titles. How you say they are meant is kept for the next table with the same
                titles.
              </li>
              <li>
                One row tells of a site, a position in it and the device that stands there, or of any of these alone.
              </li>
              <li>A blank cell changes nothing. What is there already is brought up to date.</li>
              <li>It is checked first, every row. Then all of it is stored, or nothing.</li>
            </ul>
          </>
        ) : (
          <p className="mt-2 max-w-prose">An engineer or a supervisor brings tables in.</p>
        )}
      </section>
      <section aria-label="Hand out">
        <h2 className="text-[21px] font-semibold">Hand the register out</h2>
        <p className="mt-3 flex flex-wrap gap-3">
          <a
            className="inline-flex min-h-11 items-center border border-ink bg-sheet px-4 font-semibold"
            href="/api/register/export"
            download
          >
            All of it as a table
          </a>
          <a
            className="inline-flex min-h-11 items-center px-1 font-semibold text-lake underline-offset-4 hover:underline"
            href="/api/register/export?empty=true"
            download
          >
            Only the titles, to fill in
          </a>
        </p>
        <p className="mt-3 max-w-prose">
          It comes back unchanged: brought in again as it is, it changes nothing. What is retired and what stood where
          before stays here. Texts that a spreadsheet would take for a formula have an apostrophe in front, which is
          taken off again.
        </p>
      </section>
    </div>
  );
}

function OneTable({ id }: { id: string }) {
  const queries = useQueryClient();
  const view = useQuery({ queryKey: ['table', id], queryFn: () => table(id), staleTime: Infinity });
  if (view.data === undefined) {
    return view.isError ? (
      <Failed problem={view.error} again={() => void view.refetch()} />
    ) : (
      <p className="text-quiet">Reading the table…</p>
    );
  }
  return <Steps view={view.data} put={(next) => queries.setQueryData(['table', id], next)} />;
}

function Steps({ view, put }: { view: ImportView; put: (view: ImportView) => void }) {
  const [result, setResult] = useState<ImportResult | null>(null);
  const [progress, setProgress] = useState<Progress | null>(null);
  const stop = useRef<AbortController | null>(null);
  const done = useActDone();
  const go = useNavigate();
  const queries = useQueryClient();
  useEffect(() => () => stop.current?.abort(), []);
  const work = useMutation({
    mutationFn: (storing: boolean) => {
      stop.current = new AbortController();
      setProgress({ phase: 'Starting', done: 0, total: 0 });
      return (storing ? storeTable : checkTable)(view.id, setProgress, stop.current.signal);
    },
    onSuccess: (told) => {
      setResult(told);
      if (told.stored) {
        void queries.invalidateQueries();
      }
    },
    onSettled: () => setProgress(null),
  });
  const change = useMutation({
    mutationFn: (given: { encoding?: string; separator?: string; fields?: string[] }) => understand(view.id, given),
    onSuccess: (next) => {
      put(next);
      setResult(null);
      work.reset();
    },
  });
  const back = useMutation({
    mutationFn: (act: number) => undo(act),
    onSuccess: (act) => {
      done(act);
      void go('/register/tables');
    },
  });
  if (result?.stored === true || view.act !== undefined) {
    return <Stored view={view} result={result} undo={(act) => back.mutate(act)} failed={back.error} />;
  }
  return (
    <>
      <header className="flex flex-wrap items-center gap-4">
        <Cut as="h1" className="min-w-0 flex-1 text-[21px] font-semibold">
          {view.name}, {plural(view.rows, 'row')}
        </Cut>
        <Button
          weight="quiet"
          onClick={() => {
            void giveUpTable(view.id).finally(() => void go('/register/tables'));
          }}
        >
          Give it up
        </Button>
        {progress === null && result !== null && result.problemCount === 0 ? (
          <Button weight="primary" onClick={() => work.mutate(true)} data-store>
            Store it
          </Button>
        ) : (
          <Button weight="primary" disabled={progress !== null} onClick={() => work.mutate(false)} data-check>
            {result === null ? 'Check every row' : 'Check again'}
          </Button>
        )}
      </header>
      {progress !== null ? (
        <ProgressBar progress={progress} storing={work.variables === true} cancel={() => stop.current?.abort()} />
      ) : null}
      {work.error !== null ? (
        <div className="mt-3">
          <Notice>{work.error.message}</Notice>
        </div>
      ) : null}
      {result !== null ? <Outcome id={view.id} result={result} /> : null}
      <Columns
        view={view}
        change={(given) => change.mutate(given)}
        busy={change.isPending || progress !== null}
        failed={change.error}
      />
    </>
  );
}

function Outcome({ id, result }: { id: string; result: ImportResult }) {
  const wrong = result.problemCount;
  return (
    <section className="mt-4" aria-label="What was found" data-problems={wrong}>
      {wrong === 0 ? (
        <>
          <h2 className="font-semibold">Nothing is wrong with it. Stored, it would change this:</h2>
          <Counts result={result} />
        </>
      ) : (
        <>
          <div className="flex flex-wrap items-baseline gap-4">
            <h2 className="font-semibold">
              {plural(wrong, 'problem')} in {plural(result.rows, 'row')}. Nothing can be stored until all are gone.
            </h2>
            <a
              className="font-semibold text-lake underline underline-offset-4"
              href={`/api/register/imports/${id}/problems`}
              download
            >
              All as a table
            </a>
          </div>
          <p className="font-condensed text-quiet">
            Correct them in the file and bring it in again; how the columns are meant is kept.
          </p>
          <div className="mt-2 max-h-[300px] overflow-auto border-y border-rule">
            <table className="w-full border-collapse font-condensed text-[15px]">
              <thead className="sticky top-0 bg-paper">
                <tr className="text-left text-[13px] text-quiet [&>th]:pr-4 [&>th]:font-normal">
                  <th className="text-right!">Line</th>
                  <th>Column</th>
                  <th>What is wrong, and what to do</th>
                </tr>
              </thead>
              <tbody>
                {result.problems.map((p, i) => (
                  <tr key={i} className="border-t border-rule align-top [&>td]:py-1 [&>td]:pr-4" data-problem={p.line}>
                    <td className="text-right font-mono">{p.line}</td>
                    <td className="font-semibold whitespace-nowrap">{p.column === '' ? 'whole row' : p.column}</td>
                    <td className="w-full">{p.what}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
          {wrong > result.problems.length ? (
            <p className="mt-1 font-condensed text-quiet">The first {result.problems.length} are shown.</p>
          ) : null}
        </>
      )}
    </section>
  );
}

function Counts({ result }: { result: ImportResult }) {
  return (
    <table className="mt-1 border-collapse font-condensed text-[15px]">
      <thead>
        <tr className="text-right text-[13px] text-quiet [&>th]:pl-6 [&>th]:font-normal">
          <th />
          <th>new</th>
          <th>changed</th>
          <th>as they are</th>
        </tr>
      </thead>
      <tbody>
        {result.counts.map((c) => (
          <tr key={c.kind} className="h-8 border-t border-rule [&>td]:pl-6 [&>td]:text-right [&>td]:font-mono">
            <th className="text-left font-normal">{c.kind}</th>
            <td>{c.added}</td>
            <td>{c.changed}</td>
            <td className="text-quiet">{c.alike}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Stored({
  view,
  result,
  undo: back,
  failed,
}: {
  view: ImportView;
  result: ImportResult | null;
  undo: (act: number) => void;
  failed: Error | null;
}) {
  const act = result?.act ?? view.act;
  return (
    <section aria-label="Stored" data-stored>
      <h1 className="text-[21px] font-semibold">
        {result !== null && act === undefined
          ? `${view.name} says what the register says already`
          : `${view.name} is stored`}
      </h1>
      {result !== null ? <Counts result={result} /> : null}
      <p className="mt-4 flex flex-wrap items-center gap-4">
        <Link
          className="inline-flex min-h-11 items-center border border-ink bg-sheet px-4 font-semibold"
          to="/register"
        >
          Look at the register
        </Link>
        <Link className="inline-flex min-h-11 items-center font-semibold text-lake" to="/register/tables">
          Another table
        </Link>
        {act !== undefined ? (
          <Button weight="quiet" onClick={() => back(act)}>
            Undo all of it
          </Button>
        ) : null}
      </p>
      {failed !== null ? <Notice>{failed.message}</Notice> : null}
    </section>
  );
}

const SEPARATORS = [
  [',', 'comma'],
  [';', 'semicolon'],
  ['tab', 'tab'],
  ['|', 'bar'],
] as const;

function Columns({
  view,
  change,
  busy,
  failed,
}: {
  view: ImportView;
  change: (given: { encoding?: string; separator?: string; fields?: string[] }) => void;
  busy: boolean;
  failed: Error | null;
}) {
  const groups = [...new Set(view.fields.map((f) => f.group))];
  const used = view.columns.filter((c) => c.field !== '').length;
  const wrong = failed instanceof Problem ? failed.fields : {};
  return (
    <section className="mt-5" aria-label="Columns">
      <div className="flex flex-wrap items-center gap-x-5 gap-y-2 border-b border-rule pb-2">
        <h2 className="font-semibold">
          {used} of {plural(view.columns.length, 'column')} {used === 1 ? 'is' : 'are'} used
          {view.kept ? ', as in the last table with these titles' : ''}
        </h2>
        <span className="flex-1" />
        <label className="flex items-center gap-2 font-condensed text-quiet">
          Separator
          <Select
            className="font-sans text-ink"
            value={view.separator}
            disabled={busy}
            onChange={(picked) => change({ separator: picked })}
            data-separator
          >
            {SEPARATORS.map(([id, word]) => (
              <Option key={id} value={id}>
                {word}
              </Option>
            ))}
          </Select>
        </label>
        <label className="flex items-center gap-2 font-condensed text-quiet">
          Encoding
          <Select
            className="font-sans text-ink"
            value={view.encoding}
            disabled={busy}
            onChange={(picked) => change({ encoding: picked })}
            data-encoding
          >
            {view.encodings.map((e) => (
              <Option key={e}>{e}</Option>
            ))}
          </Select>
        </label>
      </div>
      {failed !== null ? (
        <div className="mt-2">
          <Notice>{failed.message}</Notice>
        </div>
      ) : null}
      <table className="w-full border-collapse font-condensed text-[15px]">
        <thead>
          <tr className="text-left text-[13px] text-quiet [&>th]:pr-4 [&>th]:font-normal">
            <th>Column</th>
            <th>First cells</th>
            <th>Is</th>
          </tr>
        </thead>
        <tbody>
          {view.columns.map((c, i) => (
            <tr key={i} className="border-t border-rule [&>td]:py-1 [&>td]:pr-4" data-column={c.title}>
              <td className="font-semibold">{c.title === '' ? `column ${i + 1}, without a title` : c.title}</td>
              <td className="max-w-[380px] text-quiet">
                <Cut as="p">{c.samples.join(' · ')}</Cut>
              </td>
              <td className="w-[310px]">
                <Select
                  className="h-9! w-full font-sans max-[1000px]:h-11!"
                  aria-label={`What ${c.title} is`}
                  aria-invalid={wrong[`fields[${i}]`] !== undefined}
                  value={c.field}
                  disabled={busy}
                  onChange={(picked) =>
                    change({
                      fields: view.columns.map((d, j) => (i === j ? picked : d.field === picked ? '' : d.field)),
                    })
                  }
                >
                  <Option value="">left out</Option>
                  {groups.map((g) => (
                    <OptionGroup key={g} label={g}>
                      {view.fields
                        .filter((f) => f.group === g)
                        .map((f) => (
                          <Option key={f.key} value={f.key}>
                            {f.label}
                          </Option>
                        ))}
                    </OptionGroup>
                  ))}
                </Select>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
