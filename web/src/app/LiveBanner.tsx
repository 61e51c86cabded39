import { Suspense } from 'react';
import { Link } from 'react-router';
import type { Ready } from '../state/run';
import { LinkNews } from './LinkNews';
import { withFamilies } from './withFamilies';

const LiveFigure = withFamilies(() => import('./LiveFigure').then((m) => m.LiveFigure));

/** On every other page: what is armed or live at the bench, and the stop. */
export function LiveBanner({ ready, stop }: { ready: Ready; stop: () => void }) {
  const { view } = ready;
  const { mode } = view.output;
  if (mode === 'safe') {
    return <LinkNews ready={ready} />;
  }
  return (
    <div className={mode === 'live' ? 'bg-hazard p-2 text-on-hazard' : 'armed-border p-2'}>
      <div className={`flex items-center gap-5 px-3 py-1.5 ${mode === 'live' ? '' : 'bg-paper'}`}>
        <b className="font-semibold">{mode === 'live' ? 'Live' : 'Armed'}</b>
        <span className="font-mono text-2xl font-semibold whitespace-nowrap">
          {mode === 'live' ? (
            <Suspense fallback={null}>
              <LiveFigure ready={ready} />
            </Suspense>
          ) : null}
        </span>
        <Link to={`/bench/${ready.run}`} className="min-w-0 flex-1 truncate underline underline-offset-4">
          {view.asset.position}: {view.output.what}
        </Link>
        <button type="button" className="min-h-11 rounded-xs bg-brick px-6 font-semibold text-on-brick" onClick={stop}>
          Stop output
        </button>
      </div>
      <LinkNews ready={ready} />
    </div>
  );
}
