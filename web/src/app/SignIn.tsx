import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { signIn, status } from '../api/calls';
import { Problem } from '../api/http';
import type { Person } from '../api/types';
import { Button, Notice } from '../ui/controls';
import { Logo } from '../ui/Logo';

/** Who is there. The address stays, so that one lands where one wanted to go. */
export function SignIn({ signedIn }: { signedIn: (person: Person) => void }) {
  const [person, setPerson] = useState('');
  const [password, setPassword] = useState('');
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<Problem | null>(null);
  const holds = useQuery({ queryKey: ['status'], queryFn: status });

  const send = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    setBusy(true);
    setProblem(null);
    try {
      signedIn(await signIn(person.trim(), password));
    } catch (wrong) {
      setProblem(wrong instanceof Problem ? wrong : new Problem(0, 'our-fault', String(wrong)));
      setBusy(false);
    }
  };

  return (
    <main className="grid min-h-full grid-cols-[minmax(0,5fr)_minmax(0,6fr)] max-md:grid-cols-1">
      <section className="flex flex-col justify-between border-r border-rule bg-sheet p-10 max-md:border-r-0 max-md:border-b">
        <div>
          <Logo size={52} />
          <h1 className="mt-5 text-4xl font-semibold">Juratest</h1>
          <p className="mt-2 text-lg text-quiet">Scheduled tests on installed assets, from round to record.</p>
        </div>
        {holds.data ? (
          <dl className="mt-10 grid max-w-60 grid-cols-[5rem_1fr] items-baseline gap-x-3 gap-y-1 border-t border-rule pt-4">
            {(
              [
                ['sites', holds.data.sites],
                ['assets', holds.data.assets],
                ['records', holds.data.records],
                ['open jobs', holds.data.openJobs],
              ] as const
            ).map(([word, count]) => (
              <div key={word} className="col-span-2 grid grid-cols-subgrid items-baseline">
                <dd className="text-right font-mono text-2xl font-medium">{count.toLocaleString('en-GB')}</dd>
                <dt className="text-quiet">{word}</dt>
              </div>
            ))}
          </dl>
        ) : null}
      </section>
      <section className="flex flex-col justify-center p-10">
        <form className="w-full max-w-sm" onSubmit={(e) => void send(e)} aria-busy={busy}>
          <h2 className="text-2xl font-semibold">Sign in</h2>
          <label className="mt-6 block font-semibold" htmlFor="person">
            Name
          </label>
          <input
            id="person"
            className="mt-1 w-full"
            autoComplete="username"
            autoCapitalize="none"
            spellCheck={false}
            value={person}
            onChange={(e) => setPerson(e.target.value)}
            autoFocus
            required
          />
          <label className="mt-4 block font-semibold" htmlFor="password">
            Password
          </label>
          <input
            id="password"
            type="password"
            className="mt-1 mb-6 w-full"
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            required
          />
          {problem ? (
            <div className="mb-4">
              <Notice>{problem.message}</Notice>
            </div>
          ) : null}
          <Button weight="primary" type="submit" disabled={busy} className="w-full">
            {busy ? 'Signing in…' : 'Sign in'}
          </Button>
        </form>
        {holds.data?.demo ? (
          <p className="mt-8 max-w-sm text-quiet">
            The demo valley is loaded, and everything in it is made up. Sign in as <b className="text-ink">tavel</b>{' '}
            with <b className="text-ink">rack-rail-16</b> (technician) or as <b className="text-ink">oster</b> with{' '}
            <b className="text-ink">penstock-42</b> (supervisor).
          </p>
        ) : null}
      </section>
    </main>
  );
}
