import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Problem } from '../api/http';
import { accounts, addAccount, changeAccount, endSession, resetPassword, sessionsOf } from '../api/people';
import type { Account, OneTimePassword } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { administers } from '../state/roles';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
import { PeopleNav } from './PeopleNav';
import { SessionList } from './SessionList';

const ROLES = [
  ['technician', 'carries out rounds and tests'],
  ['engineer', 'makes procedures, classes and plans, keeps the register'],
  ['supervisor', 'shares out the work, reviews records'],
  ['auditor', 'reads everything, changes nothing'],
  ['administrator', 'looks after people and the installation'],
] as const;

/** Who can sign in, as what. Nobody disappears: whoever has left stays by name on what they did. */
export function PeoplePage() {
  usePlace('People', <b className="font-semibold">People</b>, 'people');
  const may = administers(useSession());
  const all = useQuery({ queryKey: ['people'], queryFn: accounts });
  const [given, setGiven] = useState<OneTimePassword | null>(null);
  const [adding, setAdding] = useState(false);
  const [chosen, setChosen] = useState<string | null>(null);
  const here = all.data?.filter((a) => a.active) ?? [];
  const left = all.data?.filter((a) => !a.active) ?? [];
  return (
    <main className="px-5 pb-8">
      <PeopleNav />
      <div className="mt-4 flex max-w-[860px] items-end gap-4">
        <h1 className="flex-1 text-[21px] font-semibold">
          {all.data === undefined ? 'People' : `${plural(here.length, 'person', 'people')} can sign in`}
        </h1>
        {may ? (
          <Button weight="primary" onClick={() => setAdding(true)}>
            Add a person…
          </Button>
        ) : (
          <p className="text-quiet">An administrator changes accounts.</p>
        )}
      </div>
      {all.isError ? (
        <Notice action={<Button onClick={() => void all.refetch()}>Try again</Button>}>{all.error.message}</Notice>
      ) : null}
      <table className="mt-3 w-full max-w-[860px] font-condensed text-[16px]">
        <thead>
          <tr className="border-b border-ink text-left text-[14px] text-quiet">
            <th className="py-1.5 font-normal">Name</th>
            <th className="font-normal">Signs in as</th>
            <th className="font-normal">Role</th>
            <th className="font-normal">Standing</th>
            <th>
              <span className="sr-only">Change</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {[...here, ...left].map((a) => (
            <tr key={a.id} className={`h-11 border-b border-rule ${a.active ? '' : 'text-quiet'}`} data-account={a.id}>
              <td className="font-semibold">{a.name}</td>
              <td className="font-mono text-[14px]">{a.id}</td>
              <td>{a.role}</td>
              <td>
                {!a.active ? 'can no longer sign in' : a.mustChange ? 'has not chosen a password yet' : 'can sign in'}
              </td>
              <td className="text-right">
                {may ? (
                  <button
                    type="button"
                    className="min-h-11 px-2 font-semibold text-lake underline-offset-4 hover:underline"
                    aria-label={`Change ${a.name}`}
                    onClick={() => setChosen(a.id)}
                  >
                    Change…
                  </button>
                ) : null}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {adding ? (
        <AddDialog
          close={() => setAdding(false)}
          added={(made) => {
            setAdding(false);
            setGiven(made);
          }}
        />
      ) : null}
      {all.data
        ?.filter((a) => a.id === chosen)
        .map((a) => (
          <ChangeDialog
            key={a.id}
            account={a}
            close={() => setChosen(null)}
            reset={(made) => {
              setChosen(null);
              setGiven(made);
            }}
          />
        ))}
      {given !== null ? <OneTime given={given} close={() => setGiven(null)} /> : null}
    </main>
  );
}

function useAgain(): () => void {
  const queries = useQueryClient();
  return () => void queries.invalidateQueries({ queryKey: ['people'] });
}

function Roles({
  value,
  change,
  wrong,
}: {
  value: string;
  change: (role: string) => void;
  wrong?: string | undefined;
}) {
  return (
    <fieldset className="mt-4">
      <legend className="text-[14px] font-semibold">Role</legend>
      {ROLES.map(([role, words]) => (
        <label key={role} className="flex min-h-11 items-center gap-3 border-b border-rule">
          <input type="radio" name="role" value={role} checked={value === role} onChange={() => change(role)} />
          <span>
            <b className="font-semibold">{role}</b> <span className="text-quiet">{words}</span>
          </span>
        </label>
      ))}
      {wrong !== undefined ? <p role="alert">{wrong}</p> : null}
    </fieldset>
  );
}

function AddDialog({ close, added }: { close: () => void; added: (made: OneTimePassword) => void }) {
  const [form, setForm] = useState({ id: '', name: '', role: 'technician' });
  const again = useAgain();
  const add = useMutation({
    mutationFn: () => addAccount(form),
    onSuccess: (made) => {
      again();
      added(made);
    },
  });
  const wrong = add.error instanceof Problem ? add.error.fields : {};
  const send = (e: FormEvent): void => {
    e.preventDefault();
    add.mutate();
  };
  return (
    <Dialog title="Add a person" close={close}>
      <form onSubmit={send}>
        <div className="grid grid-cols-2 gap-4">
          <Field label="Name" wrong={wrong['name']} hint="As it stands on records">
            {(own) => (
              <input
                {...own}
                className="w-full"
                value={form.name}
                onChange={(e) => setForm({ ...form, name: e.target.value })}
                autoFocus
                required
              />
            )}
          </Field>
          <Field label="Signs in as" wrong={wrong['id']} hint="Small letters; never changes">
            {(own) => (
              <input
                {...own}
                className="w-full"
                autoCapitalize="none"
                spellCheck={false}
                value={form.id}
                onChange={(e) => setForm({ ...form, id: e.target.value })}
                required
              />
            )}
          </Field>
        </div>
        <Roles value={form.role} change={(role) => setForm({ ...form, role })} wrong={wrong['role']} />
        {add.error !== null && Object.keys(wrong).length === 0 ? <Notice>{add.error.message}</Notice> : null}
        <p className="mt-5 flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button weight="primary" type="submit" disabled={add.isPending}>
            Add and give a password
          </Button>
        </p>
      </form>
    </Dialog>
  );
}

function ChangeDialog({
  account,
  close,
  reset,
}: {
  account: Account;
  close: () => void;
  reset: (made: OneTimePassword) => void;
}) {
  const [name, setName] = useState(account.name);
  const [role, setRole] = useState(account.role);
  const queries = useQueryClient();
  const again = useAgain();
  const sessions = useQuery({ queryKey: ['sessions', account.id], queryFn: () => sessionsOf(account.id) });
  const change = useMutation({
    mutationFn: (body: { name?: string; role?: string; active?: boolean }) => changeAccount(account, body),
    onSettled: again,
    onSuccess: close,
  });
  const give = useMutation({
    mutationFn: () => resetPassword(account.id),
    onSuccess: (made) => {
      again();
      reset(made);
    },
  });
  const end = useMutation({
    mutationFn: (session: string) => endSession(account.id, session),
    onSettled: () => void queries.invalidateQueries({ queryKey: ['sessions', account.id] }),
  });
  const wrong = change.error instanceof Problem ? change.error.fields : {};
  const problem = change.error ?? give.error ?? end.error;
  const send = (e: FormEvent): void => {
    e.preventDefault();
    change.mutate({ name, role });
  };
  return (
    <Dialog title={`${account.name}, ${account.id}`} close={close} wide>
      <form onSubmit={send}>
        <Field label="Name" wrong={wrong['name']}>
          {(own) => (
            <input
              {...own}
              className="w-full max-w-sm"
              value={name}
              onChange={(e) => setName(e.target.value)}
              required
            />
          )}
        </Field>
        <Roles value={role} change={setRole} wrong={wrong['role']} />
        <p className="mt-1 text-quiet">Another role counts at once, also where they are signed in.</p>
        {problem !== null && Object.keys(wrong).length === 0 ? (
          <div className="mt-3">
            <Notice>{problem.message}</Notice>
          </div>
        ) : null}
        <p className="mt-4 flex flex-wrap justify-end gap-3">
          <Button onClick={() => give.mutate()} disabled={give.isPending}>
            Give another password
          </Button>
          {account.active ? (
            <Button onClick={() => change.mutate({ active: false })}>End the account</Button>
          ) : (
            <Button onClick={() => change.mutate({ active: true })}>Let them sign in again</Button>
          )}
          <Button
            weight="primary"
            type="submit"
            disabled={change.isPending || (name === account.name && role === account.role)}
          >
            Keep the change
          </Button>
        </p>
      </form>
      <h3 className="mt-6 border-b border-ink pb-1 font-semibold">Signed in</h3>
      {sessions.data === undefined ? (
        <p className="py-2 text-quiet">Asking…</p>
      ) : (
        <SessionList sessions={sessions.data} end={(id) => end.mutate(id)} />
      )}
    </Dialog>
  );
}

function OneTime({ given, close }: { given: OneTimePassword; close: () => void }) {
  return (
    <Dialog title={`A password for ${given.account.name}`} close={close}>
      <p className="mb-3">
        Hand it over now: it is shown this once and kept nowhere. It works for one thing, choosing a password of their
        own.
      </p>
      <p className="border border-ink bg-sheet p-4 text-center font-mono text-2xl font-medium select-all" data-one-time>
        {given.password}
      </p>
      <p className="mt-2 text-quiet">Signs in as {given.account.id}.</p>
      <p className="mt-5 flex justify-end">
        <Button weight="primary" onClick={close}>
          Handed over
        </Button>
      </p>
    </Dialog>
  );
}
