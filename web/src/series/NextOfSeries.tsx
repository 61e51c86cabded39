import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { series } from '../api/series';
import { Button, Notice } from '../ui/controls';
import { seriesAddress } from './address';
import { useNextTest } from './useNextTest';

interface Props {
  position: string;
  procedure: string;
  /** Number of the record that it follows. */
  record: string | undefined;
}

/** After the newest record of a series: the next device, whose test begins with one press. */
export function NextOfSeries({ position, procedure, record }: Props) {
  const { data } = useQuery({
    queryKey: ['series', position, record],
    queryFn: () => series(position),
    enabled: record !== undefined,
  });
  const { begin, beginning, atBench, trouble } = useNextTest(position);
  if (data === undefined || data.version === 0 || data.procedure !== procedure || data.done[0]?.record !== record) {
    return null;
  }
  const next = data.ahead[0];
  const { open } = data;
  return (
    <section className="mt-3" aria-label="Next of the series" data-next-of-series>
      <p className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {open !== undefined ? (
          <Button onClick={() => atBench(open.run)}>Go on with {open.serial}</Button>
        ) : next !== undefined && data.taken === undefined ? (
          <Button disabled={beginning} onClick={() => begin(next)}>
            {beginning ? 'Opening…' : `Test the next: ${next}`}
          </Button>
        ) : (
          <span>The series is at its end.</span>
        )}
        <Link className="font-semibold text-lake underline underline-offset-4" to={seriesAddress(position)}>
          The series
        </Link>
      </p>
      {trouble === null ? null : <Notice>{trouble}</Notice>}
    </section>
  );
}
