import type { ComparedCurve, ComparisonView } from '../api/types';
import { withUnit } from '../state/words';
import { TimeCurrentField, type Measured } from '../ui/TimeCurrentField';
import { TraceField } from './TraceField';
import { sideName } from './words';

/**
 * What was measured on all sides on one field with how far each lane moved below it, then each captured trace over
 * those
 * of the others.
 */
export function ComparedCurves({ view }: { view: ComparisonView }) {
  return (
    <>
      <Curves view={view} />
      {view.traces.map((t) => (
        <section key={t.now.blob} className="mt-6" aria-label={`${t.now.name}, ${t.now.lane}, laid over each other`}>
          <h2 className="mb-1 text-[13px] font-semibold text-quiet">
            {t.now.title}, {t.now.lane}: {t.now.name.toLowerCase()}, counted from its start
            {t.then.length === 0 ? <span className="font-condensed font-normal">, not captured then</span> : null}
          </h2>
          <TraceField
            blobs={[t.now.blob, ...t.then.map((o) => o.blob)]}
            names={[sideName(view.of), ...t.then.map((o) => sideName(view.with[o.with]))]}
            difference
          />
        </section>
      ))}
    </>
  );
}

function Curves({ view }: { view: ComparisonView }) {
  return view.curves.map((curve) => (
    <section key={curve.now.step} className="mt-6" aria-label={`${curve.now.title}, laid over each other`}>
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">
        {curve.now.title}, laid over each other{' '}
        <span className="font-condensed font-normal">
          {curve.now.source}
          {curve.sameCurve ? '' : '; the curve was another one then'}
        </span>
      </h2>
      <div className="h-80">
        <TimeCurrentField
          curve={curve.now}
          current={curve.now.at}
          window={null}
          measured={measured(view, curve)}
          live={null}
          lane={`the ${curve.now.laneWord}`}
        />
      </div>
      <Differences view={view} curve={curve} />
    </section>
  ));
}

function measured(view: ComparisonView, curve: ComparedCurve): Measured[] {
  const now = curve.now.points
    .filter((t) => t.counts)
    .map((t): Measured => ({
      key: `now${t.lane}`,
      current: curve.now.at,
      time: t.value,
      label: `${curve.now.laneWord} ${t.lane} ${withUnit(t.figure, 's')}`,
      standing: t.verdict,
    }));
  const then = curve.then.flatMap((c) =>
    c.points
      .filter((t) => t.counts)
      .map((t): Measured => ({
        key: `${c.with}${t.lane}`,
        current: curve.now.at,
        time: t.value,
        label: `${t.lane}, ${sideName(view.with[c.with])}: ${withUnit(t.figure, 's')}`,
        standing: 'past',
      })),
  );
  return [...now, ...then];
}

const MOST = 50;

/** How far each lane moved since each of the others, per cent of the time then; later to the right. */
function Differences({ view, curve }: { view: ComparisonView; curve: ComparedCurve }) {
  const rows = view.rows.filter((r) => r.now.step === curve.now.step);
  const all = rows.flatMap((r) => r.then.flatMap((c) => (c.percent === undefined ? [] : [Math.abs(c.percent)])));
  const most = Math.min(MOST, Math.max(5, Math.ceil(Math.max(0, ...all) / 5) * 5));
  return all.length === 0 ? null : (
    <div className="mt-4" data-differences>
      <h3 className="font-condensed text-[13px] text-quiet">
        Difference, per cent of the time then; full width is ±{most}&#8198;%
      </h3>
      {rows.flatMap((r) =>
        r.then.map((c, i) => (
          <div
            key={`${r.now.key}${i}`}
            className="grid grid-cols-[180px_minmax(0,1fr)_84px] items-center gap-3 border-b border-rule py-1 font-condensed text-[14px]"
          >
            <span>
              {r.name} since {sideName(view.with[i])}
            </span>
            <span className="relative h-4">
              <span className="absolute inset-y-0 left-1/2 w-px bg-ink" />
              {c.percent === undefined ? null : (
                <Bar share={Math.max(-1, Math.min(1, c.percent / most))} seen={c.seen === 'changed'} />
              )}
            </span>
            <span className="text-right font-mono">
              {c.percent === undefined
                ? ''
                : `${c.percent > 0 ? '+' : '\u2212'}${Math.abs(c.percent).toFixed(1)}\u2006%`}
            </span>
          </div>
        )),
      )}
    </div>
  );
}

function Bar({ share, seen }: { share: number; seen: boolean }) {
  const width = `${Math.abs(share) * 50}%`;
  return (
    <span
      className={`absolute top-1 h-2 ${seen ? 'bg-ink' : 'bg-rule'}`}
      style={share < 0 ? { right: '50%', width } : { left: '50%', width }}
    />
  );
}
