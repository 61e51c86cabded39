import { drawingOf, useFamilies, type ChartProps } from '../bench/family';
import { ChartField } from '../ui/ChartField';

/** A chart as its family draws it, or plainly. */
export function DrawnChart({ chart, past }: ChartProps) {
  const Drawing = drawingOf(useFamilies(), chart) ?? ChartField;
  return (
    <div className="h-80" data-chart={chart.id}>
      <Drawing chart={chart} past={past} />
    </div>
  );
}
