import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useState, type ReactNode } from 'react';
import { Problem } from '../api/http';
import { planChoices, planRevisions, previewPlan, storePlan } from '../api/plan';
import type { Plan, PlanChoices, PlanPreview } from '../api/types';
import { dayAndTime, plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { useDraft } from '../ui/useDraft';
import { useWrongField } from '../ui/useWrongField';
import { Option, Select } from '../ui/Select';
import { Suggest } from '../ui/Suggest';

const OCCASIONS: [string, string][] = [
  ['interval', 'ever again'],
  ['acceptance', 'once, after installation'],
  ['exchange', 'after an exchange'],
  ['repair', 'after a repair'],
  ['firmware', 'after new firmware'],
  ['setting', 'after a changed setting'],
  ['finding', 'after a watch finding'],
];
const EVERY: [string, string][] = [
  ['months', 'months'],
  ['days', 'days'],
  ['between', 'days after the last, from and to'],
  ['hours', 'running hours'],
  ['operations', 'operations'],
];
/** What is typed settles before the server is asked what it would do. */
const SETTLE_MS = 400;

type Change = (change: Partial<Plan>) => void;

/** A plan, read or changed. Whatever is changed, what it would do to open jobs stands beneath before it is stored. */
export function PlanDialog({ plan, may, close }: { plan: Plan; may: boolean; close: () => void }) {
  const queries = useQueryClient();
  const choices = useQuery({ queryKey: ['plans', 'choices'], queryFn: planChoices });
  // What is changed and not stored is kept, until it is stored or left; a change of somebody else's in between
  // makes it void.
  const [text, write, drop] = useDraft(`plan.${plan.id}`);
  const now = useMemo(() => kept(text, plan), [text, plan]);
  const change: Change = (part) => write(JSON.stringify({ ...now, ...part }));
  const changed = JSON.stringify(now) !== JSON.stringify(plan);
  const store = useMutation({
    mutationFn: () => storePlan(now),
    onSuccess: () => {
      for (const key of ['plans', 'plan', 'round', 'rounds']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      drop();
      close();
    },
  });
  const leave = (): void => {
    drop();
    close();
  };
  const preview = usePreview(now, changed && may);
  const problem = store.error ?? preview.error;
  const form = useWrongField(store.error);
  const wrong: Readonly<Record<string, string>> = problem instanceof Problem ? problem.fields : {};
  return (
    <Dialog title={plan.id === 0 ? 'A new plan' : plan.title} close={close} wide>
      <form
        ref={form}
        onSubmit={(e) => {
          e.preventDefault();
          store.mutate();
        }}
      >
        <fieldset disabled={!may} className="grid grid-cols-2 gap-4 max-[700px]:grid-cols-1">
          <What now={now} change={change} wrong={wrong} choices={choices.data} />
          <When now={now} change={change} wrong={wrong} />
          <Needs now={now} change={change} wrong={wrong} choices={choices.data} />
        </fieldset>
        {plan.id === 0 ? null : (
          <Earlier
            plan={plan}
            may={may}
            take={(old) => change({ ...absent(old), ...old, id: plan.id, revision: plan.revision })}
          />
        )}
        {choices.isError ? <Notice>{choices.error.message}</Notice> : null}
        <div className="sticky -bottom-6 -mx-6 mt-5 -mb-6 border-t border-rule bg-paper px-6 pt-1 pb-5">
          {changed && may ? <Preview preview={preview} wrong={wrong} /> : null}
          {store.error !== null && Object.keys(wrong).length === 0 ? <Notice>{store.error.message}</Notice> : null}
          <p className="mt-3 flex flex-wrap items-center justify-end gap-3">
            {may && plan.id !== 0 ? (
              <label className="mr-auto flex items-center gap-2">
                <input type="checkbox" checked={now.ended} onChange={(e) => change({ ended: e.target.checked })} />{' '}
                ended: lays no more jobs
              </label>
            ) : null}
            {may ? null : <span className="mr-auto text-quiet">An engineer or a supervisor changes plans.</span>}
            <Button onClick={leave}>{may ? 'Leave it' : 'Close'}</Button>
            {may ? (
              <Button weight="primary" type="submit" disabled={!changed || store.isPending} data-send>
                {store.isPending ? 'Storing…' : plan.id === 0 ? 'Add the plan' : 'Store the change'}
              </Button>
            ) : null}
          </p>
        </div>
      </form>
    </Dialog>
  );
}

const OPTIONAL = [
  'assetClass',
  'model',
  'every',
  'amountTo',
  'anchor',
  'minutes',
  'authorisation',
  'seasonFrom',
  'seasonTo',
] as const;

/** What an earlier revision did not say has to be taken away. */
const absent = (old: Plan): Partial<Plan> => without(...OPTIONAL.filter((key) => old[key] === undefined));

/** The values in which two revisions differ, in words. */
function differences(before: Plan | undefined, after: Plan): string {
  if (before === undefined) {
    return 'first said so';
  }
  const keys = [...new Set([...Object.keys(before), ...Object.keys(after)])].filter(
    (k) => k !== 'revision' && k !== 'id',
  ) as (keyof Plan)[];
  const word = (value: unknown): string =>
    value === undefined ? 'none' : typeof value === 'object' ? JSON.stringify(value) : String(value);
  const told = keys
    .filter((k) => JSON.stringify(before[k]) !== JSON.stringify(after[k]))
    .map((k) => `${k.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)}: ${word(before[k])} \u2192 ${word(after[k])}`);
  return told.length === 0 ? 'nothing' : told.join('; ');
}

/** Who changed the plan when, and how it stood before: taking one of these up again is a change like any other. */
function Earlier({ plan, may, take }: { plan: Plan; may: boolean; take: (old: Plan) => void }) {
  const all = useQuery({ queryKey: ['plans', 'revisions', plan.id], queryFn: () => planRevisions(plan.id) });
  const list = all.data ?? [];
  return list.length < 2 ? null : (
    <section className="mt-5" aria-label="Who changed it">
      <h2 className="border-b border-rule pb-1 text-[14px] font-semibold text-quiet">Who changed it</h2>
      <ul className="font-condensed text-[15px]">
        {list.map((r, i) => (
          <li
            key={r.revision}
            className="flex items-baseline gap-3 border-b border-rule py-1"
            data-revision={r.revision}
          >
            <span className="min-w-0 flex-1">
              {dayAndTime(r.at, Intl.DateTimeFormat().resolvedOptions().timeZone)}, {r.name}:{' '}
              {differences(list[i + 1]?.plan, r.plan)}
            </span>
            {may && i > 0 ? (
              <button
                type="button"
                className="min-h-9 text-lake underline-offset-4 hover:underline"
                onClick={() => take(r.plan)}
              >
                take this up again
              </button>
            ) : null}
          </li>
        ))}
      </ul>
    </section>
  );
}

function kept(text: string, plan: Plan): Plan {
  if (text === '') {
    return plan;
  }
  const draft = JSON.parse(text) as Plan;
  return draft.revision === plan.revision ? draft : plan;
}

interface Previewed {
  data: PlanPreview | null;
  error: Error | null;
  asking: boolean;
}

function usePreview(now: Plan, wanted: boolean): Previewed {
  const [state, setState] = useState<Previewed & { of: string }>({ data: null, error: null, asking: false, of: '' });
  const text = JSON.stringify(now);
  useEffect(() => {
    if (!wanted) {
      return undefined;
    }
    let gone = false;
    const timer = setTimeout(() => {
      setState((was) => ({ ...was, asking: true }));
      previewPlan(JSON.parse(text) as Plan).then(
        (data) => (gone ? undefined : setState({ data, error: null, asking: false, of: text })),
        (error: unknown) =>
          gone
            ? undefined
            : setState({
                data: null,
                error: error instanceof Error ? error : new Error(String(error)),
                asking: false,
                of: text,
              }),
      );
    }, SETTLE_MS);
    return () => {
      gone = true;
      clearTimeout(timer);
    };
  }, [text, wanted]);
  return state.of === text ? state : { data: null, error: null, asking: true };
}

function Preview({ preview, wrong }: { preview: Previewed; wrong: Readonly<Record<string, string>> }) {
  const { data } = preview;
  return (
    <section
      className="mt-2 max-h-32 overflow-y-auto border-l-4 border-ink bg-sheet px-4 py-2"
      aria-label="What this does"
      aria-live="polite"
      data-preview
    >
      {data === null ? (
        <p className="text-quiet">
          {preview.error === null
            ? 'Working out what this does to open jobs…'
            : Object.keys(wrong).length > 0
              ? 'What is marked above has to be put right first.'
              : preview.error.message}
        </p>
      ) : (
        <>
          <p className="font-semibold">
            {data.added + data.moved + data.gone === 0
              ? `No open job changes (${plural(data.devices, 'device')}).`
              : `Of ${plural(data.devices, 'device')}: ${plural(data.added, 'new job')}, ${plural(data.moved, 'job')} changed, ${data.gone} withdrawn.`}
            {data.offRounds > 0
              ? ` ${plural(data.offRounds, 'job leaves', 'jobs leave')} the day ${data.offRounds === 1 ? 'it is' : 'they are'} planned for.`
              : ''}
          </p>
          <ul className="font-condensed text-[15px] text-quiet">
            {data.examples.map((e) => (
              <li key={e}>{e}</li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}

interface PartProps {
  now: Plan;
  change: Change;
  wrong: Readonly<Record<string, string>>;
  choices?: PlanChoices | undefined;
}

const options = (list: readonly (readonly [string, string])[]): ReactNode =>
  list.map(([value, word]) => (
    <Option key={value} value={value}>
      {word}
    </Option>
  ));

/** Takes values away: what is undefined is not sent. */
const without = (...keys: (keyof Plan)[]): Partial<Plan> =>
  Object.fromEntries(keys.map((k) => [k, undefined])) as Partial<Plan>;

function What({ now, change, wrong, choices }: PartProps) {
  const byClass = now.positions.length === 0;
  const [positions, setPositions] = useState(now.positions.join(' '));
  const procedure = choices?.procedures.find((p) => p.code === now.procedure);
  const classes = choices?.classes.filter((c) => procedure === undefined || procedure.appliesTo.includes(c.code)) ?? [];
  const [list, setList] = useState(!byClass);
  return (
    <>
      <Field label="Title" required wrong={wrong['title']}>
        {(own) => (
          <input
            {...own}
            className="w-full"
            value={now.title}
            onChange={(e) => change({ title: e.target.value })}
            data-field="title"
          />
        )}
      </Field>
      <Field label="Procedure" required wrong={wrong['procedure']}>
        {(own) => (
          <Select
            {...own}
            className="w-full"
            value={now.procedure}
            onChange={(picked) =>
              change({
                procedure: picked,
                ...(now.assetClass !== undefined &&
                choices?.procedures.find((p) => p.code === picked)?.appliesTo.includes(now.assetClass) === false
                  ? without('assetClass', 'model')
                  : {}),
              })
            }
            data-field="procedure"
          >
            <Option value="">choose</Option>
            {choices?.procedures.map((p) => (
              <Option key={p.code} value={p.code}>
                {p.title}
              </Option>
            ))}
          </Select>
        )}
      </Field>
      <Field
        label="Applies to"
        required
        wrong={list ? wrong['positions'] : wrong['assetClass']}
        hint={list ? 'Codes of positions, with blanks between.' : undefined}
      >
        {(own) => (
          <span className="grid gap-2">
            <Select
              aria-label="Applies to a class or to positions"
              value={list ? 'positions' : 'class'}
              onChange={(picked) => {
                setList(picked === 'positions');
                change(picked === 'positions' ? without('assetClass', 'model') : { positions: [] });
              }}
            >
              <Option value="class">all of a class</Option>
              <Option value="positions">positions</Option>
            </Select>
            {list ? (
              <input
                {...own}
                className="w-full font-mono"
                value={positions}
                onChange={(e) => {
                  setPositions(e.target.value);
                  change({ positions: e.target.value.split(/[\s,;]+/).filter((p) => p !== '') });
                }}
              />
            ) : (
              <Select
                {...own}
                className="w-full"
                value={now.assetClass ?? ''}
                onChange={(picked) =>
                  change({
                    ...without('model'),
                    ...(picked === '' ? without('assetClass') : { assetClass: picked }),
                  })
                }
                data-field="class"
              >
                <Option value="">choose</Option>
                {classes.map((c) => (
                  <Option key={c.code} value={c.code}>
                    {c.title}
                  </Option>
                ))}
              </Select>
            )}
          </span>
        )}
      </Field>
      {list ? (
        <span />
      ) : (
        <Field label="Only of the model" wrong={wrong['model']}>
          {(own) => (
            <Select
              {...own}
              className="w-full"
              value={now.model ?? ''}
              onChange={(picked) => change(picked === '' ? without('model') : { model: picked })}
            >
              <Option value="">all models</Option>
              {choices?.classes
                .find((c) => c.code === now.assetClass)
                ?.models.map((m) => (
                  <Option key={m}>{m}</Option>
                ))}
            </Select>
          )}
        </Field>
      )}
      <Field label="Reason" wrong={wrong['reason']}>
        {(own) => (
          <Select {...own} className="w-full" value={now.reason} onChange={(picked) => change({ reason: picked })}>
            {options([
              ['law', 'law'],
              ['standard', 'standard'],
              ['maker', 'maker'],
              ['risk', 'risk'],
            ])}
          </Select>
        )}
      </Field>
      <Field label="What says so" wrong={wrong['basis']}>
        {(own) => (
          <input {...own} className="w-full" value={now.basis} onChange={(e) => change({ basis: e.target.value })} />
        )}
      </Field>
    </>
  );
}

function Days({
  label,
  value,
  wrong,
  set,
  field,
}: {
  label: string;
  value: string;
  wrong: string | undefined;
  set: (period: string) => void;
  field: string;
}) {
  const [, months, days] = /^P(?:(\d+)M)?(?:(\d+)D)?$/.exec(value) ?? [];
  const unit = months !== undefined ? 'M' : 'D';
  return (
    <Field label={label} wrong={wrong}>
      {(own) => (
        <span className="flex gap-2">
          <input
            {...own}
            type="number"
            min={0}
            className="w-24"
            value={months ?? days ?? '0'}
            onChange={(e) => set(`P${e.target.value === '' ? '0' : e.target.value}${unit}`)}
            data-field={field}
          />
          <Select
            aria-label={`${label}, unit`}
            value={unit}
            onChange={(picked) => set(`P${months ?? days ?? '0'}${picked}`)}
          >
            <Option value="D">days</Option>
            <Option value="M">months</Option>
          </Select>
        </span>
      )}
    </Field>
  );
}

function When({ now, change, wrong }: PartProps) {
  const recurs = now.occasion === 'interval';
  const calendar = now.every === 'months' || now.every === 'days';
  return (
    <>
      <Field label="Due" wrong={wrong['occasion']}>
        {(own) => (
          <Select
            {...own}
            className="w-full"
            value={now.occasion}
            onChange={(picked) =>
              change(
                picked === 'interval'
                  ? { occasion: 'interval', every: 'months', amount: 12, counting: 'due' }
                  : {
                      ...without('every', 'amountTo', 'anchor'),
                      occasion: picked,
                      amount: 14,
                      counting: 'done',
                      before: 'P0D',
                    },
              )
            }
          >
            {options(OCCASIONS)}
          </Select>
        )}
      </Field>
      <Field label={recurs ? 'Every' : 'Within days'} wrong={wrong['amount'] ?? wrong['every'] ?? wrong['amountTo']}>
        {(own) => (
          <span className="flex gap-2">
            <input
              {...own}
              type="number"
              min={0}
              className="w-24"
              value={Number.isNaN(now.amount) ? '' : now.amount}
              onChange={(e) => change({ amount: e.target.value === '' ? 0 : Number(e.target.value) })}
              data-field="amount"
            />
            {now.every === 'between' ? (
              <input
                aria-label="to"
                type="number"
                className="w-24"
                value={now.amountTo ?? ''}
                onChange={(e) => change({ amountTo: Number(e.target.value) })}
              />
            ) : null}
            {recurs ? (
              <Select
                aria-label="What the interval counts"
                className="min-w-0 flex-1"
                value={now.every ?? ''}
                onChange={(picked) =>
                  change({
                    every: picked,
                    ...(picked === 'months' || picked === 'days' ? without('amountTo') : { counting: 'done' }),
                    ...(picked === 'between'
                      ? { amount: 20, amountTo: 40, before: 'P0D', after: 'P0D' }
                      : without('amountTo')),
                  })
                }
              >
                {options(EVERY)}
              </Select>
            ) : null}
          </span>
        )}
      </Field>
      {recurs && now.every !== 'between' ? (
        <Days
          label="Window before"
          value={now.before}
          wrong={wrong['before']}
          set={(before) => change({ before })}
          field="before"
        />
      ) : null}
      {now.every !== 'between' ? (
        <Days
          label="Window after"
          value={now.after}
          wrong={wrong['after']}
          set={(after) => change({ after })}
          field="after"
        />
      ) : null}
      {recurs && calendar ? (
        <Field label="The next date counts from" wrong={wrong['counting']}>
          {(own) => (
            <Select
              {...own}
              className="w-full"
              value={now.counting}
              onChange={(picked) => change({ counting: picked })}
              data-field="counting"
            >
              {options([
                ['due', 'the due date'],
                ['done', 'the day done'],
              ])}
            </Select>
          )}
        </Field>
      ) : null}
      {recurs ? (
        <Field label="First counts from" hint="Empty: the day the device was installed." wrong={wrong['anchor']}>
          {(own) => (
            <DateField
              {...own}

              value={now.anchor ?? ''}
              onChange={(day) => change(day === '' ? without('anchor') : { anchor: day })}
            />
          )}
        </Field>
      ) : null}
      <Field label="Asks for nothing before" wrong={wrong['starts']}>
        {(own) => (
          <DateField
            {...own}

            value={now.starts}
            onChange={(day) => (day === '' ? undefined : change({ starts: day }))}
          />
        )}
      </Field>
    </>
  );
}

function Needs({ now, change, wrong, choices }: PartProps) {
  return (
    <>
      <Field label="People at the site" wrong={wrong['people']}>
        {(own) => (
          <input
            {...own}
            type="number"
            min={1}
            className="w-24"
            value={now.people}
            onChange={(e) => change({ people: Number(e.target.value) })}
          />
        )}
      </Field>
      <Field label="Minutes it takes" hint="Empty: as the procedure says." wrong={wrong['minutes']}>
        {(own) => (
          <input
            {...own}
            type="number"
            min={1}
            className="w-24"
            value={now.minutes ?? ''}
            onChange={(e) => change(e.target.value === '' ? without('minutes') : { minutes: Number(e.target.value) })}
          />
        )}
      </Field>
      <Field label="Days ahead to arrange it" wrong={wrong['leadDays']}>
        {(own) => (
          <input
            {...own}
            type="number"
            min={0}
            className="w-24"
            value={now.leadDays}
            onChange={(e) => change({ leadDays: Number(e.target.value) })}
          />
        )}
      </Field>
      <Field label="Authorisation" wrong={wrong['authorisation']}>
        {(own) => (
          <Suggest
            {...own}
            value={now.authorisation ?? ''}
            choices={choices?.authorisations ?? []}
            onChange={(v) => change(v === '' ? without('authorisation') : { authorisation: v })}
          />
        )}
      </Field>
      <label className="flex items-center gap-2">
        <input type="checkbox" checked={now.outage} onChange={(e) => change({ outage: e.target.checked })} /> needs an
        outage or a permit
      </label>
      <Field
        label="Only from, to (day of the year)"
        wrong={wrong['seasonFrom'] ?? wrong['seasonTo']}
        hint="Such as 05-01 and 10-31; empty for all year."
      >
        {(own) => (
          <span className="flex gap-2">
            <SeasonDay
              own={own}
              value={now.seasonFrom}
              set={(v) => change(v === undefined ? without('seasonFrom') : { seasonFrom: v })}
            />
            <SeasonDay
              own={{ 'aria-label': 'Season to' }}
              value={now.seasonTo}
              set={(v) => change(v === undefined ? without('seasonTo') : { seasonTo: v })}
            />
          </span>
        )}
      </Field>
      <fieldset>
        <legend className="text-[14px] font-semibold">Parts it needs</legend>
        {choices?.parts.map((p) => (
          <label key={p.code} className="mt-1 flex items-center gap-2">
            <input
              type="number"
              min={0}
              className="w-16"
              value={now.parts[p.code] ?? 0}
              onChange={(e) =>
                change({
                  parts: Object.fromEntries([
                    ...Object.entries(now.parts).filter(([code]) => code !== p.code),
                    ...(Number(e.target.value) > 0 ? [[p.code, Number(e.target.value)] as const] : []),
                  ]),
                })
              }
            />
            {p.name}
          </label>
        ))}
        <Wrong words={wrong['parts']} />
      </fieldset>
      <fieldset>
        <legend className="text-[14px] font-semibold">Its procedure contains</legend>
        <p className="font-condensed text-[14px] text-quiet">What it contains is not due beside it.</p>
        {choices?.procedures
          .filter(
            (p) =>
              now.covers.includes(p.code) ||
              (p.code !== now.procedure &&
                p.appliesTo.some((c) =>
                  choices.procedures.find((own) => own.code === now.procedure)?.appliesTo.includes(c),
                )),
          )
          .map((p) => (
            <label key={p.code} className="mt-1 flex items-center gap-2">
              <input
                type="checkbox"
                checked={now.covers.includes(p.code)}
                onChange={(e) =>
                  change({
                    covers: e.target.checked ? [...now.covers, p.code] : now.covers.filter((c) => c !== p.code),
                  })
                }
              />
              {p.title}
            </label>
          ))}
        <Wrong words={wrong['covers']} />
      </fieldset>
    </>
  );
}

function Wrong({ words }: { words: string | undefined }) {
  return words === undefined ? null : (
    <p role="alert" className="mt-0.5 border-l-4 border-ink pl-2 text-[14px]" data-wrong>
      {words}
    </p>
  );
}

function SeasonDay({
  own,
  value,
  set,
}: {
  own: object;
  value: string | undefined;
  set: (value: string | undefined) => void;
}) {
  return (
    <input
      {...own}
      className="w-24 font-mono"
      value={(value ?? '').replace(/^--/, '')}
      placeholder="05-01"
      onChange={(e) => set(e.target.value === '' ? undefined : `--${e.target.value}`)}
    />
  );
}
