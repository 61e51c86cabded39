import { useMemo } from 'react';
import type { ComparedChart, ComparisonView } from '../api/types';
import { withUnit } from '../state/words';
import { DrawnChart } from './DrawnChart';
import { TraceField } from './TraceField';
import { sideName } from './words';

/** The charts of all sides over each other with how far each lane moved, then each captured trace over the others'. */
export function ComparedDrawings({ view }: { view: ComparisonView }) {
  return (
    <>
      <Charts view={view} />
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

function Charts({ view }: { view: ComparisonView }) {
  return view.charts.map((chart) => (
    <section key={chart.now.id} className="mt-6" aria-label={`${chart.now.title}, laid over each other`}>
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">
        {chart.now.title}, laid over each other{' '}
        <span className="font-condensed font-normal">
          {chart.now.source}
          {chart.sameBounds ? '' : '; the bounds were others then'}
        </span>
      </h2>
      <Overlaid view={view} chart={chart} />
      <Differences view={view} chart={chart} />
    </section>
  ));
}

function Overlaid({ view, chart }: { view: ComparisonView; chart: ComparedChart }) {
  const now = useMemo(() => ({ ...chart.now, spots: chart.now.spots.filter((s) => s.counts) }), [chart]);
  const past = useMemo(
    () =>
      chart.then.flatMap((c) =>
        c.spots
          .filter((s) => s.counts)
          .map((s) => ({
            key: `${c.with}${s.lane}`,
            at: chart.now.at ?? s.at,
            value: s.value,
            label: `${s.lane}, ${sideName(view.with[c.with])}: ${withUnit(s.figure, chart.now.y.unit)}`,
          })),
      ),
    [view, chart],
  );
  return <DrawnChart chart={now} past={past} />;
}

const MOST = 50;

/** How far each lane moved since each of the others, per cent of the value then; more to the right. */
function Differences({ view, chart }: { view: ComparisonView; chart: ComparedChart }) {
  const points = new Set(chart.now.spots.map((s) => s.point));
  const rows = view.rows.filter((r) => points.has(r.now.key));
  const all = rows.flatMap((r) => r.then.flatMap((c) => (c.percent === undefined ? [] : [Math.abs(c.percent)])));
  const most = Math.min(MOST, Math.max(5, Math.ceil(Math.max(0, ...all) / 5) * 5));
  return all.length === 0 ? null : (
    <div className="mt-4" data-differences>
      <h3 className="font-condensed text-[13px] text-quiet">
        Difference, per cent of the value then; full width is ±{most}&#8198;%
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
