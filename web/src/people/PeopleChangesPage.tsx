import { useQuery } from '@tanstack/react-query';
import { peopleChanges } from '../api/people';
import { usePlace } from '../app/place';
import { dayAndTime } from '../state/words';
import { Notice } from '../ui/controls';
import { PeopleNav } from './PeopleNav';

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** Who changed what of people, authorisations, absences, access and parts. */
export function PeopleChangesPage() {
  usePlace(
    'Changes',
    <>
      People › <b className="font-semibold">Changes</b>
    </>,
    'people-changes',
  );
  const all = useQuery({ queryKey: ['people-changes'], queryFn: peopleChanges });
  return (
    <main className="px-5 pb-8">
      <PeopleNav />
      <h1 className="mt-4 text-[21px] font-semibold">Who changed what</h1>
      <p className="mb-3 font-condensed text-quiet">
        Accounts, authorisations, absences, hours, access to sites and parts, newest first. Lines are added and never
        changed. Times are this device’s.
      </p>
      {all.isError ? <Notice>{all.error.message}</Notice> : null}
      {all.data?.length === 0 ? <p className="text-quiet">Nothing was changed yet.</p> : null}
      <ul className="max-w-[860px]">
        {all.data?.map((c) => (
          <li
            key={c.id}
            className="grid grid-cols-[11rem_9rem_1fr] gap-4 border-b border-rule py-2 font-condensed text-[16px]"
          >
            <span className="text-quiet">{dayAndTime(c.at, ZONE)}</span>
            <span>{c.name}</span>
            <span className="min-w-0">
              {c.kind} <b className="font-semibold">{c.key}</b>: {c.words}
            </span>
          </li>
        ))}
      </ul>
    </main>
  );
}
