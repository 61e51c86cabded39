import { clock } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { useBench } from './context';
import { useCarryOffer } from './useCarryOffer';

/** A reference that the run before at this place took and that still holds: it may be taken over, by who says so. */
export function CarryOffer() {
  const bench = useBench();
  const { view, doing } = bench.ready;
  const { step } = bench;
  const { offer } = useCarryOffer();
  if (offer?.record === undefined) {
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
