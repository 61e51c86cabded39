import { useMutation } from '@tanstack/react-query';
import { addToRound, tick } from '../api/round';
import type { LoadItem, Round } from '../api/types';
import { hours } from '../state/plan';
import { plural, shortDay } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { Cut } from '../ui/Hints';

interface Props {
  day: Round;
  shows: (next: Round) => void;
}

/** What to take along, ticked off before one leaves; beneath it what lies near. */
export function Loadout({ day, shows }: Props) {
  const needed = day.loadout.filter((i) => i.holds);
  const ticked = needed.filter((i) => i.ticked !== undefined).length;
  return (
    <aside
      className="border-l border-rule px-5 py-4 max-[1000px]:border-t max-[1000px]:border-l-0"
      aria-label="Loadout"
    >
      <h2 className="text-[14px] font-semibold text-quiet">Loadout</h2>
      <p className="font-condensed text-[14px] text-quiet">
        {day.loadout.length === 0
          ? 'Nothing is needed on this day.'
          : ticked === 0
            ? 'What the jobs of this day need.'
            : ticked === needed.length
              ? 'All ticked off.'
              : `Ticked off but for ${needed.length - ticked}.`}
      </p>
      <ul className="mt-2">
        {day.loadout.map((item) => (
          <Item key={item.item} item={item} day={day} shows={shows} />
        ))}
      </ul>
      {day.suggestions.length > 0 ? <Near day={day} shows={shows} /> : null}
      {day.later.length > 0 && day.stops.length > 0 ? (
        <>
          <h2 className="mt-6 text-[14px] font-semibold text-quiet">Due next, on nobody’s day</h2>
          <ul className="mt-1">
            {day.later.map((job) => (
              <li key={job.job} className="flex justify-between gap-3 border-b border-rule py-1.5 font-condensed">
                <Cut className="min-w-0">
                  <b className="font-semibold">{job.position}</b> {job.siteName}
                </Cut>
                <span className="whitespace-nowrap text-quiet">{shortDay(job.due)}</span>
              </li>
            ))}
          </ul>
        </>
      ) : null}
    </aside>
  );
}

function Item({ item, day, shows }: { item: LoadItem } & Props) {
  const change = useMutation({
    mutationFn: (on: boolean) => tick(day.person, day.day, item.item, on),
    onSuccess: shows,
  });
  const on = change.isPending ? change.variables : item.ticked !== undefined;
  return (
    <li className="border-b border-rule py-2">
      <label className="flex gap-3">
        {item.holds ? (
          <input
            type="checkbox"
            className="mt-0.5 shrink-0"
            checked={on}
            onChange={(e) => change.mutate(e.target.checked)}
          />
        ) : (
          <span className="w-5 shrink-0" aria-hidden="true" />
        )}
        <span className="min-w-0">
          <span className={`block ${item.holds ? 'font-semibold' : ''}`}>{item.name}</span>
          <span className={`font-condensed text-[14px] ${item.holds ? 'text-quiet' : 'expired'}`}>{item.state}</span>
          {item.holds ? (
            <span className="block font-condensed text-[13px] leading-snug text-quiet">{item.detail}</span>
          ) : null}
        </span>
      </label>
      {change.isError ? <Notice>{change.error.message}</Notice> : null}
    </li>
  );
}

function Near({ day, shows }: Props) {
  const add = useMutation({ mutationFn: (job: number) => addToRound(day.person, day.day, [job]), onSuccess: shows });
  return (
    <>
      <h2 className="mt-6 text-[14px] font-semibold text-quiet">Also near the line</h2>
      <ul>
        {day.suggestions.map((s) => (
          <li key={s.job} className="border-b border-rule py-2 font-condensed text-[15px]" data-near={s.position}>
            <b className="font-semibold">{s.position}</b>, due {shortDay(s.due)}
            {s.over ? ', over its window' : ''}, {plural(s.minutes, 'min', 'min')}
            {s.detour > 0 ? ` and ${s.detour} min on the way` : ''}: would make the day {hours(s.total)}.
            <br />
            <Button
              weight="quiet"
              className="-ml-4"
              disabled={add.isPending}
              onClick={() => add.mutate(s.job)}
              aria-label={`Add to this round: ${s.position}`}
            >
              Add to this round
            </Button>
          </li>
        ))}
      </ul>
      {add.isError ? <Notice>{add.error.message}</Notice> : null}
    </>
  );
}
