import { useQuery } from '@tanstack/react-query';
import { carriedOffer } from '../api/series';
import { clock } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { useBench } from './context';

/** A reference that the run before at this place took and that still holds: it may be taken over, by who says so. */
export function CarryOffer() {
  const bench = useBench();
  const { view, drives, doing } = bench.ready;
  const { step } = bench;
  const standing = view.references.filter((r) => r.step === step.id);
  const wanted =
    step.kind === 'reference' &&
    step.skipped === undefined &&
    view.status === 'open' &&
    view.output.mode === 'safe' &&
    drives &&
    standing.length > 0 &&
    standing.every((r) => r.fault !== undefined);
  const offer = useQuery({
    queryKey: ['carried', view.id, step.id, view.personEvents],
    queryFn: () => carriedOffer(view.id, step.id),
    enabled: wanted,
  }).data;
  if (!wanted || offer?.record === undefined) {
    return null;
  }
  if (offer.takenAt === undefined) {
    return (
      <p className="px-5 pb-1 font-condensed text-[15px] text-quiet" data-carry="no">
        {offer.why}
      </p>
    );
  }
  return (
    <div className="px-5 pb-2" data-carry="yes">
      <Notice
        action={
          <Button disabled={!bench.mayAct || doing !== null} onClick={() => void bench.driver.carry(step.id)}>
            Nothing moved: use it again
          </Button>
        }
      >
        That of {offer.record}, taken {clock(offer.takenAt, view.zone)}, still holds
        {offer.until === undefined ? '' : ` until ${clock(offer.until, view.zone)}`}.
      </Notice>
    </div>
  );
}
