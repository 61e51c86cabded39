import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { addExtra, extraUse, removeExtra, type Kind } from '../api/register';
import { Problem } from '../api/http';
import type { ExtraValue } from '../api/types';
import { useActDone } from '../app/acts';
import { useSession } from '../app/session';
import { plural } from '../state/words';
import { Button } from '../ui/controls';
import { Editable } from './Editable';
import { ReasonDialog } from './ReasonDialog';
import { engineers } from '../state/roles';

/** Own fields of a thing with their values, each changed in place. */
export function ExtraValues({ kind, of, values }: { kind: Kind; of: string; values: readonly ExtraValue[] }) {
  return (
    <>
      {values.map((v) => (
        <div key={v.key} className="flex items-baseline justify-between gap-3 border-b border-rule">
          <dt className="text-quiet">{v.label}</dt>
          <dd className="min-w-0 text-right">
            <Editable kind={kind} of={of} field={`extra.${v.key}`} label={v.label} value={v.value} />
          </dd>
        </div>
      ))}
    </>
  );
}

/** Which own fields the positions of a site, or the assets of a class, have: added and taken away by a supervisor. */
export function ExtraFieldsOf({
  site,
  assetClass,
  fields,
  words,
}: {
  site?: string;
  assetClass?: string;
  fields: readonly { id: number; label: string }[];
  words: string;
}) {
  const person = useSession();
  const done = useActDone();
  const [label, setLabel] = useState('');
  const [gone, setGone] = useState<{ id: number; label: string } | null>(null);
  const add = useMutation({
    mutationFn: () =>
      addExtra({ ...(site === undefined ? {} : { site }), ...(assetClass === undefined ? {} : { assetClass }), label }),
    onSuccess: (act) => {
      setLabel('');
      done(act);
    },
  });
  const wrong = add.error instanceof Problem ? (add.error.fields['label'] ?? add.error.message) : add.error?.message;
  const supervisor = engineers(person);
  return (
    <section className="mt-5" aria-label="Own fields">
      <h2 className="border-b border-rule pb-1 font-semibold">Own fields</h2>
      {fields.length === 0 ? (
        <p className="mt-1 font-condensed text-quiet">
          {words} have none. A field of your own has a label of your own, such as the number of a key.
        </p>
      ) : null}
      <ul>
        {fields.map((f) => (
          <li key={f.id} className="flex min-h-9 items-center justify-between border-b border-rule">
            {f.label}
            {supervisor ? (
              <button type="button" className="min-h-9 px-1 font-semibold text-lake" onClick={() => setGone(f)}>
                Take away
              </button>
            ) : null}
          </li>
        ))}
      </ul>
      {supervisor ? (
        <form
          className="mt-2 flex items-start gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            add.mutate();
          }}
        >
          <div className="min-w-0 flex-1">
            <input
              className="w-full"
              aria-label="Label of a new field"
              placeholder="Label of a new field"
              value={label}
              onChange={(e) => setLabel(e.target.value)}
              aria-invalid={wrong !== undefined}
              data-extra
            />
            {wrong !== undefined ? (
              <p role="alert" className="mt-0.5 border-l-4 border-ink pl-2 text-[14px]">
                {wrong}
              </p>
            ) : null}
          </div>
          <Button type="submit" disabled={add.isPending || label.trim() === ''}>
            Add
          </Button>
        </form>
      ) : null}
      {gone !== null ? <TakeAway field={gone} close={() => setGone(null)} /> : null}
    </section>
  );
}

function TakeAway({ field, close }: { field: { id: number; label: string }; close: () => void }) {
  const use = useQuery({ queryKey: ['register', 'extra-use', field.id], queryFn: () => extraUse(field.id) });
  return (
    <ReasonDialog
      title={`Take away “${field.label}”`}
      word="Take it away"
      send={() => removeExtra(field.id)}
      close={close}
    >
      <p>
        {use.data === undefined
          ? 'Counting what hangs on it…'
          : use.data === 0
            ? 'No value has been entered in it.'
            : `${plural(use.data, 'value')} that people entered go${use.data === 1 ? 'es' : ''} with it. It can be undone, and they come back then.`}
      </p>
    </ReasonDialog>
  );
}
