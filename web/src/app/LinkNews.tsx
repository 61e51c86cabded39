import type { Ready } from '../state/run';
import { clock } from '../state/words';

/** What the person must know of a link that was lost, and of how it came back. */
export function LinkNews({ ready }: { ready: Ready }) {
  const { link, view } = ready;
  if (link.status === 'up') {
    return null;
  }
  if (link.status === 'lost') {
    return (
      <p role="alert" className="border-l-4 border-ink bg-sheet px-4 py-2.5 font-semibold text-ink" data-link="lost">
        {link.whileNotSafe
          ? 'Link lost. Output switches itself off within 3 s; treat it as live until this screen confirms.'
          : 'Link lost. The output was off when the server was last heard. What you type is kept; the screen goes on by itself when the server answers.'}
      </p>
    );
  }
  const off = view.lastOff;
  const unconfirmed = Object.keys(view.unconfirmed).length > 0;
  const words = !link.whileNotSafe
    ? 'The link is back. Nothing was lost.'
    : view.output.mode !== 'safe'
      ? `The link is back. The output is still ${view.output.mode}.`
      : unconfirmed
        ? 'The link is back. The output is not confirmed off: treat it as live.'
      : `The link is back. Output confirmed off at ${off === undefined ? 'an unknown time' : clock(off.at, view.zone)}.`;
  return (
    <p role="status" className="border-l-4 border-ink bg-sheet px-4 py-2.5 font-semibold text-ink" data-link="back">
      {words}
    </p>
  );
}
