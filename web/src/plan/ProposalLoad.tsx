import type { Proposal } from '../api/types';
import { addDays, hours, mondayOf } from '../state/plan';
import { shortDay } from '../state/words';

/** Working days of a week. */
const DAYS = 5;

/** Work of each person by week, as proposed and as planned today, against what there is. */
export function ProposalLoad({ of }: { of: Proposal }) {
  const weeks: string[] = [];
  // A first week of which only the weekend is left has no work.
  const first = addDays(mondayOf(of.first), 4) < of.first ? addDays(mondayOf(of.first), 7) : mondayOf(of.first);
  for (let week = first; week <= of.last; week = addDays(week, 7)) {
    weeks.push(week);
  }
  const minutes = (person: string, week: string, now: boolean): number =>
    of.lines.reduce((sum, l) => {
      const who = now ? l.wasPerson : l.person;
      const day = now ? l.wasDay : l.day;
      return sum + (who === person && day !== undefined && mondayOf(day) === week ? l.minutes : 0);
    }, 0);
  return (
    <section className="mt-4" aria-label="Work by week, as proposed and as planned today">
      <table className="w-full border-collapse font-condensed text-[15px]">
        <thead>
          <tr className="text-left text-[14px] text-quiet">
            <th scope="col" className="w-[180px] py-1 font-normal max-[1000px]:w-[120px]">
              <span className="sr-only">who</span>
            </th>
            {weeks.map((w) => (
              <th key={w} scope="col" className="border-l border-rule px-2 font-normal">
                {shortDay(w)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {of.people.map((p) => (
            <tr key={p.id} className="border-t border-rule last:border-b">
              <th scope="row" className="py-1 text-left font-normal">
                {p.name}
              </th>
              {weeks.map((w) => {
                const proposed = minutes(p.id, w, false);
                const now = minutes(p.id, w, true);
                const most = Math.max(1, p.minutesADay * DAYS, proposed, now);
                return (
                  <td key={w} className="border-l border-rule px-2 py-1">
                    <span className="flex items-center gap-2">
                      <span className="relative h-4 min-w-6 flex-1 bg-sheet" aria-hidden="true">
                        <span
                          className="absolute inset-y-0 left-0 bg-band"
                          style={{ width: `${(proposed / most) * 100}%` }}
                        />
                        <span
                          className="absolute inset-y-0 left-0 border-r-2 border-ink"
                          style={{ width: `${(now / most) * 100}%` }}
                        />
                      </span>
                      <span className="w-[4.2rem] shrink-0 text-right font-mono text-[13px] max-[1000px]:hidden">
                        {proposed === 0 ? '0' : hours(proposed)}
                      </span>
                      <span className="sr-only">
                        proposed {hours(proposed)}, planned today {hours(now)}
                      </span>
                    </span>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 font-condensed text-[14px] text-quiet">
        The band is work as proposed, the line in it today’s plan; a full width is all the hours of the week.
      </p>
    </section>
  );
}
