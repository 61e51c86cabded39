import { useQuery } from '@tanstack/react-query';
import { sharedTraits, type FleetFilter } from '../api/condition';
import type { Region } from '../draw/drift';

/** What the chosen have in common beyond chance, with the odds; what was looked at where there is nothing. */
export function SharedTraits({ filter, region }: { filter: FleetFilter; region: Region | null }) {
  const view = useQuery({
    queryKey: ['condition', 'shared', filter, region],
    queryFn: () => sharedTraits(filter, region),
    placeholderData: (before) => before,
  });
  if (view.data === undefined) {
    return view.isError ? <p className="px-4 py-3">{view.error.message}</p> : null;
  }
  const { traits, tried, group } = view.data;
  return group < 2 ? null : (
    <section className="border-b border-rule px-4 py-3" aria-label="What they share" data-shared>
      <h3 className="text-[13px] font-semibold text-quiet">What they share</h3>
      {traits.length === 0 ? (
        <p className="text-[15px]">Nothing beyond chance. Looked at: {tried.join(', ')}.</p>
      ) : (
        <ul>
          {traits.map((t) => (
            <li key={`${t.attribute} ${t.value}`} className="py-0.5 text-[15px]" data-trait={t.attribute}>
              {t.words}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
