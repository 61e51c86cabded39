import { useMutation, useQueryClient } from '@tanstack/react-query';
import { chooseBaseline } from '../api/condition';
import { Problem } from '../api/http';
import type { TrendsView } from '../api/types';
import { dayAt } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { Option, Select } from '../ui/Select';
import { useKept } from '../ui/useKept';
import { useWrongField } from '../ui/useWrongField';

/** Makes another record the baseline, with a reason: comparison, trend and later tests follow it. */
export function BaselineDialog({ view, close }: { view: TrendsView; close: () => void }) {
  const queries = useQueryClient();
  const inForce = new Set(view.baselines.filter((b) => b.inForce).map((b) => b.record));
  const records = [
    ...new Map(view.points.flatMap((p) => p.visits.map((v): [string, string] => [v.number, v.at]))).entries(),
  ]
    .filter(([record]) => !inForce.has(record))
    .sort((a, b) => b[1].localeCompare(a[1]));
  const [form, change, drop] = useKept(`baseline.${view.asset}`, { record: records[0]?.[0] ?? '', reason: '' });
  const act = useMutation({
    mutationFn: () => chooseBaseline(view.asset, form.record, form.reason),
    onSuccess: () => {
      drop();
      for (const key of ['condition', 'asset', 'record', 'records', 'comparison']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      close();
    },
  });
  const ref = useWrongField(act.error);
  const wrong: Readonly<Record<string, string>> = act.error instanceof Problem ? act.error.fields : {};
  return (
    <Dialog title="Another baseline" close={close}>
      <form
        ref={ref}
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate();
        }}
      >
        <p>
          From then on records are compared with it, later tests too, and trends begin anew with it. The one before
          stays where it is and can be chosen again.
        </p>
        <Field label="Record" wrong={wrong['record']}>
          {(props) => (
            <Select
              {...props}
              className="w-full"
              value={form.record}
              onChange={(record) => change((f) => ({ ...f, record }))}
            >
              {records.map(([record, at]) => (
                <Option key={record} value={record}>
                  {`${record}, ${dayAt(at, view.zone)}`}
                </Option>
              ))}
            </Select>
          )}
        </Field>
        <Field label="Why" required wrong={wrong['reason']}>
          {(props) => (
            <input
              {...props}
              className="w-full"
              name="reason"
              value={form.reason}
              onChange={(e) => change((f) => ({ ...f, reason: e.target.value }))}
              autoFocus
              data-why
            />
          )}
        </Field>
        {act.error !== null && Object.keys(wrong).length === 0 ? <Notice>{act.error.message}</Notice> : null}
        <p className="flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button weight="primary" type="submit" data-send disabled={act.isPending || records.length === 0}>
            Make it the baseline
          </Button>
        </p>
      </form>
    </Dialog>
  );
}
