import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { decisions } from '../api/plan';
import { cannot, defer, putBack, resume, setDay, sideBySide } from '../api/round';
import type { Job } from '../api/types';
import { useMoved } from '../app/moved';
import { addDays, outside } from '../state/plan';
import { dayAndTime, dayWithYear, shortDay } from '../state/words';
import { DateField } from '../ui/DateField';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Field } from '../ui/Field';
import { useDraft } from '../ui/useDraft';
import { Option, Select } from '../ui/Select';

export type Decide = 'move' | 'putBack' | 'defer' | 'cannot' | 'resume';

interface Props {
  job: {
    id: number;
    position: string;
    opens: string;
    due: string;
    closes: string;
    plannedFor?: string | undefined;
    person?: string | undefined;
    deferredTo?: string | undefined;
  };
  what: Decide;
  today: string;
  close: () => void;
}

const TITLES: Record<Decide, string> = {
  move: 'Day and person of',
  putBack: 'Put back',
  defer: 'Defer',
  cannot: 'Cannot be done:',
  resume: 'Take up again',
};
const WORDS: Record<Decide, string> = {
  move: 'Move it',
  putBack: 'Put back',
  defer: 'Defer it',
  cannot: 'Say so',
  resume: 'Take up again',
};
/** What each asks for. */
const FIELDS: Record<Decide, readonly string[]> = {
  move: ['day', 'person'],
  putBack: ['why'],
  defer: ['until', 'why'],
  cannot: ['kind', 'why'],
  resume: [],
};
const KINDS = ['outage refused', 'no access', 'device missing', 'other'];

/** What people decide about a job, with the reason where one is needed, and what was decided before. */
export function DecideDialog({ job, what, today, close }: Props) {
  const queries = useQueryClient();
  const moved = useMoved();
  const [why, setWhy, sent] = useDraft(`decide.${what}.${job.id}`);
  const [kind, setKind] = useState(KINDS[0] ?? '');
  const [until, setUntil] = useState(addDays(today, 14));
  const [day, setWhich] = useState(job.plannedFor !== undefined && job.plannedFor >= today ? job.plannedFor : today);
  const [person, setPerson] = useState(job.person ?? '');
  const people = useQuery({
    queryKey: ['rounds', day],
    queryFn: () => sideBySide(day),
    enabled: what === 'move' && day !== '',
  });
  const before = useQuery({ queryKey: ['plan', 'decisions', job.id], queryFn: () => decisions(job.id) });
  const act = useMutation({
    mutationFn: (): Promise<Job> => {
      switch (what) {
        case 'putBack':
          return putBack(job.id, why);
        case 'defer':
          return defer(job.id, until, why);
        case 'cannot':
          return cannot(job.id, kind, why);
        case 'resume':
          return resume(job.id);
        case 'move':
          return setDay(job.id, {
            ...(day === '' ? {} : { day }),
            ...(person === '' ? {} : { person }),
            ...(job.plannedFor === undefined ? {} : { wasDay: job.plannedFor }),
            ...(job.person === undefined ? {} : { wasPerson: job.person }),
          });
      }
    },
    onSuccess: () => {
      sent();
      if (what === 'move' || what === 'putBack') {
        moved();
      }
      for (const key of ['round', 'rounds', 'plan', 'compliance']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
      close();
    },
  });
  const said = day === '' ? null : outside(job, day, today);
  return (
    <AskDialog
      title={`${TITLES[what]} ${job.position}`}
      close={close}
      act={act}
      word={WORDS[what]}
      fields={FIELDS[what]}
      below={
        (before.data ?? []).length > 0 ? (
          <section className="mt-4 border-t border-rule pt-3">
            <h2 className="text-[14px] font-semibold text-quiet">Decided before</h2>
            <ul className="font-condensed text-[15px]">
              {(before.data ?? []).map((d) => (
                <li key={d.at}>
                  {dayAndTime(d.at, Intl.DateTimeFormat().resolvedOptions().timeZone)}, {d.name}: {d.kind}
                  {d.until === undefined
                    ? ''
                    : ` ${d.kind === 'deferred' ? 'until' : 'for'} ${shortDay(d.until)}`}, {d.why}
                </li>
              ))}
            </ul>
          </section>
        ) : null
      }
    >
      {(wrong) => (
        <>
          <p className="font-condensed text-quiet">
            Due {dayWithYear(job.due)}, window {shortDay(job.opens)} to {dayWithYear(job.closes)}.
          </p>
          {what === 'move' ? (
            <div className="grid grid-cols-2 gap-4">
              <Field
                label="Day"
                wrong={wrong['day']}
                hint={
                  said === null
                    ? undefined
                    : said === 'before'
                      ? `Before its window: it would not count for ${shortDay(job.due)}.`
                      : said === 'after'
                        ? 'After its window: it would be late. Defer it instead.'
                        : 'That day is past.'
                }
              >
                {(own) => <DateField {...own} className="w-full" value={day} onChange={(day) => setWhich(day)} />}
              </Field>
              <Field label="Whose" wrong={wrong['person']}>
                {(own) => (
                  <Select {...own} className="w-full" value={person} onChange={(picked) => setPerson(picked)}>
                    <Option value="">nobody yet</Option>
                    {(people.data ?? []).map((p) => (
                      <Option key={p.person} value={p.person}>
                        {p.name}
                        {p.away === undefined ? '' : `, away: ${p.away}`}
                      </Option>
                    ))}
                  </Select>
                )}
              </Field>
            </div>
          ) : null}
          {what === 'defer' ? (
            <Field label="Until and with" required wrong={wrong['until']}>
              {(own) => <DateField {...own} value={until} onChange={(day) => setUntil(day)} />}
            </Field>
          ) : null}
          {what === 'cannot' ? (
            <Field label="What stands against it" wrong={wrong['kind']}>
              {(own) => (
                <Select {...own} value={kind} onChange={(picked) => setKind(picked)}>
                  {KINDS.map((k) => (
                    <Option key={k}>{k}</Option>
                  ))}
                </Select>
              )}
            </Field>
          ) : null}
          {what === 'putBack' || what === 'defer' || what === 'cannot' ? (
            <WhyField value={why} change={setWhy} wrong={wrong['why']} />
          ) : null}
          {what === 'resume' ? <p>Whatever held it up is over; it is to be done again as its window says.</p> : null}
        </>
      )}
    </AskDialog>
  );
}
