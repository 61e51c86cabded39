import { useMutation } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Problem } from '../api/http';
import { changePassword } from '../api/people';
import type { Person } from '../api/types';
import { Button, Notice } from '../ui/controls';
import { Field } from '../ui/Field';

/** Another password of one's own. Every other session of the person ends with it. */
export function PasswordForm({ done, focus = false }: { done: (person: Person) => void; focus?: boolean }) {
  const [now, setNow] = useState('');
  const [next, setNext] = useState('');
  const [again, setAgain] = useState('');
  const change = useMutation({
    mutationFn: () => changePassword(now, next),
    onSuccess: (person) => {
      setNow('');
      setNext('');
      setAgain('');
      done(person);
    },
  });
  const problem = change.error instanceof Problem ? change.error : null;
  const differs = again !== '' && next !== again ? 'This is not the same as above; type it again.' : undefined;
  const send = (e: FormEvent): void => {
    e.preventDefault();
    if (next === again) {
      change.mutate();
    }
  };
  return (
    <form onSubmit={send} className="grid max-w-sm gap-4" aria-busy={change.isPending}>
      <Field label="Password now" wrong={problem?.field === 'now' ? problem.message : undefined}>
        {(own) => (
          <input
            {...own}
            type="password"
            className="w-full"
            autoComplete="current-password"
            value={now}
            onChange={(e) => setNow(e.target.value)}
            autoFocus={focus}
            required
          />
        )}
      </Field>
      <Field
        label="New password"
        wrong={problem?.fields['next']}
        hint="At least 10 characters; a few words in a row are easy to keep"
      >
        {(own) => (
          <input
            {...own}
            type="password"
            className="w-full"
            autoComplete="new-password"
            value={next}
            onChange={(e) => setNext(e.target.value)}
            required
          />
        )}
      </Field>
      <Field label="New password again" wrong={differs}>
        {(own) => (
          <input
            {...own}
            type="password"
            className="w-full"
            autoComplete="new-password"
            value={again}
            onChange={(e) => setAgain(e.target.value)}
            required
          />
        )}
      </Field>
      {problem !== null && problem.field !== 'now' && problem.fields['next'] === undefined ? (
        <Notice>{problem.message}</Notice>
      ) : null}
      {change.isSuccess ? <p role="status">The password is changed. You are signed out everywhere else.</p> : null}
      <div>
        <Button
          weight="primary"
          type="submit"
          disabled={change.isPending || now === '' || next === '' || next !== again}
        >
          Change the password
        </Button>
      </div>
    </form>
  );
}
