import { usePlace } from '../app/place';
import { Changes } from './Changes';
import { BackToRegister } from './PaneParts';

/** Everything that was changed in the register, by whom and when. */
export function ChangesPage() {
  usePlace(
    'Changes',
    <>
      Register › <b className="font-semibold">Changes</b>
    </>,
    'changes',
  );
  return (
    <main className="max-w-[820px] px-5 py-4">
      <BackToRegister />
      <h1 className="text-[21px] font-semibold">Who changed what</h1>
      <p className="mb-3 font-condensed text-quiet">
        Newest first. What was undone is struck through. Times are this device’s.
      </p>
      <Changes of={null} zone={Intl.DateTimeFormat().resolvedOptions().timeZone} atOnce={40} />
    </main>
  );
}
