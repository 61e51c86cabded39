import type { SessionView } from '../api/types';
import { dayAndTime } from '../state/words';

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** What a browser calls itself, in two words. */
function program(text: string): string {
  const name = /Firefox/.test(text) ? 'Firefox' : /Chrom/.test(text) ? 'Chromium' : /Safari/.test(text) ? 'Safari' : '';
  const on = /Android/.test(text)
    ? 'Android'
    : /iPad|iPhone/.test(text)
      ? 'iOS'
      : /Windows/.test(text)
        ? 'Windows'
        : /Mac/.test(text)
          ? 'macOS'
          : /Linux/.test(text)
            ? 'Linux'
            : '';
  return name === '' ? 'a program' : on === '' ? name : `${name} on ${on}`;
}

/** Where somebody is signed in, each to be ended. */
export function SessionList({ sessions, end }: { sessions: readonly SessionView[]; end: (id: string) => void }) {
  return (
    <ul>
      {sessions.map((s) => (
        <li
          key={s.id}
          className="flex min-h-11 items-center gap-3 border-b border-rule font-condensed text-[15px]"
          data-session
        >
          <span className="min-w-0 flex-1">
            <b className="font-semibold">{s.own ? 'This one' : program(s.program)}</b>{' '}
            <span className="text-quiet">
              from {s.address === '' ? 'an address not known' : s.address}, since {dayAndTime(s.since, ZONE)}, last used{' '}
              {dayAndTime(s.lastUsed, ZONE)}
            </span>
          </span>
          {s.own ? null : (
            <button
              type="button"
              className="min-h-11 px-2 font-semibold text-lake underline-offset-4 hover:underline"
              onClick={() => end(s.id)}
            >
              Sign out there
            </button>
          )}
        </li>
      ))}
      {sessions.length === 0 ? <li className="py-2 text-quiet">Signed in nowhere.</li> : null}
    </ul>
  );
}
