import { useEffect, useState } from 'react';
import type { Ready } from '../state/run';
import { clock } from '../state/words';

/** Longest time from the last sign of the server to the gear being off by its own watchdog, ms. */
const OFF_WITHIN_MS = 3000;

/** How long nothing was heard, counting on: the person judges by it what the output may still be doing. */
function Lost({ heard, whileNotSafe }: { heard: number; whileNotSafe: boolean }) {
  const [now, setNow] = useState(() => performance.now());
  useEffect(() => {
    const timer = window.setInterval(() => setNow(performance.now()), 250);
    return () => window.clearInterval(timer);
  }, []);
  const silent = Math.max(0, now - heard);
  return (
    <p className="border-l-4 border-ink bg-sheet px-4 py-2.5 font-semibold text-ink" data-link="lost">
      <span role="alert">Link lost. </span>
      <span>
        The server was last heard{' '}
        <span className="font-mono" data-silent>
          {Math.floor(silent / 1000)} s
        </span>{' '}
        ago.{' '}
      </span>
      <span role="alert">
        {!whileNotSafe
          ? 'The output was off when the server was last heard. What you type is kept; the screen goes on by itself when the server answers.'
          : silent < OFF_WITHIN_MS
            ? 'The output switches itself off within 3 s; treat it as live until this screen confirms.'
            : 'The output should have switched itself off by now; nobody has confirmed it. Treat it as live until this screen confirms, or look at the gear.'}
      </span>
    </p>
  );
}

/** What the person must know of a link that was lost, and of how it came back. */
export function LinkNews({ ready }: { ready: Ready }) {
  const { link, view } = ready;
  if (link.status === 'up') {
    return null;
  }
  if (link.status === 'lost') {
    return <Lost heard={link.heard} whileNotSafe={link.whileNotSafe} />;
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
