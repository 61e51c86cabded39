import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { curvePreview, keepCurve } from '../api/curves';
import { Problem } from '../api/http';
import type { CurveForm, CurveModelView, CurvePartForm } from '../api/types';
import { Button, Notice } from '../ui/controls';
import { Field } from '../ui/Field';
import { Option, Select } from '../ui/Select';
import { TimeCurrentField } from '../ui/TimeCurrentField';
import { byFormula, byPoints, NEW_CURVE, NEW_PART, ratingsOf, trialPlate, typed } from './form';

const FORMULAS = [
  ['iec-si', 'IEC 60255-151 standard inverse'],
  ['iec-vi', 'IEC 60255-151 very inverse'],
  ['iec-ei', 'IEC 60255-151 extremely inverse'],
  ['lti', 'long-time inverse (common practice)'],
  ['ieee-mi', 'IEEE C37.112 moderately inverse'],
  ['ieee-vi', 'IEEE C37.112 very inverse'],
  ['ieee-ei', 'IEEE C37.112 extremely inverse'],
] as const;

/** A curve of one's own: by points that are pasted or typed, or by a formula; drawn as it is made. */
export function CurveEditor({ of, leave }: { of: CurveModelView | null; leave: (kept?: string) => void }) {
  const go = useNavigate();
  const cache = useQueryClient();
  const from = (useLocation().state as { from?: CurveForm } | null)?.from;
  const [id, setId] = useState(of?.id ?? '');
  const [form, setForm] = useState<CurveForm>(
    of?.form ?? (from === undefined ? NEW_CURVE : { ...from, model: `${from.model}, own`, seen: 0 }),
  );
  const [ratings, setRatings] = useState(form.ratings.join(', '));
  const tried = useDeferredValue(form);
  const drawn = useQuery({
    queryKey: ['curve-trial', tried],
    queryFn: () =>
      curvePreview(
        { form: { ...tried, maker: tried.maker || '–', model: tried.model || '–', source: tried.source || '–' } },
        trialPlate(tried),
      ),
    placeholderData: (before) => before,
    retry: false,
  });
  const keep = useMutation({
    mutationFn: () => keepCurve(id, form),
    onSuccess: async (kept) => {
      await cache.invalidateQueries({ queryKey: ['curve-models'] });
      leave(kept.id);
      await go(`/register/curves/${encodeURIComponent(kept.id)}`);
    },
  });
  const told = keep.error instanceof Problem ? keep.error.fields : {};
  const tries = drawn.error instanceof Problem ? drawn.error.fields : {};
  const wrong = { ...tries, ...told };
  const part = (i: number, to: Partial<CurvePartForm>): void =>
    setForm({ ...form, parts: form.parts.map((p, k) => (k === i ? { ...p, ...to } : p)) });
  const text = (label: string, key: 'maker' | 'model' | 'technology' | 'source' | 'condition') => (
    <Field label={label} wrong={told[key]} required>
      {(own) => (
        <input
          {...own}
          className="w-full"
          name={key}
          value={form[key]}
          onChange={(e) => setForm({ ...form, [key]: e.target.value })}
        />
      )}
    </Field>
  );
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault();
        keep.mutate();
      }}
    >
      <h1 className="text-[21px] font-semibold">
        {of === null ? 'A curve of your own' : `${form.maker} ${form.model}`}
      </h1>
      <div className="mt-3 grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] gap-x-6 gap-y-3 max-[900px]:grid-cols-1">
        {of === null ? (
          <Field label="Short name" wrong={told['id']} required>
            {(own) => (
              <input
                {...own}
                name="id"
                className="w-full font-mono"
                value={id}
                spellCheck={false}
                onChange={(e) => setId(e.target.value)}
              />
            )}
          </Field>
        ) : null}
        {text('Maker', 'maker')}
        {text('Model', 'model')}
        {text('Technology', 'technology')}
        {text('Where its figures come from', 'source')}
        {text('For what they hold', 'condition')}
        <Field
          label="Rated currents it is made for, A"
          wrong={told['ratings']}
          hint="With commas between; empty for any."
        >
          {(own) => (
            <input
              {...own}
              className="w-full font-mono"
              value={ratings}
              onChange={(e) => {
                setRatings(e.target.value);
                setForm({ ...form, ratings: ratingsOf(e.target.value).filter((r) => r > 0) });
              }}
            />
          )}
        </Field>
      </div>
      <div className="mt-4 h-[300px] max-w-[760px] border border-rule bg-sheet" data-curve-field>
        {drawn.data === undefined || drawn.isError ? (
          <p className="p-4 text-quiet" data-trial-wrong>
            {Object.entries(tries)[0]?.[1] ?? 'It is drawn here as soon as there is enough of it.'}
          </p>
        ) : (
          <TimeCurrentField
            curve={drawn.data}
            current={3 * (trialPlate(tried)['longTimeSetting'] ?? trialPlate(tried)['ratedCurrent'] ?? 100)}
            window={null}
            measured={[]}
            live={null}
            lane="the device"
          />
        )}
      </div>
      {form.parts.map((p, i) => (
        <fieldset key={i} className="mt-4 max-w-[760px] border border-rule px-4 pt-2 pb-3" data-part={i}>
          <legend className="px-1 font-semibold">Part {i + 1}</legend>
          <div className="grid grid-cols-4 gap-x-4 gap-y-2 max-[700px]:grid-cols-2">
            <Field label="Name" wrong={told[`parts.${i}.label`]}>
              {(own) => (
                <input
                  {...own}
                  className="w-full"
                  value={p.label}
                  onChange={(e) => part(i, { label: e.target.value })}
                />
              )}
            </Field>
            <Field label="Counts from" wrong={wrong[`parts.${i}.settingKey`]}>
              {(own) => (
                <input
                  {...own}
                  className="w-full font-mono"
                  spellCheck={false}
                  value={p.settingKey}
                  onChange={(e) => part(i, { settingKey: e.target.value })}
                />
              )}
            </Field>
            <Field label="May from, x" wrong={wrong[`parts.${i}.pickUpLow`]}>
              {(own) => <NumberInput own={own} value={p.pickUpLow} set={(v) => part(i, { pickUpLow: v })} />}
            </Field>
            <Field label="Must from, x">
              {(own) => <NumberInput own={own} value={p.pickUpHigh} set={(v) => part(i, { pickUpHigh: v })} />}
            </Field>
          </div>
          <p className="mt-2 flex gap-4" role="radiogroup" aria-label="How it is stated">
            {(['by points', 'by a formula'] as const).map((way) => {
              const formula = way === 'by a formula';
              return (
                <label key={way} className="flex min-h-11 items-center gap-2">
                  <input
                    type="radio"
                    name={`way-${i}`}
                    checked={(p.formula !== undefined) === formula}
                    onChange={() =>
                      setForm({
                        ...form,
                        parts: form.parts.map((own, k) => (k === i ? (formula ? byFormula(own) : byPoints(own)) : own)),
                      })
                    }
                  />
                  {way}
                </label>
              );
            })}
          </p>
          {p.formula === undefined ? (
            <Field
              label="Multiple, shortest and longest time in s, a line each"
              wrong={wrong[`parts.${i}.points`]}
              hint="Paste it from a table or a CSV; a hyphen where none is stated."
            >
              {(own) => (
                <textarea
                  {...own}
                  rows={6}
                  className="w-full py-2 font-mono"
                  spellCheck={false}
                  value={p.points ?? ''}
                  onChange={(e) => part(i, { points: e.target.value })}
                  data-points={i}
                />
              )}
            </Field>
          ) : (
            <div className="grid grid-cols-3 gap-x-4 gap-y-2">
              <Field label="Formula" wrong={wrong[`parts.${i}.formula`]}>
                {(own) => (
                  <Select
                    {...own}
                    className="w-full"
                    value={p.formula ?? ''}
                    onChange={(formula) => part(i, { formula })}
                  >
                    {FORMULAS.map(([name, title]) => (
                      <Option key={name} value={name}>
                        {title}
                      </Option>
                    ))}
                  </Select>
                )}
              </Field>
              <Field label="Times from" wrong={wrong[`parts.${i}.timeSettingKey`]}>
                {(own) => (
                  <input
                    {...own}
                    className="w-full font-mono"
                    spellCheck={false}
                    value={p.timeSettingKey ?? ''}
                    onChange={(e) => part(i, { timeSettingKey: e.target.value })}
                  />
                )}
              </Field>
              <span />
              <Field label="Below, %" wrong={wrong[`parts.${i}.minusPercent`]}>
                {(own) => <NumberInput own={own} value={p.minusPercent} set={(v) => part(i, { minusPercent: v })} />}
              </Field>
              <Field label="Above, %">
                {(own) => <NumberInput own={own} value={p.plusPercent} set={(v) => part(i, { plusPercent: v })} />}
              </Field>
              <Field label="Holds from, x" wrong={wrong[`parts.${i}.from`]}>
                {(own) => <NumberInput own={own} value={p.from} set={(v) => part(i, { from: v })} />}
              </Field>
            </div>
          )}
          {form.parts.length > 1 ? (
            <Button
              weight="quiet"
              className="px-0!"
              onClick={() => setForm({ ...form, parts: form.parts.toSpliced(i, 1) })}
            >
              Take this part off
            </Button>
          ) : null}
        </fieldset>
      ))}
      <p className="mt-3">
        <Button
          weight="quiet"
          className="px-0!"
          onClick={() =>
            setForm({
              ...form,
              parts: [
                ...form.parts,
                { ...NEW_PART, label: 'instantaneous', settingKey: 'ratedCurrent', pickUpLow: 8, pickUpHigh: 12 },
              ],
            })
          }
        >
          Another part
        </Button>
      </p>
      {keep.isError && Object.keys(told).length === 0 ? (
        <div className="mt-2 max-w-prose">
          <Notice>{keep.error.message}</Notice>
        </div>
      ) : null}
      <p className="mt-4 flex gap-3">
        <Button weight="primary" type="submit" disabled={keep.isPending}>
          {keep.isPending ? 'Keeping…' : of === null ? 'Keep the curve' : 'Keep a new revision'}
        </Button>
        <Button
          type="button"
          onClick={() => {
            leave();
            if (of === null) {
              void go('/register/curves');
            }
          }}
        >
          Leave it as it was
        </Button>
      </p>
    </form>
  );
}

function NumberInput({
  own,
  value,
  set,
}: {
  own: { id: string; 'aria-invalid': boolean; 'aria-describedby': string | undefined };
  value: number | undefined;
  set: (to: number) => void;
}) {
  const [text, setText] = useState(value === undefined ? '' : String(value));
  return (
    <input
      {...own}
      className="w-full font-mono"
      value={text}
      inputMode="decimal"
      onChange={(e) => {
        setText(e.target.value);
        const number = typed(e.target.value);
        if (!Number.isNaN(number)) {
          set(number);
        }
      }}
    />
  );
}
