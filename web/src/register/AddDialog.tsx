import { useMutation, useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { useNavigate } from 'react-router';
import {
  addAsset,
  addMeasuring,
  addPosition,
  addSite,
  freeId,
  freePosition,
  overview,
  site as sitePage,
} from '../api/register';
import { Problem } from '../api/http';
import type { ActView } from '../api/types';
import { useActDone } from '../app/acts';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { useKept } from '../ui/useKept';
import { useWrongField } from '../ui/useWrongField';
import { assetAddress, measuringAddress, positionAddress, siteAddress } from './address';
import { AssetFields, EMPTY_ASSET, useClasses } from './AssetFields';
import { Option, Select } from '../ui/Select';

/** What can be added. */
export type Adding = 'site' | 'position' | 'measuring' | 'asset';

const TITLES: Record<Adding, string> = {
  site: 'Add a site',
  position: 'Add a position',
  measuring: 'Add a measuring installation',
  asset: 'Add an asset to the store',
};

type Wrong = Readonly<Record<string, string>>;
type Values = Record<string, string>;

/** A new site, position, measuring installation or asset. */
export function AddDialog({ what, site, close }: { what: Adding; site: string; close: () => void }) {
  const [values, setValues, dropValues] = useKept<Values>(`add.${what}`, { site, zone: 'CET' });
  const [form, setForm, dropForm] = useKept(`add.${what}.plate`, EMPTY_ASSET);
  const drop = (): void => {
    dropValues();
    dropForm();
  };
  const done = useActDone();
  const go = useNavigate();
  const v = (key: string): string => values[key] ?? '';
  const send = useMutation({
    mutationFn: (): Promise<ActView> => {
      switch (what) {
        case 'site':
          return addSite({ code: v('code'), name: v('name'), km: v('km'), altitude: v('altitude'), zone: v('zone') });
        case 'position':
          return addPosition({
            code: v('code'),
            site: v('site'),
            family: v('family'),
            title: v('title'),
            partOf: v('partOf'),
            part: v('part'),
          });
        case 'measuring':
          return addMeasuring({ code: v('code'), site: v('site'), title: v('title') });
        case 'asset':
          return addAsset(form);
      }
    },
    onSuccess: (act) => {
      drop();
      done(act);
      close();
      void go(
        what === 'site'
          ? siteAddress(v('code'))
          : what === 'position'
            ? positionAddress(v('code'))
            : what === 'measuring'
              ? measuringAddress(v('code'))
              : assetAddress(form.id),
      );
    },
  });
  const wrongField = useWrongField(send.error);
  const wrong: Wrong = send.error instanceof Problem ? send.error.fields : {};
  const { assetClass } = form;
  useEffect(() => {
    let current = true;
    if (assetClass !== '') {
      freeId(assetClass).then(
        (id) =>
          current ? setForm((f) => (f.id === '' || /^[A-Z]+-\d{4,}$/.test(f.id) ? { ...f, id } : f)) : undefined,
        // The server will say what is wrong when the form is sent.
        () => undefined,
      );
    }
    return () => {
      current = false;
    };
  }, [assetClass, setForm]);
  return (
    <Dialog title={TITLES[what]} close={close} wide>
      <form
        ref={wrongField}
        onSubmit={(e) => {
          e.preventDefault();
          send.mutate();
        }}
      >
        {what === 'asset' ? (
          <AssetFields form={form} set={(next) => setForm(() => next)} wrong={wrong} />
        ) : (
          <Fields what={what} values={values} set={setValues} wrong={wrong} />
        )}
        {send.error !== null && Object.keys(wrong).length === 0 ? (
          <div className="mt-3">
            <Notice>{send.error.message}</Notice>
          </div>
        ) : null}
        <p className="mt-5 flex justify-end gap-3">
          <Button
            onClick={() => {
              drop();
              close();
            }}
          >
            Leave it
          </Button>
          <Button weight="primary" type="submit" disabled={send.isPending} data-send>
            Add
          </Button>
        </p>
      </form>
    </Dialog>
  );
}

function Fields({
  what,
  values,
  set,
  wrong,
}: {
  what: Adding;
  values: Values;
  set: (change: (was: Values) => Values) => void;
  wrong: Wrong;
}) {
  const put = (key: string, value: string): void => set((was) => ({ ...was, [key]: value }));
  const text = (key: string, label: string, required = false, hint?: string) => (
    <Field label={label} required={required} wrong={wrong[key]} hint={hint}>
      {(own) => (
        <input
          {...own}
          className="w-full"
          value={values[key] ?? ''}
          autoComplete="off"
          name={key}
          onChange={(e) => put(key, e.target.value)}
        />
      )}
    </Field>
  );
  return (
    <div className="grid grid-cols-2 gap-x-4 gap-y-3 max-[620px]:grid-cols-1">
      {what === 'site' ? (
        <>
          {text('code', 'Code', true, 'Begins the codes of its positions, such as MFR.')}
          {text('name', 'Name', true)}
          {text('km', 'km along the line', true)}
          {text('altitude', 'Altitude in m', true)}
          {text('zone', 'Time zone', true)}
        </>
      ) : (
        <>
          <SiteField values={values} put={put} wrong={wrong} />
          {what === 'position' ? <KindField values={values} set={set} wrong={wrong} /> : null}
          {text('code', 'Code', true, 'Stays, whatever device comes.')}
          {text('title', 'Title')}
          {what === 'position' ? <PartFields values={values} put={put} wrong={wrong} /> : null}
        </>
      )}
    </div>
  );
}

interface OneField {
  values: Values;
  put: (key: string, value: string) => void;
  wrong: Wrong;
}

function SiteField({ values, put, wrong }: OneField) {
  const all = useQuery({ queryKey: ['register', 'overview'], queryFn: overview });
  return (
    <Field label="Site" required wrong={wrong['site']}>
      {(own) => (
        <Select
          {...own}
          className="w-full"
          value={values['site'] ?? ''}
          name="site"
          onChange={(picked) => put('site', picked)}
        >
          <Option value="">Choose…</Option>
          {(all.data?.sites ?? []).map((s) => (
            <Option key={s.code} value={s.code}>
              {s.name}
            </Option>
          ))}
        </Select>
      )}
    </Field>
  );
}

/** What is to stand there: gives the family, and the code its usual middle and the next number. */
function KindField({
  values,
  set,
  wrong,
}: {
  values: Values;
  set: (change: (was: Values) => Values) => void;
  wrong: Wrong;
}) {
  const all = useClasses();
  const site = values['site'] ?? '';
  const kind = values['kind'] ?? '';
  const chosen = all.data?.classes.find((c) => c.code === kind);
  useEffect(() => {
    let current = true;
    if (chosen !== undefined && site !== '') {
      freePosition(site, chosen.mark).then(
        (code) => (current ? set((was) => ({ ...was, code })) : undefined),
        () => undefined,
      );
    }
    return () => {
      current = false;
    };
  }, [chosen, site, set]);
  return (
    <Field
      label="For"
      required
      wrong={wrong['family']}
      hint={chosen === undefined ? undefined : `Takes any device of the family ${chosen.family}.`}
    >
      {(own) => (
        <Select
          {...own}
          className="w-full"
          value={kind}
          name="kind"
          onChange={(picked) => {
            const family = all.data?.classes.find((c) => c.code === picked)?.family ?? '';
            set((was) => ({ ...was, kind: picked, family }));
          }}
        >
          <Option value="">Choose…</Option>
          {(all.data?.classes ?? []).map((c) => (
            <Option key={c.code} value={c.code}>
              {c.title}
            </Option>
          ))}
        </Select>
      )}
    </Field>
  );
}

function PartFields({ values, put, wrong }: OneField) {
  const site = values['site'] ?? '';
  const there = useQuery({ queryKey: ['register', 'site', site], queryFn: () => sitePage(site), enabled: site !== '' });
  const wholes = there.data?.measuring ?? [];
  return wholes.length === 0 ? null : (
    <>
      <Field label="Part of" wrong={wrong['partOf']}>
        {(own) => (
          <Select
            {...own}
            className="w-full"
            value={values['partOf'] ?? ''}
            name="partOf"
            onChange={(picked) => put('partOf', picked)}
          >
            <Option value="">nothing, stands for itself</Option>
            {wholes.map((m) => (
              <Option key={m.code} value={m.code}>
                {m.code} {m.title}
              </Option>
            ))}
          </Select>
        )}
      </Field>
      {(values['partOf'] ?? '') !== '' ? (
        <Field label="As what" wrong={wrong['part']} hint="Such as current transformer L1.">
          {(own) => (
            <input
              {...own}
              className="w-full"
              value={values['part'] ?? ''}
              name="part"
              onChange={(e) => put('part', e.target.value)}
            />
          )}
        </Field>
      ) : null}
    </>
  );
}
