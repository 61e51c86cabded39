import { useMutation } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { Link, useNavigate, useParams } from 'react-router';
import { addClass, changeClass, removeClass, takeClass } from '../api/register';
import { Problem } from '../api/http';
import type { ClassChoices, ClassView, PlateField } from '../api/types';
import { useActDone } from '../app/acts';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Field } from '../ui/Field';
import { useKept } from '../ui/useKept';
import { useClasses } from './AssetFields';
import { Changes } from './Changes';
import { ExtraFieldsOf } from './ExtraValues';
import { BackToRegister, Failed } from './PaneParts';
import { ReasonDialog } from './ReasonDialog';
import { keyOf, rangeText } from './words';
import { engineers } from '../state/roles';
import { Option, Select } from '../ui/Select';

const NEW = 'new';
const EMPTY: ClassView = { code: '', family: '', title: '', mark: '', fields: [], extra: [], assets: 0, seen: 0 };

/** Classes of assets, and the one that is chosen with what its nameplates say. */
export function ClassesPage() {
  const { code } = useParams();
  const all = useClasses();
  const person = useSession();
  const chosen = code === NEW ? EMPTY : all.data?.classes.find((c) => c.code === code);
  usePlace(
    'Classes',
    <>
      Register › <b className="font-semibold">Classes</b>
      {chosen !== undefined && chosen.title !== '' ? ` › ${chosen.title}` : ''}
    </>,
    `classes${code ?? ''}${chosen?.title ?? ''}`,
  );
  if (all.data === undefined) {
    return (
      <main className="p-8">
        {all.isError ? (
          <Failed problem={all.error} again={() => void all.refetch()} />
        ) : (
          <p className="text-quiet">Looking which classes there are…</p>
        )}
      </main>
    );
  }
  const supervisor = engineers(person);
  return (
    <main className="grid h-full min-h-0 grid-cols-[300px_minmax(0,1fr)] max-[1000px]:block max-[1000px]:overflow-auto">
      <nav
        className={`min-h-0 overflow-auto border-r border-rule px-4 py-3 max-[1000px]:border-r-0 ${code !== undefined ? 'max-[1000px]:hidden' : ''}`}
        aria-label="Classes"
      >
        <BackToRegister />
        {all.data.families.map((f) => {
          const of = all.data.classes.filter((c) => c.family === f);
          return of.length === 0 ? null : (
            <section key={f} aria-label={f}>
              <h2 className="mt-2 border-b border-rule text-[13px] font-semibold text-quiet">{f}</h2>
              <ul>
                {of.map((c) => (
                  <li key={c.code}>
                    <Link
                      to={`/register/classes/${c.code}`}
                      className={`flex min-h-8 items-center justify-between gap-2 border-l-[3px] px-2 max-[1000px]:min-h-11 ${c.code === code ? 'border-lake bg-sheet font-semibold' : 'border-transparent hover:bg-sheet'}`}
                      data-class={c.code}
                    >
                      <span className="truncate">{c.title}</span>
                      <span className="font-mono text-[13px] text-quiet">{c.assets}</span>
                    </Link>
                  </li>
                ))}
              </ul>
            </section>
          );
        })}
        {supervisor ? <AddClass /> : null}
      </nav>
      <section className="min-h-0 overflow-auto px-5 pt-4 pb-24" aria-label="Class">
        {code !== undefined ? (
          <p className="hidden max-[1000px]:block">
            <Link className="inline-flex min-h-11 items-center font-semibold text-lake" to="/register/classes">
              All classes
            </Link>
          </p>
        ) : null}
        {code === undefined ? (
          <div className="max-w-prose">
            <h1 className="text-[21px] font-semibold">
              {plural(all.data.classes.length, 'class', 'classes')} of assets
            </h1>
            <p className="mt-2">
              A class says what the nameplates of its assets must and may say, in which unit and within which range.
              Procedures take their limits from these values.{' '}
              {supervisor
                ? 'A class of your own needs no program: add it here, or bring it in as a document.'
                : 'An engineer or a supervisor adds and changes classes.'}
            </p>
          </div>
        ) : chosen === undefined ? (
          <Notice>There is no class “{code}”.</Notice>
        ) : supervisor ? (
          <Editor key={`${chosen.code}.${chosen.seen}`} of={chosen} choices={all.data} />
        ) : (
          <Reading of={chosen} choices={all.data} />
        )}
      </section>
    </main>
  );
}

