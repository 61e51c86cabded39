import { useQuery } from '@tanstack/react-query';
import { classes } from '../api/register';
import type { AssetForm, ClassView } from '../api/types';
import { Field } from '../ui/Field';
import { RouteTable } from './RouteField';
import { rangeText } from './words';
import { Option, Select } from '../ui/Select';

/** All classes with what can be chosen; the same for every page. */
export const useClasses = () => useQuery({ queryKey: ['classes'], queryFn: classes, staleTime: 60_000 });

export const EMPTY_ASSET: AssetForm = { id: '', assetClass: '', maker: '', model: '', serial: '', plate: {} };

interface Props {
  form: AssetForm;
  set: (form: AssetForm) => void;
  /** What is wrong, by field. */
  wrong: Readonly<Record<string, string>>;
  /** Only classes of this family can be chosen. */
  family?: string;
}

/** The fields of a new device: class first, as it says what stands on the plate. */
export function AssetFields({ form, set, wrong, family }: Props) {
  const all = useClasses();
  const choices = (all.data?.classes ?? []).filter((c) => family === undefined || c.family === family);
  const chosen = choices.find((c) => c.code === form.assetClass);
  const text = (key: 'id' | 'maker' | 'model' | 'serial', label: string, hint?: string) => (
    <Field label={label} required wrong={wrong[key]} hint={hint}>
      {(own) => (
        <input
          {...own}
          className="w-full"
          value={form[key]}
          autoComplete="off"
          onChange={(e) => set({ ...form, [key]: e.target.value })}
          name={key}
        />
      )}
    </Field>
  );
  return (
    <div className="grid grid-cols-2 gap-x-4 gap-y-3 max-[620px]:grid-cols-1">
      <Field label="Class" required wrong={wrong['assetClass']}>
        {(own) => (
          <Select
            {...own}
            className="w-full"
            value={form.assetClass}
            onChange={(picked) => set({ ...form, assetClass: picked, plate: {} })}
            name="assetClass"
          >
            <Option value="">Choose…</Option>
            {choices.map((c) => (
              <Option key={c.code} value={c.code}>
                {c.title}
              </Option>
            ))}
          </Select>
        )}
      </Field>
      {text('id', 'Id', 'Stays for good; not the serial number.')}
      {text('maker', 'Maker')}
      {text('model', 'Model')}
      {text('serial', 'Serial number')}
      {chosen !== undefined ? <Plate of={chosen} form={form} set={set} wrong={wrong} /> : null}
    </div>
  );
}

function Plate({ of, form, set, wrong }: { of: ClassView } & Props) {
  const put = (key: string, value: string): void => set({ ...form, plate: { ...form.plate, [key]: value } });
  const units = useClasses().data?.units ?? [];
  return (
    <>
      <h3 className="col-span-full mt-2 border-b border-rule font-semibold">Nameplate</h3>
      {of.fields.map((f) => {
        const symbol = units.find((u) => u.code === f.unit)?.symbol ?? '';
        const hint = [rangeText(f), symbol].filter((w) => w !== '').join(' ');
        return f.kind === 'route' ? (
          <div key={f.key} className="col-span-full">
            <p className="mb-1 font-semibold">{f.label}</p>
            <RouteTable
              text={form.plate[f.key] ?? ''}
              kinds={f.choices}
              set={(t) => put(f.key, t)}
              wrong={wrong[`plate.${f.key}`]}
            />
          </div>
        ) : (
          <Field
            key={f.key}
            label={f.label}
            required={f.required}
            wrong={wrong[`plate.${f.key}`]}
            hint={hint === '' ? undefined : hint}
          >
            {(own) =>
              f.kind === 'choice' ? (
                <Select
                  {...own}
                  className="w-full"
                  value={form.plate[f.key] ?? ''}
                  onChange={(picked) => put(f.key, picked)}
                  name={`plate.${f.key}`}
                >
                  <Option value="">{f.required ? 'Choose…' : 'not stated'}</Option>
                  {f.choices.map((c) => (
                    <Option key={c} value={c}>
                      {c}
                    </Option>
                  ))}
                </Select>
              ) : (
                <input
                  {...own}
                  className="w-full"
                  value={form.plate[f.key] ?? ''}
                  inputMode={f.kind === 'number' ? 'decimal' : 'text'}
                  autoComplete="off"
                  onChange={(e) => put(f.key, e.target.value)}
                  name={`plate.${f.key}`}
                />
              )
            }
          </Field>
        );
      })}
    </>
  );
}
