import { useQuery } from '@tanstack/react-query';
import { rights } from '../api/people';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { Notice } from '../ui/controls';
import { PeopleNav } from './PeopleNav';

const ROLES = ['technician', 'engineer', 'supervisor', 'auditor', 'administrator'] as const;

/** What each role may: the table that the server holds every request to. */
export function RightsPage() {
  usePlace(
    'Rights',
    <>
      People › <b className="font-semibold">Rights</b>
    </>,
    'rights',
  );
  const own = useSession().role;
  const all = useQuery({ queryKey: ['rights'], queryFn: rights, staleTime: Infinity });
  return (
    <main className="px-5 pb-8">
      <PeopleNav />
      <h1 className="mt-4 text-[21px] font-semibold">What each role may</h1>
      <p className="mb-3 max-w-prose text-quiet">
        The server holds every request to this table. What stands in no row nobody may.
      </p>
      {all.isError ? <Notice>{all.error.message}</Notice> : null}
      <table className="w-full max-w-[1060px] font-condensed text-[16px]">
        <thead>
          <tr className="border-b border-ink text-[14px]">
            <th className="py-1.5 text-left font-normal text-quiet">What is done</th>
            {ROLES.map((role) => (
              <th key={role} className={`w-28 ${role === own ? 'font-semibold' : 'font-normal text-quiet'}`}>
                {role}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {all.data?.map((r) => (
            <tr key={r.what} className="border-b border-rule">
              <td className="py-1.5 pr-4">
                {r.what}
                {r.only !== undefined ? <span className="block text-[14px] text-quiet">{r.only}</span> : null}
              </td>
              {ROLES.map((role) => (
                <td key={role} className={`text-center ${role === own ? 'bg-sheet' : ''}`}>
                  {r.roles.includes(role) ? (
                    'yes'
                  ) : (
                    <span className="text-quiet" aria-label="no">
                      –
                    </span>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </main>
  );
}