function AddClass() {
  const chooser = useRef<HTMLInputElement>(null);
  const done = useActDone();
  const take = useMutation({ mutationFn: (file: File) => takeClass(file), onSuccess: done });
  return (
    <p className="mt-4 flex flex-col items-start gap-2">
      <Link
        to="/register/classes/new"
        className="inline-flex min-h-11 items-center border border-ink bg-sheet px-4 font-semibold"
        data-add-class
      >
        Add a class…
      </Link>
      <Button weight="quiet" className="px-0!" onClick={() => chooser.current?.click()}>
        Bring one in as a document…
      </Button>
      <input
        ref={chooser}
        type="file"
        hidden
        accept="application/json,.json"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file !== undefined) {
            take.mutate(file);
          }
        }}
      />
      {take.error instanceof Problem ? (
        <span role="alert" className="border-l-4 border-ink pl-2">
          {Object.entries(take.error.fields).map(([f, w]) => (
            <span key={f} className="block">
              {f}: {w}
            </span>
          ))}
          {Object.keys(take.error.fields).length === 0 ? take.error.message : null}
        </span>
      ) : null}
    </p>
  );
}

const symbolOf = (choices: ClassChoices, unit: string | undefined): string =>
  choices.units.find((u) => u.code === unit)?.symbol ?? unit ?? '';

const range = (f: PlateField): string =>
  f.kind === 'choice' || f.kind === 'route' ? f.choices.join(', ') : rangeText(f);

