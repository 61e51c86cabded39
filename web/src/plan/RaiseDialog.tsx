import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { planChoices } from '../api/plan';
import { raise } from '../api/round';
import { OCCASIONS } from '../job/occasions';
import { addDays } from '../state/plan';
import { dayWithYear } from '../state/words';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Button } from '../ui/controls';
import { DateField } from '../ui/DateField';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { useKept } from '../ui/useKept';
import { Option, Select } from '../ui/Select';

const USUAL_DAYS = 30;

interface Props {
  asset: string;
  assetClass: string | undefined;
  /** Run of the record that raises it. */
  record?: string | undefined;
  procedure?: string | undefined;
  /** What was seen on the device that asks for it; absent where it is something else. */
  finding?: string | undefined;
  close: () => void;
}

/** Raises a job beside the plans. */
export function RaiseDialog({ asset, assetClass, record, procedure, finding, close }: Props) {
  const queries = useQueryClient();
  const choices = useQuery({ queryKey: ['plans', 'choices'], queryFn: planChoices });
  const [form, change, drop] = useKept(`raise.${asset}${finding === undefined ? '' : '.finding'}`, {
    procedure: procedure ?? '',
    occasion: finding !== undefined ? 'finding' : record === undefined ? 'repair' : 'follow-up',
    due: addDays(new Date().toLocaleDateString('sv'), USUAL_DAYS),
    why: finding ?? '',
  });
  const procedures =
    choices.data?.procedures.filter((p) => assetClass === undefined || p.appliesTo.includes(assetClass)) ?? [];
  const chosen = form.procedure === '' ? (procedures[0]?.code ?? '') : form.procedure;
  const act = useMutation({
    mutationFn: () =>
      raise({
        asset,
        procedure: chosen,
        occasion: form.occasion,
        due: form.due,
        why: form.why,
        ...(record === undefined ? {} : { record }),
      }),
    onSuccess: () => {
      drop();
      for (const key of ['plan', 'round', 'rounds', 'asset', 'record', 'compliance']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  if (act.data !== undefined) {
    return (
      <Dialog title="The job is raised" close={close}>
        <p data-raised>
          {act.data.position}, {act.data.reason}, due {dayWithYear(act.data.due)}. It is on nobody’s day yet: put it on
          a round or on a week of the{' '}
          <Link className="font-semibold text-lake underline underline-offset-4" to="/plan">
            plan
          </Link>
          .
        </p>
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
      title={`Raise a job for ${asset}`}
      close={close}
      act={act}
      word="Raise it"
      ready={chosen !== ''}
      fields={['procedure', 'occasion', 'due', 'why']}
    >
      {(wrong) => (
        <>
          <Field label="Procedure" wrong={wrong['procedure']}>
            {(own) => (
              <Select
                {...own}
                className="w-full"
                value={chosen}
                onChange={(picked) => change((f) => ({ ...f, procedure: picked }))}
              >
                {procedures.map((p) => (
                  <Option key={p.code} value={p.code}>
                    {p.title}
                  </Option>
                ))}
              </Select>
            )}
          </Field>
          <div className="grid grid-cols-2 gap-4">
            <Field label="Because of" wrong={wrong['occasion']}>
              {(own) => (
                <Select
                  {...own}
                  className="w-full"
                  value={form.occasion}
                  onChange={(picked) => change((f) => ({ ...f, occasion: picked }))}
                >
                  {OCCASIONS.map(([value, word]) => (
                    <Option key={value} value={value}>
                      {word}
                    </Option>
                  ))}
                </Select>
              )}
            </Field>
            <Field label="Due" wrong={wrong['due']} hint="It may be done from today on.">
              {(own) => (
                <DateField
                  {...own}

                  className="w-full"
                  value={form.due}
                  onChange={(day) => change((f) => ({ ...f, due: day }))}
                />
              )}
            </Field>
          </div>
          <WhyField value={form.why} change={(why) => change((f) => ({ ...f, why }))} wrong={wrong['why']} />
        </>
      )}
    </AskDialog>
  );
}
