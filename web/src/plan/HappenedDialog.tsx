import { useMutation, useQueryClient } from '@tanstack/react-query';
import { counted, happened } from '../api/plan';
import { DateField } from '../ui/DateField';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Field } from '../ui/Field';
import { typedNumber } from '../state/words';
import { useKept } from '../ui/useKept';
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
  const counter = form.kind === 'counter';
  const unread = counter && form.words !== '' && reading === null;
  return (
    <AskDialog
      title={`What happened to ${asset}`}
      close={close}
      act={act}
      word="Enter it"
      fields={['kind', 'day', 'words', 'value']}
      ready={form.words !== '' && form.day !== '' && !unread}
    >
      {(wrong) => (
        <>
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
          <WhyField
            label={
              counter ? 'It shows, hours or operations' : form.kind === 'failure' ? 'What failed' : 'What was done'
            }
            value={form.words}
            change={(words) => change((f) => ({ ...f, words }))}
            wrong={wrong['words'] ?? wrong['value'] ?? (unread ? 'That is no number; type it as 1480.5.' : undefined)}
            inputMode={counter ? 'decimal' : 'text'}
          />
        </>
      )}
    </AskDialog>
  );
}