function Reading({ of, choices }: { of: ClassView; choices: ClassChoices }) {
  return (
    <>
      <h1 className="text-[21px] font-semibold">{of.title}</h1>
      <p className="font-condensed text-[16px] text-quiet">
        {of.code}, {of.family}, mark {of.mark}. {plural(of.assets, 'asset')}.
      </p>
      <table className="mt-4 w-full max-w-[760px] border-collapse font-condensed text-[15px]">
        <thead>
          <tr className="text-left text-[13px] text-quiet [&>th]:pr-4 [&>th]:font-normal">
            <th>Value</th>
            <th>Unit</th>
            <th>Range, choices</th>
            <th>Needed</th>
          </tr>
        </thead>
        <tbody>
          {of.fields.map((f) => (
            <tr key={f.key} className="h-8 border-t border-rule [&>td]:pr-4">
              <td>{f.label}</td>
              <td>{symbolOf(choices, f.unit)}</td>
              <td>{range(f)}</td>
              <td>{f.required ? 'yes' : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <ExtraFieldsOf assetClass={of.code} fields={of.extra} words="The assets of this class" />
    </>
  );
}

/** A field while it is edited: numbers as they are typed. */
interface Row {
  key: string;
  label: string;
  kind: PlateField['kind'];
  unit: string;
  min: string;
  max: string;
  required: boolean;
  choices: string;
  /** Whether it was there before: its key stays then. */
  old: boolean;
}

interface Form {
  code: string;
  family: string;
  title: string;
  mark: string;
  rows: Row[];
}

const formOf = (c: ClassView): Form => ({
  code: c.code,
  family: c.family,
  title: c.title,
  mark: c.mark,
  rows: c.fields.map((f) => ({
    key: f.key,
    label: f.label,
    kind: f.kind,
    unit: f.unit ?? '1',
    min: f.min === undefined ? '' : String(f.min),
    max: f.max === undefined ? '' : String(f.max),
    required: f.required,
    choices: f.choices.join(', '),
    old: true,
  })),
});

function Editor({ of, choices }: { of: ClassView; choices: ClassChoices }) {
  const fresh = of.code === '';
  const draftKey = `class.${fresh ? NEW : of.code}`;
  const [form, keep, drop] = useKept<Form>(draftKey, formOf(of));
  const [going, setGoing] = useState(false);
  const done = useActDone();
  const go = useNavigate();
  const change = (next: Form): void => keep(() => next);
  const save = useMutation({
    mutationFn: () => {
      const fields = form.rows.map((r) => ({
        key: r.key,
        label: r.label,
        kind: r.kind,
        required: r.required,
        choices:
          r.kind === 'choice' || r.kind === 'route'
            ? r.choices
                .split(',')
                .map((c) => c.trim())
                .filter((c) => c !== '')
            : [],
        ...(r.kind === 'number' ? { unit: r.unit, ...bound('min', r.min), ...bound('max', r.max) } : {}),
      }));
      const wrong = form.rows.flatMap((r, i) =>
        (['min', 'max'] as const)
          .filter((b) => r.kind === 'number' && r[b].trim() !== '' && !Number.isFinite(numberOf(r[b])))
          .map((b) => [`fields[${i}].${b}`, `“${r[b]}” is not a number.`] as const),
      );
      if (wrong.length > 0) {
        return Promise.reject(
          new Problem(422, 'fields-invalid', wrong[0]?.[1] ?? '', wrong[0]?.[0], Object.fromEntries(wrong)),
        );
      }
      const body = { code: form.code, family: form.family, title: form.title, mark: form.mark, fields };
      return fresh ? addClass(body) : changeClass(body, of.seen);
    },
    onSuccess: (act) => {
      drop();
      done(act);
      void go(`/register/classes/${form.code}`);
    },
  });
  const wrong = save.error instanceof Problem ? save.error.fields : {};
  const put = (i: number, part: Partial<Row>): void =>
    change({ ...form, rows: form.rows.map((r, j) => (i === j ? { ...r, ...part } : r)) });
  const text = (key: 'code' | 'title' | 'mark', label: string, hint: string) => (
    <Field label={label} required wrong={wrong[key]} hint={hint}>
      {(own) => (
        <input
          {...own}
          className="w-full"
          name={key}
          value={form[key]}
          disabled={key === 'code' && !fresh}
          onChange={(e) => change({ ...form, [key]: e.target.value })}
        />
      )}
    </Field>
  );
  const dirty = fresh || JSON.stringify(form) !== JSON.stringify(formOf(of));
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <header className="flex flex-wrap items-center gap-4">
        <h1 className="min-w-0 flex-1 text-[21px] font-semibold">{fresh ? 'A new class' : of.title}</h1>
        {fresh ? null : (
          <a
            className="font-semibold text-lake underline underline-offset-4"
            href={`/api/asset-classes/${of.code}/document`}
            download={`${of.code}.json`}
          >
            As a document
          </a>
        )}
        {!fresh && of.assets === 0 ? (
          <Button weight="quiet" onClick={() => setGoing(true)}>
            Take away…
          </Button>
        ) : null}
        {dirty ? (
          <>
            <Button
              weight="quiet"
              onClick={() => {
                change(formOf(of));
                drop();
                save.reset();
              }}
            >
              As it was
            </Button>
            <Button weight="primary" type="submit" disabled={save.isPending} data-save>
              {fresh ? 'Add the class' : 'Save the class'}
            </Button>
          </>
        ) : null}
      </header>
      {save.error !== null ? (
        <div className="mt-3">
          <Notice>
            {Object.keys(wrong).length > 0
              ? (wrong['fields'] ??
                'Some of it is not right yet; it is said where. Nothing was stored, and what you typed is kept.')
              : save.error.message}
          </Notice>
        </div>
      ) : null}
      <div className="mt-3 grid grid-cols-4 gap-x-4 gap-y-3 max-[1150px]:grid-cols-2">
        {text('title', 'Title', 'What people read.')}
        {text('code', 'Code', 'Small letters, such as lv-breaker; stays.')}
        <Field label="Family" required wrong={wrong['family']} hint="Which procedures can be for it.">
          {(own) => (
            <Select
              {...own}
              className="w-full"
              name="family"
              value={form.family}
              onChange={(picked) => change({ ...form, family: picked })}
            >
              <Option value="">Choose…</Option>
              {choices.families.map((f) => (
                <Option key={f}>{f}</Option>
              ))}
            </Select>
          )}
        </Field>
        {text('mark', 'Mark', 'In codes of positions: CBK.')}
      </div>
      <h2 className="mt-5 border-b border-rule pb-1 font-semibold">What its nameplates say</h2>
      <ol>
        {form.rows.map((r, i) => (
          <FieldRow
            key={i}
            row={r}
            n={i}
            choices={choices}
            wrong={wrong}
            put={(part) => put(i, part)}
            gone={() => change({ ...form, rows: form.rows.filter((_, j) => j !== i) })}
            up={i === 0 ? null : () => change({ ...form, rows: swapped(form.rows, i) })}
          />
        ))}
      </ol>
      <Button
        className="mt-3"
        onClick={() =>
          change({
            ...form,
            rows: [
              ...form.rows,
              {
                key: '',
                label: '',
                kind: 'number',
                unit: '1',
                min: '',
                max: '',
                required: false,
                choices: '',
                old: false,
              },
            ],
          })
        }
        data-add-field
      >
        Add a value
      </Button>
      {fresh ? null : (
        <>
          <ExtraFieldsOf assetClass={of.code} fields={of.extra} words="The assets of this class" />
          <section className="mt-5" aria-label="Changes">
            <h2 className="border-b border-rule pb-1 font-semibold">Who changed what</h2>
            <Changes of={`class:${of.code}`} zone={Intl.DateTimeFormat().resolvedOptions().timeZone} />
          </section>
        </>
      )}
      {going ? (
        <ReasonDialog
          title={`Take away the class ${of.title}`}
          word="Take it away"
          send={() => removeClass(of.code)}
          done={() => void go('/register/classes')}
          close={() => setGoing(false)}
        >
          <p>No asset is of this class. It can be undone.</p>
        </ReasonDialog>
      ) : null}
    </form>
  );
}

const numberOf = (typed: string): number => Number(typed.trim().replace(',', '.'));
const bound = (name: 'min' | 'max', typed: string): Partial<Record<'min' | 'max', number>> =>
  typed.trim() === '' ? {} : { [name]: numberOf(typed) };

function swapped(rows: readonly Row[], i: number): Row[] {
  const next = [...rows];
  const [moved] = next.splice(i, 1);
  if (moved !== undefined) {
    next.splice(i - 1, 0, moved);
  }
  return next;
}

interface RowProps {
  row: Row;
  n: number;
  choices: ClassChoices;
  wrong: Readonly<Record<string, string>>;
  put: (part: Partial<Row>) => void;
  gone: () => void;
  up: (() => void) | null;
}

function FieldRow({ row, n, choices, wrong, put, gone, up }: RowProps) {
  const of = (part: string): string | undefined => wrong[`fields[${n}].${part}`];
  const whole =
    wrong[`fields[${n}]`] ?? of('key') ?? of('label') ?? of('unit') ?? of('min') ?? of('max') ?? of('choices');
  const small = 'h-10!';
  return (
    <li className="border-b border-rule py-2" data-row={n}>
      <div className="grid grid-cols-[minmax(0,1.5fr)_104px_minmax(0,1.6fr)_auto_auto] items-center gap-2 max-[1150px]:grid-cols-2">
        <input
          className={small}
          aria-label={`Label of value ${n + 1}`}
          placeholder="Label"
          value={row.label}
          aria-invalid={of('label') !== undefined}
          onChange={(e) => put({ label: e.target.value, ...(row.old ? {} : { key: keyOf(e.target.value) }) })}
          data-label
        />
        <Select
          className={small}
          aria-label={`Kind of value ${n + 1}`}
          value={row.kind}
          onChange={(picked) => put({ kind: picked as Row['kind'] })}
          data-kind
        >
          <Option value="number">number</Option>
          <Option value="text">words</Option>
          <Option value="choice">choice</Option>
          <Option value="route">route</Option>
        </Select>
        {row.kind === 'number' ? (
          <span className="grid grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)_minmax(0,1fr)] gap-2">
            <Select
              className={small}
              aria-label={`Unit of value ${n + 1}`}
              value={row.unit}
              onChange={(picked) => put({ unit: picked })}
              data-unit
            >
              {choices.units.map((u) => (
                <Option key={u.code} value={u.code}>
                  {u.symbol === '' ? 'count' : u.symbol}
                </Option>
              ))}
            </Select>
            <input
              className={small}
              aria-label={`Least of value ${n + 1}`}
              placeholder="from"
              inputMode="decimal"
              value={row.min}
              onChange={(e) => put({ min: e.target.value })}
              data-min
            />
            <input
              className={small}
              aria-label={`Largest of value ${n + 1}`}
              placeholder="to"
              inputMode="decimal"
              value={row.max}
              onChange={(e) => put({ max: e.target.value })}
              data-max
            />
          </span>
        ) : row.kind === 'choice' || row.kind === 'route' ? (
          <input
            className={small}
            aria-label={`${row.kind === 'route' ? 'What stands along it, of value' : 'Choices of value'} ${n + 1}`}
            placeholder={row.kind === 'route' ? 'what stands along it, its ends first' : 'choices, parted by commas'}
            value={row.choices}
            onChange={(e) => put({ choices: e.target.value })}
            data-choices
          />
        ) : (
          <span className="font-condensed text-[14px] text-quiet">up to 200 characters</span>
        )}
        <label className="flex min-h-9 items-center gap-2 px-1">
          <input
            type="checkbox"
            checked={row.required}
            onChange={(e) => put({ required: e.target.checked })}
            data-needed
          />{' '}
          needed
        </label>
        <span className="flex">
          <button
            type="button"
            className="min-h-9 px-1.5 font-semibold text-lake disabled:text-quiet"
            disabled={up === null}
            onClick={() => up?.()}
            aria-label={`Move value ${n + 1} up`}
          >
            ↑
          </button>
          <button type="button" className="min-h-9 px-1.5 font-semibold text-lake" onClick={gone}>
            Take out
          </button>
        </span>
      </div>
      <p className="mt-0.5 font-condensed text-[13px] text-quiet">
        procedures and tables call it {row.key === '' ? '…' : row.key}
      </p>
      {whole !== undefined ? (
        <p role="alert" className="mt-0.5 border-l-4 border-ink pl-2 text-[14px]" data-wrong>
          {whole}
        </p>
      ) : null}
    </li>
  );
}
