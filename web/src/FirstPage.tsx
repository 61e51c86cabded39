import { useQuery } from '@tanstack/react-query';
import { fetchStatus, type Status } from './status';

const COMMANDS = [
  ['./juratest example', 'tests a due breaker from start to verdict against the simulated gear'],
  ['./juratest verify', 'checks the chain of every record and the tables made from it'],
  ['./juratest stop', 'stops what start began'],
] as const;

/** What is there: shown until the bench comes. */
export function FirstPage() {
  const status = useQuery({ queryKey: ['status'], queryFn: fetchStatus, refetchInterval: 5000, retry: false });
  return (
    <main className="mx-auto max-w-3xl px-6 py-14">
      <header className="flex items-center gap-4 border-b border-ink pb-5">
        <img src="/mark.svg" alt="" className="h-11 w-11 rounded-xs bg-[#fffdf8] p-1" />
        <div>
          <h1 className="text-3xl font-semibold">Juratest</h1>
          <p className="text-quiet">Scheduled tests on installed assets, from round to record</p>
        </div>
      </header>
      {status.isError ? (
        <p role="alert" className="mt-8 border-l-4 border-ink bg-sheet px-4 py-3">
          The server does not say what it holds: {status.error.message}. Look at var/log/server.log, or start it again with
          ./juratest start.
        </p>
      ) : null}
      {status.isPending ? <p className="mt-8 text-quiet">Asking the server what it holds…</p> : null}
      {status.data ? <Holdings status={status.data} /> : null}
      <section className="mt-12">
        <h2 className="font-semibold">What works now, without a browser</h2>
        <dl className="mt-2">
          {COMMANDS.map(([command, words]) => (
            <div key={command} className="grid grid-cols-[13rem_1fr] items-baseline gap-4 border-b border-rule py-2.5">
              <dt className="font-mono text-sm font-medium">{command}</dt>
              <dd className="text-quiet">{words}</dd>
            </div>
          ))}
        </dl>
        <p className="mt-6 text-quiet">
          The bench comes next. Until then the interface is described at{' '}
          <a className="text-lake underline" href="/api/openapi">
            /api/openapi
          </a>
          .
        </p>
      </section>
    </main>
  );
}

function Holdings({ status }: { status: Status }) {
  const counts = [
    ['sites', status.sites],
    ['assets', status.assets],
    ['records', status.records],
    ['open jobs', status.openJobs],
  ] as const;
  return (
    <section className="mt-8" aria-label="What this installation holds">
      <dl className="grid grid-cols-4 border-b border-rule">
        {counts.map(([label, count], i) => (
          <div key={label} className={`flex flex-col-reverse pb-4 ${i > 0 ? 'border-l border-rule pl-5' : ''}`}>
            <dt className="text-quiet">{label}</dt>
            <dd className="font-mono text-4xl font-medium">{count.toLocaleString('en-GB')}</dd>
          </div>
        ))}
      </dl>
      <p className="mt-3 text-quiet">
        Version {status.version}
        {status.demo ? '. The demo valley is loaded; everything in it is made up.' : '.'}
      </p>
    </section>
  );
}
