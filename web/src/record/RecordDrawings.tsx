import type { Chart, RecordView } from '../api/types';
import type { PastSpot } from '../bench/family';
import { DrawnChart } from './DrawnChart';
import { MarkedTraces } from './MarkedTraces';
import { TraceField } from './TraceField';

/** What was measured as a drawing: the charts of its family, and the traces captured on the way. */
export function RecordDrawings({ record }: { record: Pick<RecordView, 'charts' | 'traces'> }) {
  const along = record.traces.filter((t) => t.marks.length > 0);
  const plain = record.traces.filter((t) => t.marks.length === 0);
  const titles = [...new Set(plain.map((t) => `${t.title}: ${t.name.toLowerCase()}`))];
  return (
    <>
      <Charts charts={record.charts} />
      {along.length === 0 ? null : <MarkedTraces traces={along} />}
      {titles.map((title) => {
        const of = plain.filter((t) => `${t.title}: ${t.name.toLowerCase()}` === title);
        return (
          <section key={title} className="mt-6" aria-label={title}>
            <h2 className="mb-1 text-[13px] font-semibold text-quiet">{title}</h2>
            <TraceField blobs={of.map((t) => t.blob)} names={of.map((t) => t.lane)} />
          </section>
        );
      })}
    </>
  );
}

/** Nothing of before, always the same: a drawing is made anew when what it is made of changes. */
const NONE: readonly PastSpot[] = [];

function Charts({ charts }: { charts: readonly Chart[] }) {
  return charts.map((chart) => (
    <section key={chart.id} className="mt-6" aria-label={chart.title}>
      <h2 className="mb-1 text-[13px] font-semibold text-quiet">
        {chart.title} <span className="font-condensed font-normal">{chart.source}</span>
      </h2>
      <DrawnChart chart={chart} past={NONE} />
    </section>
  ));
}
