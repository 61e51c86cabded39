import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { openRun } from '../api/calls';
import { planChoices } from '../api/plan';
import { raise } from '../api/round';
import { assetPage } from '../api/register';
import { desk } from '../state/desk';
import { randomId } from '../state/wires';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Field } from '../ui/Field';
import { OCCASIONS } from './occasions';
import { Option, Select } from '../ui/Select';

interface Props {
  asset: string;
  zone: string;
  close: () => void;
}

/** A test that no plan asks for, begun at once: which, because of what, and why. */
export function TestNowDialog({ asset, zone, close }: Props) {
  const go = useNavigate();
  const own = useQuery({ queryKey: ['register', 'asset', asset], queryFn: () => assetPage(asset) });
  const choices = useQuery({ queryKey: ['plans', 'choices'], queryFn: planChoices });
  const [procedure, setProcedure] = useState('');
  const [occasion, setOccasion] = useState('finding');
  const [why, setWhy] = useState('');
  const procedures =
    choices.data?.procedures.filter((p) => own.data !== undefined && p.appliesTo.includes(own.data.assetClass)) ?? [];
  const chosen = procedure === '' ? (procedures[0]?.code ?? '') : procedure;
  const start = useMutation({
    mutationFn: async () => {
      if (desk.busyWith(null) !== null) {
        throw new Error('Another run is armed or live under this page. Stop it, or let it end, first.');
      }
      const job = await raise({
        asset,
        procedure: chosen,
        occasion,
        due: new Date().toLocaleDateString('sv', { timeZone: zone }),
        why,
      });
      return openRun(job.id, randomId());
    },
    onSuccess: (view) => {
      desk.open(view.id, true);
      void go(`/bench/${view.id}`);
    },
  });
  return (
    <AskDialog
      title={`Test ${asset} now`}
      close={close}
      act={start}
      word="Start it"
      waiting="Opening…"
      ready={chosen !== ''}
      fields={['procedure', 'occasion', 'why']}
    >
      {(wrong) => (
        <>
          {choices.data !== undefined && own.data !== undefined && procedures.length === 0 ? (
            <p>There is no procedure for this kind of device yet.</p>
          ) : null}
          <Field label="Procedure" wrong={wrong['procedure']}>
            {(own) => (
              <Select {...own} className="w-full" value={chosen} onChange={(picked) => setProcedure(picked)}>
                {procedures.map((p) => (
                  <Option key={p.code} value={p.code}>
                    {p.title}
                  </Option>
                ))}
              </Select>
            )}
          </Field>
          <Field label="Because of" wrong={wrong['occasion']}>
            {(own) => (
              <Select {...own} className="w-full" value={occasion} onChange={(picked) => setOccasion(picked)}>
                {OCCASIONS.map(([value, word]) => (
                  <Option key={value} value={value}>
                    {word}
                  </Option>
                ))}
              </Select>
            )}
          </Field>
          <WhyField
            value={why}
            change={setWhy}
            wrong={wrong['why']}
            hint="It is kept with the job and told on the record."
          />
        </>
      )}
    </AskDialog>
  );
}
