import type { LevelEvent } from './DistanceField';
import { Mark } from './Mark';

/** Events in their order; one that is chosen is looked at closely. */
export function EventList({
  events,
  chosen,
  choose,
}: {
  events: readonly LevelEvent[];
  chosen: string | null;
  choose: (key: string | null) => void;
}) {
  return (
    <ol className="w-[188px] shrink-0 overflow-y-auto border-l border-rule pl-2 max-[1000px]:max-h-40 max-[1000px]:w-full">
      {events.map((e) => (
        <li key={e.key}>
          <button
            type="button"
            className={`flex min-h-9 w-full items-start gap-2 px-1 py-1 text-left font-condensed text-[14px] leading-tight max-[1000px]:min-h-11 ${e.key === chosen ? 'bg-band/60' : ''}`}
            aria-pressed={e.key === chosen}
            onClick={() => choose(e.key === chosen ? null : e.key)}
            data-event
          >
            <Mark standing={e.verdict} size={12} />
            <span className="min-w-0">
              <b className="font-mono text-[13px] font-semibold">{(e.at / 1000).toFixed(3)}</b> km
              <br />
              {e.words}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}
