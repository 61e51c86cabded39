import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent, type ReactNode } from 'react';
import { Problem } from '../api/http';
import { amendRecord, reviewRecord, signRecord } from '../api/records';
import type { RecordAnswer } from '../api/types';
import { useSession } from '../app/session';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { useDraft } from '../ui/useDraft';
import { Option, OptionGroup, Select } from '../ui/Select';

export type Act = 'sign' | 'review' | 'return' | 'amend';

interface Props {
  act: Act;
  answer: RecordAnswer;
  done: (after: RecordAnswer) => void;
  close: () => void;
  /** Fetches the record again: someone else was there first. */
  look: () => void;
}

const TITLES: Record<Act, string> = {
  sign: 'Sign as performed',
  review: 'Review and sign',
  return: 'Return the record',
  amend: 'Amend a signed record',
};

/** A signature and the like: what it means, the words it needs, and the password again. */
export function ActDialog({ act, answer, done, close, look }: Props) {
  const { record, context, personEvents } = answer;
  const [password, setPassword] = useState('');
  const [words, setWords, wordsSent] = useDraft(`record.${record.number}.${act}`);
  const [reason, setReason, reasonSent] = useDraft(`record.${record.number}.why`);
  const [field, setField] = useState('record');
  const send = useMutation({
    mutationFn: () => {
      switch (act) {
        case 'sign':
          return signRecord(record.number, personEvents, password);
        case 'review':
          return reviewRecord(record.number, personEvents, {
            decision: context.open === undefined ? 'accepted' : 'acceptedIncomplete',
            words,
            password,
          });
        case 'return':
          return reviewRecord(record.number, personEvents, { decision: 'returned', words, password });
        case 'amend':
          return amendRecord(record.number, personEvents, { field, text: words, reason, password });
      }
    },
    onSuccess: (after) => {
      wordsSent();
      reasonSent();
      done(after);
    },
    onError: (e) => {
      setPassword('');
      if (e instanceof Problem && e.kind === 'run-moved-on') {
        look();
      }
    },
  });
  const problem = send.error instanceof Problem ? send.error : null;
  const submit = (e: FormEvent): void => {
    e.preventDefault();
    send.mutate();
  };
  return (
    <Dialog title={TITLES[act]} close={close}>
      <form onSubmit={submit}>
        <Meaning act={act} answer={answer} />
        {act === 'amend' ? <Concerns answer={answer} field={field} set={setField} /> : null}
        {act === 'sign' ? null : (
          <Words
            id="words"
            label={
              act === 'amend'
                ? 'What it should say'
                : act === 'return' || context.open !== undefined
                  ? 'Why'
                  : 'Words to go with it, if any'
            }
            text={words}
            set={setWords}
            wrong={problem?.field === 'words' || problem?.field === 'text'}
            required={act !== 'review' || context.open !== undefined}
          />
        )}
        {act === 'amend' ? (
          <Words id="reason" label="Why" text={reason} set={setReason} wrong={problem?.field === 'reason'} required />
        ) : null}
        <Password password={password} set={setPassword} wrong={problem?.field === 'password'} />
        {send.error !== null ? (
          <div className="mt-3">
            <Notice>
              {problem?.kind === 'run-moved-on'
                ? 'Someone else has signed or changed this record while you looked at it. What they did is shown now; look, then sign again. Nothing of yours was stored.'
                : send.error.message}
            </Notice>
          </div>
        ) : null}
        <p className="mt-5 flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button weight="primary" type="submit" disabled={send.isPending} data-send>
            {send.isPending
              ? 'Signing…'
              : act === 'return'
                ? 'Return it'
                : act === 'amend'
                  ? 'Sign the amendment'
                  : 'Sign'}
          </Button>
        </p>
      </form>
    </Dialog>
  );
}

function Meaning({ act, answer }: { act: Act; answer: RecordAnswer }) {
  const { record, context } = answer;
  const person = useSession();
  const as = (
    <>
      <b className="font-semibold">{person.name}</b>, {person.role}
    </>
  );
  const said: Record<Act, ReactNode> = {
    sign: <>You sign, as {as}, that the work was performed as this record says. After that it takes amendments only.</>,
    review:
      context.open === undefined ? (
        <>You sign, as {as}, that you have reviewed this record and it stands.</>
      ) : (
        <>
          A required point has no verdict: {context.open}. You sign, as {as}, that the record stands as incomplete, and
          say why. It does not pass by that.
        </>
      ),
    return: (
      <>
        The record goes back to {record.by}, who signs it again, with an amendment if one is needed. Nothing in it is
        lost.
      </>
    ),
    amend: (
      <>
        The record stays as it was signed; what it should say is added to it, with your name and the reason. No verdict
        changes. A reviewed record waits for review again.
      </>
    ),
  };
  return (
    <>
      <p className="mb-2 font-mono text-[14px]">
        Record {record.number}: {record.headline.title}
      </p>
      <p className="mb-4">{said[act]}</p>
    </>
  );
}

function Concerns({ answer, field, set }: { answer: RecordAnswer; field: string; set: (field: string) => void }) {
  const { record } = answer;
  return (
    <p className="mb-3">
      <label className="mb-1 block font-semibold" htmlFor="field">
        What it concerns
      </label>
      <Select id="field" className="w-full" value={field} onChange={(picked) => set(picked)}>
        <Option value="record">the whole record</Option>
        <Option value="asset">the asset</Option>
        <Option value="conditions">the conditions</Option>
        <Option value="remarks">notes and photos</Option>
        <OptionGroup label="Test points">
          {record.steps.flatMap((s) =>
            s.points.map((p) => (
              <Option key={p.point.key} value={p.point.key}>
                {p.point.label}
              </Option>
            )),
          )}
        </OptionGroup>
        <OptionGroup label="Steps">
          {record.steps.map((s) => (
            <Option key={s.id} value={s.id}>
              {s.title}
            </Option>
          ))}
        </OptionGroup>
        <OptionGroup label="Gear">
          {record.gear.map((g) => (
            <Option key={g.id} value={g.id}>
              {g.name}
            </Option>
          ))}
        </OptionGroup>
      </Select>
    </p>
  );
}

function Words({
  id,
  label,
  text,
  set,
  wrong,
  required,
}: {
  id: string;
  label: string;
  text: string;
  set: (text: string) => void;
  wrong: boolean;
  required: boolean;
}) {
  return (
    <p className="mb-3">
      <label className="mb-1 block font-semibold" htmlFor={id}>
        {label}
      </label>
      <textarea
        id={id}
        rows={2}
        className="w-full py-2"
        value={text}
        onChange={(e) => set(e.target.value)}
        aria-invalid={wrong}
        required={required}
      />
    </p>
  );
}

function Password({ password, set, wrong }: { password: string; set: (text: string) => void; wrong: boolean }) {
  return (
    <p>
      <label className="mb-1 block font-semibold" htmlFor="password">
        Your password, again
      </label>
      <input
        id="password"
        type="password"
        autoComplete="current-password"
        className="w-full"
        value={password}
        onChange={(e) => set(e.target.value)}
        aria-invalid={wrong}
        required
      />
    </p>
  );
}
