import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { type ReactNode } from 'react';
import { Problem } from '../api/http';
import { changeResource, resources } from '../api/plan';
import type { ResourcesView } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { addDays, hours } from '../state/plan';
import { dayWithYear, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Field } from '../ui/Field';
import { useKept } from '../ui/useKept';
import { PlanNav } from './PlanNav';
import { sharesOut } from '../state/roles';
import { Option, Select } from '../ui/Select';

const today = (): string => new Date().toLocaleDateString('sv');
const OUTAGE: Record<string, string> = { asked: 'asked for', granted: 'granted', refused: 'refused' };
/** An expiry that is nearer than this is said to be. */
const SOON_DAYS = 30;

type Send = (method: 'POST' | 'PUT' | 'DELETE', path: string, body?: unknown, done?: () => void, seen?: number) => void;

/** What jobs need beside devices and gear: people, access, outages, parts. */
export function NeedsPage() {
  usePlace('People and needs', <b className="font-semibold">Plan › People and needs</b>, 'needs');
  usePlanNews();
  const queries = useQueryClient();
  const all = useQuery({ queryKey: ['resources'], queryFn: resources });
  const may = sharesOut(useSession());
  const act = useMutation({
    mutationFn: (of: { method: 'POST' | 'PUT' | 'DELETE'; path: string; body?: unknown; seen?: number }) =>
      changeResource(of.method, of.path, of.body, of.seen),
    onSuccess: (view) => {
      queries.setQueryData(['resources'], view);
      for (const key of ['plan', 'round', 'rounds']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  const send: Send = (method, path, body, done, seen) =>
    act.mutate(
      { method, path, ...(body === undefined ? {} : { body }), ...(seen === undefined ? {} : { seen }) },
      { onSuccess: () => done?.() },
    );
  const fields = act.error instanceof Problem ? Object.values(act.error.fields) : [];
  return (
    <main className="px-5 pb-8">
      <PlanNav />
      {all.isError ? (
        <Notice action={<Button onClick={() => void all.refetch()}>Try again</Button>}>{all.error.message}</Notice>
      ) : null}
      {all.isPending ? <p className="mt-4 text-quiet">Fetching…</p> : null}
      {act.error !== null ? (
        <div className="mt-4">
          <Notice>{fields.length > 0 ? fields.join(' ') : act.error.message}</Notice>
        </div>
      ) : null}
      {all.data !== undefined ? (
        <div className="mt-4 grid grid-cols-2 gap-x-10 gap-y-6 max-[1000px]:grid-cols-1">
          <People all={all.data} send={send} may={may} />
          <div className="grid content-start gap-6">
            <Outages all={all.data} send={send} may={may} />
            <Parts all={all.data} send={send} />
            <Access all={all.data} send={send} may={may} />
          </div>
        </div>
      ) : null}
    </main>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title}>
      <h2 className="border-b border-ink pb-1 text-[17px] font-semibold">{title}</h2>
      {children}
    </section>
  );
}

function expiry(day: string | undefined): ReactNode {
  if (day === undefined) {
    return <span className="text-quiet">without end</span>;
  }
  return day < today() ? (
    <span className="expired">ended {dayWithYear(day)}</span>
  ) : day < addDays(today(), SOON_DAYS) ? (
    <b className="font-semibold">only to {dayWithYear(day)}</b>
  ) : (
    <span className="text-quiet">to {dayWithYear(day)}</span>
  );
}

function People({ all, send, may }: { all: ResourcesView; send: Send; may: boolean }) {
  const [form, change] = useKept('needs.people', { person: '', kind: '', until: '', from: '', to: '', why: '' });
  const set = (part: Partial<typeof form>): void => change((was) => ({ ...was, ...part }));
  const { kind, until } = form;
  const chosen = form.person === '' ? (all.people[0]?.id ?? '') : form.person;
  return (
    <Part title="People">
      {all.people.map((p) => (
        <article key={p.id} className="border-b border-rule py-2" data-person={p.id}>
          <p>
            <b className="font-semibold">{p.name}</b> <span className="text-quiet">{p.role}, </span>
            {may ? (
              <label className="font-condensed text-quiet">
                <input
                  type="number"
                  min={0}
                  max={24}
                  step={0.5}
                  aria-label={`Hours a day of ${p.name}`}
                  className="!h-9 w-20 text-ink"
                  defaultValue={p.minutesADay / 60}
                  onBlur={(e) =>
                    Number(e.target.value) * 60 === p.minutesADay || e.target.value === ''
                      ? undefined
                      : send(
                          'PUT',
                          `people/${p.id}/time`,
                          { minutesADay: Math.round(Number(e.target.value) * 60) },
                          undefined,
                          p.revision,
                        )
                  }
                />{' '}
                h a day
              </label>
            ) : (
              <span className="text-quiet">{hours(p.minutesADay)} a day</span>
            )}
          </p>
          <ul className="font-condensed text-[15px]">
            {p.authorisations.map((a) => (
              <li key={a.kind} className="flex items-center gap-3">
                <span className="flex-1">
                  {a.kind} {expiry(a.expires)}
                </span>
                {may ? (
                  <Take
                    word={`Take ${a.kind} from ${p.name}`}
                    chosen={() => send('DELETE', `people/${p.id}/authorisations/${encodeURIComponent(a.kind)}`)}
                  />
                ) : null}
              </li>
            ))}
            {p.absences.map((a) => (
              <li key={a.id} className="flex items-center gap-3">
                <span className="flex-1">
                  away {shortDay(a.fromDay)} to {dayWithYear(a.toDay)}, {a.why}
                </span>
                {may ? <Take word={`${p.name} is not away`} chosen={() => send('DELETE', `absences/${a.id}`)} /> : null}
              </li>
            ))}
          </ul>
        </article>
      ))}
      {may ? (
        <div className="mt-3 grid grid-cols-2 items-end gap-3">
          <Field label="Person">
            {(own) => (
              <Select {...own} className="w-full" value={chosen} onChange={(picked) => set({ person: picked })}>
                {all.people.map((p) => (
                  <Option key={p.id} value={p.id}>
                    {p.name}
                  </Option>
                ))}
              </Select>
            )}
          </Field>
          <span />
          <Field label="Authorised for">
            {(own) => (
              <input {...own} className="w-full" value={kind} onChange={(e) => set({ kind: e.target.value })} />
            )}
          </Field>
          <span className="flex items-end gap-2">
            <Field label="until and with">
              {(own) => <DateField {...own} value={until} onChange={(day) => set({ until: day })} />}
            </Field>
            <Button
              disabled={kind === ''}
              onClick={() =>
                send(
                  'PUT',
                  `people/${chosen}/authorisations`,
                  { kind, since: today(), ...(until === '' ? {} : { expires: until }) },
                  () => set({ kind: '', until: '' }),
                  all.people.find((p) => p.id === chosen)?.revision,
                )
              }
            >
              Authorise
            </Button>
          </span>
          <span className="flex gap-2">
            <Field label="Away from">
              {(own) => <DateField {...own} value={form.from} onChange={(day) => set({ from: day })} />}
            </Field>
            <Field label="to">
              {(own) => <DateField {...own} value={form.to} onChange={(day) => set({ to: day })} />}
            </Field>
          </span>
          <span className="flex items-end gap-2">
            <Field label="because of">
              {(own) => (
                <input {...own} className="w-full" value={form.why} onChange={(e) => set({ why: e.target.value })} />
              )}
            </Field>
            <Button
              disabled={form.from === '' || form.to === ''}
              onClick={() =>
                send('POST', `people/${chosen}/absences`, { fromDay: form.from, toDay: form.to, why: form.why }, () =>
                  set({ from: '', to: '', why: '' }),
                )
              }
            >
              Enter
            </Button>
          </span>
        </div>
      ) : null}
    </Part>
  );
}

function Take({ word, chosen }: { word: string; chosen: () => void }) {
  return (
    <button
      type="button"
      aria-label={`take off: ${word}`}
      data-hint={word}
      onClick={chosen}
      className="min-h-9 px-2 text-lake underline-offset-4 hover:underline"
    >
      take off
    </button>
  );
}

function Outages({ all, send, may }: { all: ResourcesView; send: Send; may: boolean }) {
  const [given, change] = useKept('needs.outage', { site: '', from: '', to: '', words: '' });
  const setGiven = (next: typeof given): void => change(() => next);
  const ahead = all.outages.filter((o) => o.toDay >= today());
  return (
    <Part title="Outages and permits">
      {ahead.length === 0 ? (
        <p className="py-2 text-quiet">None is asked for. Jobs that need one say so on the plan and the round.</p>
      ) : null}
      {ahead.map((o) => (
        <div
          key={o.id}
          className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1.5 font-condensed text-[15px]"
          data-outage={o.site}
          data-from={o.fromDay}
        >
          <span className="min-w-0 flex-1">
            <b className="font-semibold">{o.position ?? all.sites.find((s) => s.code === o.site)?.name ?? o.site}</b>{' '}
            {shortDay(o.fromDay)} to {dayWithYear(o.toDay)}
            <span className="block text-quiet">{o.words}</span>
          </span>
          {may ? null : <span className="text-quiet">{OUTAGE[o.state] ?? o.state}</span>}
          {may ? (
            <Select
              aria-label={`State of the outage at ${o.position ?? o.site}`}
              value={o.state}
              className="!h-9"
              onChange={(picked) => send('PUT', `outages/${o.id}`, { state: picked, words: o.words })}
            >
              {Object.entries(OUTAGE).map(([state, words]) => (
                <Option key={state} value={state}>
                  {words}
                </Option>
              ))}
            </Select>
          ) : null}
        </div>
      ))}
      <div className="mt-3 grid grid-cols-[1fr_auto_auto] items-end gap-2">
        <Field label="Site">
          {(own) => (
            <Select
              {...own}
              className="w-full"
              value={given.site}
              onChange={(picked) => setGiven({ ...given, site: picked })}
            >
              <Option value="">choose</Option>
              {all.sites.map((s) => (
                <Option key={s.code} value={s.code}>
                  {s.name}
                </Option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="from">
          {(own) => (
            <DateField
              {...own}

              value={given.from}
              onChange={(day) => setGiven({ ...given, from: day })}
            />
          )}
        </Field>
        <Field label="to">
          {(own) => <DateField {...own} value={given.to} onChange={(day) => setGiven({ ...given, to: day })} />}
        </Field>
        <span className="col-span-3 flex items-end gap-2">
          <span className="flex-1">
            <Field label="What for">
              {(own) => (
                <input
                  {...own}
                  className="w-full"
                  value={given.words}
                  onChange={(e) => setGiven({ ...given, words: e.target.value })}
                />
              )}
            </Field>
          </span>
          <Button
            disabled={given.site === '' || given.from === '' || given.to === ''}
            onClick={() =>
              send(
                'POST',
                'outages',
                { site: given.site, fromDay: given.from, toDay: given.to, words: given.words },
                () => setGiven({ site: '', from: '', to: '', words: '' }),
              )
            }
          >
            Ask for it
          </Button>
        </span>
      </div>
    </Part>
  );
}

function Parts({ all, send }: { all: ResourcesView; send: Send }) {
  const [given, change] = useKept('needs.part', { part: '', lot: '', count: '1', expires: '' });
  const setGiven = (next: typeof given): void => change(() => next);
  return (
    <Part title="Parts in the stores">
      {all.parts.map((p) => (
        <div key={p.code} className="border-b border-rule py-1.5 font-condensed text-[15px]">
          <b className="font-semibold">{p.name}</b>
          {p.lots.length === 0 ? <span className="text-quiet">, none</span> : null}
          {p.lots.map((l) => (
            <span key={l.lot} className="flex items-center gap-3">
              <span className="flex-1">
                lot {l.lot}, {expiry(l.expires)}
              </span>
              <label className="text-quiet">
                <input
                  type="number"
                  min={0}
                  aria-label={`How many of lot ${l.lot}`}
                  className="!h-9 w-20 text-ink"
                  defaultValue={l.count}
                  onBlur={(e) =>
                    Number(e.target.value) === l.count || e.target.value === ''
                      ? undefined
                      : send('PUT', `parts/${p.code}/lots/${encodeURIComponent(l.lot)}`, {
                          count: Number(e.target.value),
                          ...(l.expires === undefined ? {} : { expires: l.expires }),
                        })
                  }
                />{' '}
                there
              </label>
            </span>
          ))}
        </div>
      ))}
      <div className="mt-3 grid grid-cols-[1fr_90px_70px_auto] items-end gap-2">
        <Field label="Part">
          {(own) => (
            <Select
              {...own}
              className="w-full"
              value={given.part}
              onChange={(picked) => setGiven({ ...given, part: picked })}
            >
              <Option value="">choose</Option>
              {all.parts.map((p) => (
                <Option key={p.code} value={p.code}>
                  {p.name}
                </Option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="Lot">
          {(own) => (
            <input
              {...own}
              className="w-full"
              value={given.lot}
              onChange={(e) => setGiven({ ...given, lot: e.target.value })}
            />
          )}
        </Field>
        <Field label="Count">
          {(own) => (
            <input
              {...own}
              type="number"
              min={0}
              className="w-full"
              value={given.count}
              onChange={(e) => setGiven({ ...given, count: e.target.value })}
            />
          )}
        </Field>
        <Field label="Expires">
          {(own) => (
            <DateField
              {...own}

              value={given.expires}
              onChange={(day) => setGiven({ ...given, expires: day })}
            />
          )}
        </Field>
        <Button
          className="col-span-4 justify-self-end"
          disabled={given.part === '' || given.lot === ''}
          onClick={() =>
            send(
              'PUT',
              `parts/${given.part}/lots/${encodeURIComponent(given.lot)}`,
              { count: Number(given.count), ...(given.expires === '' ? {} : { expires: given.expires }) },
              () => setGiven({ part: '', lot: '', count: '1', expires: '' }),
            )
          }
        >
          Enter the lot
        </Button>
      </div>
    </Part>
  );
}

function Access({ all, send, may }: { all: ResourcesView; send: Send; may: boolean }) {
  return (
    <Part title="Access to sites">
      {all.sites.map((s) => (
        <div key={s.code} className="flex items-center gap-3 border-b border-rule py-1 font-condensed text-[15px]">
          <span className="flex-1">{s.name}</span>
          {may ? (
            <label className="text-quiet">
              <input
                type="number"
                min={0}
                step={0.5}
                aria-label={`Hours a week at ${s.name}`}
                className="!h-9 w-20 text-ink"
                placeholder="any"
                defaultValue={s.accessMinutes === undefined ? '' : s.accessMinutes / 60}
                onBlur={(e) => {
                  const minutes = e.target.value === '' ? undefined : Math.round(Number(e.target.value) * 60);
                  if (minutes !== s.accessMinutes) {
                    send(
                      'PUT',
                      `sites/${s.code}/access`,
                      minutes === undefined ? {} : { accessMinutes: minutes },
                      undefined,
                      s.revision,
                    );
                  }
                }}
              />{' '}
              h a week
            </label>
          ) : (
            <span className="text-quiet">
              {s.accessMinutes === undefined ? 'any time' : `${hours(s.accessMinutes)} a week`}
            </span>
          )}
        </div>
      ))}
    </Part>
  );
}
