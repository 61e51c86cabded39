import type { PointView } from '../../api/types';

/** One fibre as it was found: where it comes out, and how many places that is from where it should. */
export interface Thread {
  readonly fibre: number;
  readonly arrives: number;
  readonly should: number;
  readonly right: boolean;
  readonly words: string;
}

/** The threads of a step, in the order of their fibres. */
export function threadsOf(points: readonly PointView[]): Thread[] {
  const arrives = new Map(
    points.filter((p) => p.point.startsWith('arrives#')).map((p) => [p.row ?? 0, p.counting?.value ?? 0]),
  );
  return points
    .filter((p) => p.point.startsWith('off#') && p.row !== undefined)
    .map((p) => {
      const fibre = Math.round(p.row ?? 0);
      const at = arrives.get(p.row ?? 0) ?? 0;
      const aim = at - (p.counting?.value ?? 0);
      const right = p.verdict === 'pass';
      return {
        fibre,
        arrives: at,
        // One that comes out twice is off by more than there are places: where it should is not told by that.
        should: aim < 1 ? at : aim,
        right,
        words:
          /\((.*)\)/.exec(p.label)?.[1] ??
          (right
            ? ''
            : at === 0
              ? 'no light comes out'
              : aim < 1
                ? 'twice, or where another does'
                : `has to come out at ${String(aim)}`),
      };
    })
    .sort((a, b) => a.fibre - b.fibre);
}
