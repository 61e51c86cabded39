import { dayAt } from '../state/words';
import { BarredTag } from '../ui/StandingMark';
import { useBarred } from './barred';

/** Says over a page of an asset that it must not be used, why, and who said so. Nothing where it may. */
export function BarredNotice({ asset, zone }: { asset: string; zone: string }) {
  const barred = useBarred(asset);
  return barred === null ? null : (
    <p role="alert" className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b-2 border-ink bg-sheet px-4 py-2">
      <BarredTag /> <b className="font-semibold">{barred.why}</b>
      <span className="font-condensed text-quiet">
        since {dayAt(barred.since, zone)}, said by {barred.by}
      </span>
    </p>
  );
}

/** The same, in the place of a word. */
export function BarredMark({ asset }: { asset: string | undefined }) {
  const barred = useBarred(asset);
  return barred === null ? null : <BarredTag why={barred.why} />;
}
