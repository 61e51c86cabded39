import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useCallback, useEffect, useState } from 'react';
import { exchange, freeId } from '../api/register';
import { Problem } from '../api/http';
import type { AssetForm, PlaceLine } from '../api/types';
import { useActDone } from '../app/acts';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { TimeField } from '../ui/TimeField';
import { useKept } from '../ui/useKept';
import { useWrongField } from '../ui/useWrongField';
import { AssetFields, EMPTY_ASSET } from './AssetFields';
import { AssetPicker } from './AssetPicker';

/** What a person wants to do at a position. */
export type Exchanging = 'exchange' | 'install' | 'takeOut';

interface Kept {
  source: 'known' | 'new';
  form: AssetForm;
  at: string;
  retired: boolean;
  why: string;
}

const EMPTY: Kept = { source: 'known', form: EMPTY_ASSET, at: '', retired: false, why: '' };

const TITLES: Record<Exchanging, string> = {
  exchange: 'Exchange the device at',
  install: 'Install a device at',
  takeOut: 'Take the device out of',
};

/** Now, as a field for day and time shows it: local, to the minute. */
function local(date: Date): string {
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}T${two(date.getHours())}:${two(date.getMinutes())}`;
}

/** The time of a day that nobody said one for: now, or the middle of it. */
function usual(day: string): string {
  const now = local(new Date());
  return now.startsWith(day) ? now.slice(11) : '12:00';
}

/** What goes out, what comes in, when, and what becomes of what goes out: one act. */
export function ExchangeDialog({ what, place, close }: { what: Exchanging; place: PlaceLine; close: () => void }) {
  const position = place.position ?? '';
  const out = place.asset;
  const done = useActDone();
  const queries = useQueryClient();
  const [chosen, setChosen] = useState<PlaceLine | null>(null);
  const [{ source, form, at, retired, why }, keep, drop] = useKept(`exchange.${position}`, EMPTY);
  const setForm = useCallback(
    (change: (was: AssetForm) => AssetForm) => keep((was) => ({ ...was, form: change(was.form) })),
    [keep],
  );
  const send = useMutation({
    mutationFn: () =>
      exchange({
        position,
        ...(what === 'install' || out === undefined ? {} : { out: out.id }),
        ...(retired ? { outRetired: why } : {}),
        ...(what === 'takeOut'
          ? {}
          : source === 'new'
            ? { inNew: form }
            : chosen?.asset === undefined
              ? {}
              : { in: chosen.asset.id, ...(chosen.position === undefined ? {} : { inFrom: chosen.position }) }),
        ...(at === '' ? {} : { at: new Date(at).toISOString() }),
        why,
      }),
    onSuccess: (act) => {
      drop();
      done(act);
      close();
    },
    onError: (e) => {
      if (e instanceof Problem && e.kind === 'changed-meanwhile') {
        void queries.invalidateQueries({ queryKey: ['register'] });
      }
    },
  });
  const wrongField = useWrongField(send.error);
  const problem = send.error instanceof Problem ? send.error : null;
  const fields = Object.fromEntries(
    Object.entries(problem?.fields ?? {}).map(([k, v]) => [k.replace('inNew.', ''), v]),
  );
  // The id is filled in as soon as the class says what it begins with; one that was typed stays.
  useEffect(() => {
    if (form.assetClass !== '') {
      let current = true;
      freeId(form.assetClass).then(
        (id) =>
          current ? setForm((f) => (f.id === '' || /^[A-Z]+-\d{4,}$/.test(f.id) ? { ...f, id } : f)) : undefined,
        () => undefined,
      );
      return () => {
        current = false;
      };
    }
    return undefined;
  }, [form.assetClass, setForm]);
  const shown = ['in', 'out', 'at', 'why', ...Object.keys(EMPTY_ASSET)];
  const loose = problem !== null && Object.keys(fields).every((f) => !shown.includes(f) && !f.startsWith('plate.'));
  return (
    <Dialog title={`${TITLES[what]} ${position}`} close={close} wide>
      <form
        ref={wrongField}
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate();
        }}
      >
        {out !== undefined && what !== 'install' ? (
          <>
            <h3 className="text-[13px] font-semibold text-quiet">Goes out</h3>
            <p className="mb-3">
              <b className="font-semibold">{out.id}</b>, {out.maker} {out.model}, no. {out.serial}
              <label className="mt-1 flex min-h-9 items-center gap-2">
                <input
                  type="checkbox"
                  checked={retired}
                  onChange={(e) => keep((was) => ({ ...was, retired: e.target.checked }))}
                  data-retire
                />{' '}
                it is retired; otherwise it goes to the store
              </label>
            </p>
            {fields['out'] !== undefined ? <Notice>{fields['out']}</Notice> : null}
          </>
        ) : null}
        {what !== 'takeOut' ? (
          <>
            <div className="mb-1 flex items-center gap-4">
              <h3 className="text-[13px] font-semibold text-quiet">Comes in</h3>
              {(['known', 'new'] as const).map((s) => (
                <label key={s} className="flex min-h-9 items-center gap-2">
                  <input
                    type="radio"
                    name="source"
                    checked={source === s}
                    onChange={() => keep((was) => ({ ...was, source: s }))}
                    data-source={s}
                  />{' '}
                  {s === 'known' ? 'a device of the register' : 'a new device'}
                </label>
              ))}
            </div>
            {source === 'known' ? (
              <AssetPicker family={place.family} not={out?.id} chosen={chosen} choose={setChosen} />
            ) : (
              <AssetFields form={form} set={(next) => setForm(() => next)} wrong={fields} family={place.family} />
            )}
            {fields['in'] !== undefined ? (
              <p role="alert" className="mt-1 border-l-4 border-ink pl-2" data-wrong>
                {fields['in']}
              </p>
            ) : null}
          </>
        ) : null}
        <div className="mt-4 grid grid-cols-2 gap-x-4 gap-y-3 max-[620px]:grid-cols-1">
          <Field
            label="When"
            wrong={fields['at']}
            hint={at === '' ? 'Left empty it is now.' : 'By this device’s clock.'}
          >
            {(own) => (
              <span className="flex gap-2">
                <DateField
                  {...own}
                  className="min-w-0 flex-1"
                  past
                  max={local(new Date()).slice(0, 10)}
                  value={at.slice(0, 10)}
                  onChange={(day) =>
                    keep((was) => ({ ...was, at: day === '' ? '' : `${day}T${was.at.slice(11) || usual(day)}` }))
                  }
                />
                <TimeField
                  aria-label="Time of day"
                  disabled={at === ''}
                  value={at.slice(11)}
                  onChange={(time) => keep((was) => ({ ...was, at: `${at.slice(0, 10)}T${time}` }))}
                />
              </span>
            )}
          </Field>
          <Field label="Why" required={retired} wrong={fields['why']}>
            {(own) => (
              <input
                {...own}
                className="w-full"
                value={why}
                onChange={(e) => keep((was) => ({ ...was, why: e.target.value }))}
                name="why"
              />
            )}
          </Field>
        </div>
        {send.error !== null && (problem === null || loose) ? (
          <div className="mt-3">
            <Notice>{send.error.message}</Notice>
          </div>
        ) : null}
        <p className="mt-4 font-condensed text-quiet">
          {out !== undefined && what !== 'install'
            ? 'Its records stay its own, and this position’s. Jobs that were laid for it are withdrawn.'
            : 'From then on its tests count for this position too.'}{' '}
          It can be undone.
        </p>
        <p className="mt-4 flex justify-end gap-3">
          <Button
            onClick={() => {
              drop();
              close();
            }}
          >
            Leave it
          </Button>
          <Button
            weight="primary"
            type="submit"
            disabled={send.isPending || (what !== 'takeOut' && source === 'known' && chosen === null)}
            data-send
          >
            {what === 'exchange' ? 'Exchange' : what === 'install' ? 'Install' : 'Take out'}
          </Button>
        </p>
      </form>
    </Dialog>
  );
}
