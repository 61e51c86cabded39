import { useMutation, useQueryClient } from '@tanstack/react-query';
import { chooseBaseline } from '../api/condition';
import type { TrendsView } from '../api/types';
import { dayAt } from '../state/words';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Field } from '../ui/Field';
import { Option, Select } from '../ui/Select';
import { useKept } from '../ui/useKept';

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
  return (
    <AskDialog
      title="Another baseline"
      close={close}
      act={act}
      word="Make it the baseline"
      fields={['record', 'reason']}
      ready={records.length > 0}
    >
      {(wrong) => (
        <>
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
          <WhyField
            value={form.reason}
            change={(reason) => change((f) => ({ ...f, reason }))}
            wrong={wrong['reason']}
          />
        </>
      )}
    </AskDialog>
  );
}
