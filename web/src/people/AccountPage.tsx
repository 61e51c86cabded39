import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { endOwnSession, ownSessions } from '../api/people';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { Notice } from '../ui/controls';
import { PasswordForm } from './PasswordForm';
import { SessionList } from './SessionList';

/** One's own account: the password, and where one is signed in. */
export function AccountPage() {
  usePlace('Your account', <b className="font-semibold">Your account</b>, 'account');
  const person = useSession();
  const queries = useQueryClient();
  const sessions = useQuery({ queryKey: ['own-sessions'], queryFn: ownSessions });
  const again = (): void => void queries.invalidateQueries({ queryKey: ['own-sessions'] });
  const end = useMutation({ mutationFn: endOwnSession, onSettled: again });
  return (
    <main className="grid max-w-[960px] grid-cols-2 gap-10 px-5 py-4 max-[900px]:grid-cols-1">
      <section aria-label="Password">
        <h1 className="text-[21px] font-semibold">{person.name}</h1>
        <p className="mb-4 text-quiet">
          {person.role}, signs in as {person.id}
        </p>
        <h2 className="mb-3 border-b border-ink pb-1 text-[17px] font-semibold">Password</h2>
        <PasswordForm done={again} />
      </section>
      <section aria-label="Where you are signed in">
        <h2 className="border-b border-ink pb-1 text-[17px] font-semibold">Where you are signed in</h2>
        {sessions.isError ? <Notice>{sessions.error.message}</Notice> : null}
        {sessions.data === undefined ? (
          <p className="py-2 text-quiet">Asking…</p>
        ) : (
          <SessionList sessions={sessions.data} end={(id) => end.mutate(id)} />
        )}
      </section>
    </main>
  );
}

/** Before anything else: a password of one's own in place of the one that was given. */
export function FirstPassword() {
  const queries = useQueryClient();
  return (
    <main className="mx-auto max-w-md p-10">
      <h1 className="text-2xl font-semibold">Choose a password of your own</h1>
      <p className="mt-2 mb-6 text-quiet">
        The one you signed in with was given to you and is known to whoever gave it. It works for nothing but this.
      </p>
      <PasswordForm focus done={(person) => queries.setQueryData(['session'], person)} />
    </main>
  );
}
