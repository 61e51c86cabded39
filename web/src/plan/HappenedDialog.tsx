import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Problem } from '../api/http';
import { counted, happened } from '../api/plan';
import { Button, Notice } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { typedNumber } from '../state/words';
import { useKept } from '../ui/useKept';
import { useWrongField } from '../ui/useWrongField';
import { Option, Select } from '../ui/Select';

const KINDS: [string, string][] = [
  ['repair', 'a repair'],
  ['firmware', 'new firmware'],
  ['setting', 'a changed setting'],
  ['failure', 'a failure in service'],
  ['counter', 'a reading of its counter'],
];

/** What happened to a device beside its tests: plans that wait for it lay an extra test. */
export function HappenedDialog({ asset, close }: { asset: string; close: () => void }) {
  const queries = useQueryClient();
  const [form, change, drop] = useKept(`happened.${asset}`, {
    kind: 'repair',
    day: new Date().toLocaleDateString('sv'),
    words: '',
  });
  const reading = typedNumber(form.words);
  const act = useMutation({
    mutationFn: () =>
      form.kind === 'counter'
        ? counted(asset, { day: form.day, value: reading?.value ?? Number.NaN })
        : happened(asset, { kind: form.kind, day: form.day, words: form.words }),
    onSuccess: () => {
      drop();
      for (const key of ['plan', 'round', 'rounds', 'asset', 'condition', 'month']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      close();
    },
  });
  const ref = useWrongField(act.error);
  const wrong: Readonly<Record<string, string>> = act.error instanceof Problem ? act.error.fields : {};
  const counter = form.kind === 'counter';
  const unread = counter && form.words !== '' && reading === null;
  return (
    <Dialog title={`What happened to ${asset}`} close={close}>
      <form
        ref={ref}
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          if (!unread) {
            act.mutate();
          }
        }}
      >
        <p className="text-quiet">A plan that waits for it lays an extra test at once.</p>
        <div className="grid grid-cols-2 gap-4">
          <Field label="What" wrong={wrong['kind']}>
            {(own) => (
              <Select
                {...own}
                className="w-full"
                value={form.kind}
                onChange={(picked) => change((f) => ({ ...f, kind: picked }))}
              >
                {KINDS.map(([value, word]) => (
                  <Option key={value} value={value}>
                    {word}
                  </Option>
                ))}
              </Select>
            )}
          </Field>
          <Field label="On" wrong={wrong['day']}>
            {(own) => (
              <DateField
                {...own}

                className="w-full"
                value={form.day}
                onChange={(day) => change((f) => ({ ...f, day }))}
                past
              />
            )}
          </Field>
        </div>
        <Field
          label={counter ? 'It shows, hours or operations' : form.kind === 'failure' ? 'What failed' : 'What was done'}
          required
          wrong={wrong['words'] ?? wrong['value'] ?? (unread ? 'That is no number; type it as 1480.5.' : undefined)}
        >
          {(own) => (
            <input
              {...own}
              className="w-full"
              inputMode={counter ? 'decimal' : 'text'}
              value={form.words}
              autoFocus
              onChange={(e) => change((f) => ({ ...f, words: e.target.value }))}
              data-why
            />
          )}
        </Field>
        {act.error !== null && Object.keys(wrong).length === 0 ? <Notice>{act.error.message}</Notice> : null}
        <p className="flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button
            weight="primary"
            type="submit"
            disabled={act.isPending || form.words === '' || form.day === ''}
            data-send
          >
            Enter it
          </Button>
        </p>
      </form>
    </Dialog>
  );
}
