import type { Progress } from '../api/http';
import { Button } from './controls';

/** How far something is that takes its time; cancelled by its button. */
export function ProgressBar({
  progress,
  storing = false,
  cancel,
}: {
  progress: Progress;
  /** Whether leaving the page would cancel it. */
  storing?: boolean;
  cancel: () => void;
}) {
  const share = progress.total === 0 ? null : Math.min(1, progress.done / progress.total);
  return (
    <div className="mt-3 flex flex-wrap items-center gap-x-4 border border-ink bg-sheet px-4 py-2" data-progress>
      {storing ? (
        <p className="w-full font-condensed text-quiet">
          Stay on this page until it is done: whoever leaves it cancels, and nothing is stored then.
        </p>
      ) : null}
      <p className="w-72 shrink-0">
        {progress.phase}
        {share === null
          ? '…'
          : `, ${progress.done.toLocaleString('en-GB')} of ${progress.total.toLocaleString('en-GB')}`}
      </p>
      <div
        className="h-2 flex-1 border border-quiet"
        role="progressbar"
        aria-valuenow={share === null ? undefined : Math.round(share * 100)}
      >
        <div className="h-full bg-lake" style={{ width: `${(share ?? 0) * 100}%` }} />
      </div>
      <Button weight="quiet" onClick={cancel}>
        Cancel
      </Button>
    </div>
  );
}
