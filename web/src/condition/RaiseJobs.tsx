import { useMutation, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { raiseJobs, type FleetFilter } from '../api/condition';
import type { Region } from '../draw/drift';
import { addDays } from '../state/plan';
import { numbered, plural } from '../state/words';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Button } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { useKept } from '../ui/useKept';

const USUAL_DAYS = 30;

/** A job for each of the chosen devices, by the procedure that measured what it was chosen for. */
export function RaiseJobs({
  filter,
  region,
  count,
  close,
}: {
  filter: FleetFilter;
  region: Region | null;
  count: number;
  close: () => void;
}) {
  const queries = useQueryClient();
  const [form, change, drop] = useKept('raise.selection', {
    due: addDays(new Date().toLocaleDateString('sv'), USUAL_DAYS),
    why: '',
  });
  const act = useMutation({
    mutationFn: () => raiseJobs(filter, region, form.due, form.why),
    onSuccess: () => {
      drop();
      for (const key of ['plan', 'round', 'rounds', 'asset', 'condition', 'compliance']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  if (act.data !== undefined) {
    const { raised, left } = act.data;
    return (
      <Dialog
        title={raised.length === 0 ? 'No job was raised' : `${numbered(raised.length, 'job')} raised`}
        close={close}
      >
        {raised.length > 0 ? (
          <p data-raised={raised.length}>
            {raised.join(', ')}. They are on nobody’s day yet: put them on a round or on a week of the{' '}
            <Link className="font-semibold text-lake underline underline-offset-4" to="/plan">
              plan
            </Link>
            .
          </p>
        ) : null}
        {left.length > 0 ? (
          <>
            <p className="mt-3 font-semibold">Without one:</p>
            <ul>
              {left.map((l) => (
                <li key={l}>{l}</li>
              ))}
            </ul>
          </>
        ) : null}
        <p className="mt-5 flex justify-end">
          <Button weight="primary" onClick={close}>
            Good
          </Button>
        </p>
      </Dialog>
    );
  }
  return (
    <AskDialog
      title={`Raise ${plural(count, 'job')}`}
      close={close}
      act={act}
      word="Raise them"
      waiting="Raising…"
      fields={['due', 'why']}
    >
      {(wrong) => (
        <>
          <p>
            One for each of the chosen devices, by the procedure that measured what its standing comes from. What has
            such a job already keeps it.
          </p>
          <Field label="Due" wrong={wrong['due']} hint="They may be done from today on.">
            {(own) => (
              <DateField
                {...own}
                className="w-full"
                value={form.due}
                onChange={(due) => change((f) => ({ ...f, due }))}
              />
            )}
          </Field>
          <WhyField value={form.why} change={(why) => change((f) => ({ ...f, why }))} wrong={wrong['why']} />
        </>
      )}
    </AskDialog>
  );
}
