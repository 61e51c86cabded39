import { useQuery } from '@tanstack/react-query';
import { carriedOffer } from '../api/series';
import type { CarriedOffer } from '../api/types';
import { useBench } from './context';

/** What the run before at this place took and may still hold, for the step that is shown. */
export interface CarryOffer {
  /** Undefined where none is looked for, or while it is not known. */
  readonly offer: CarriedOffer | undefined;
  /** Whether the server is being asked: nothing should be measured anew before it answers. */
  readonly asking: boolean;
}

export function useCarryOffer(): CarryOffer {
  const { ready, step } = useBench();
  const { view } = ready;
  const standing = view.references.filter((r) => r.step === step.id);
  const wanted =
    step.kind === 'reference' &&
    step.skipped === undefined &&
    view.status === 'open' &&
    view.output.mode === 'safe' &&
    ready.drives &&
    standing.length > 0 &&
    standing.every((r) => r.fault !== undefined);
  const { data, isLoading } = useQuery({
    queryKey: ['carried', view.id, step.id, view.personEvents],
    queryFn: () => carriedOffer(view.id, step.id),
    enabled: wanted,
  });
  return { offer: wanted ? data : undefined, asking: wanted && isLoading };
}
