import type { PointView, StepView } from '../../api/types';

/** One secondary at a test block. */
export interface BlockRow {
  readonly lane: string;
  readonly isShorted: boolean;
  readonly isOpen: boolean;
  /** Whether it is the link to open next. */
  readonly isNext: boolean;
  /** A on the meter's side as measured last; undefined before. */
  readonly figure: string | undefined;
  readonly state: 'carries' | 'shorted' | 'open' | 'live';
  readonly words: string;
}

type Known = Pick<StepView, 'id' | 'method' | 'lanes' | 'confirmations'>;

/**
 * How the block stands by what was measured and confirmed: a secondary is shorted once its current was seen to fall,
 * until it was seen to return; a link is open once that was confirmed, until the step that closes them is.
 */
export function blockOf(
  steps: readonly Known[],
  points: (step: string) => readonly Pick<PointView, 'lane' | 'point' | 'verdict' | 'counting'>[],
): BlockRow[] {
  const short = steps.find((s) => s.method === 'ct.shorted');
  const restore = steps.find((s) => s.method === 'ct.restored');
  const opening = steps.find((s) => s.id === 'open');
  const closed = (steps.find((s) => s.id === 'close')?.confirmations ?? []).some((c) => c.confirmed);
  const current = (of: Known | undefined, lane: string) =>
    of === undefined ? undefined : points(of.id).find((p) => p.lane === lane && p.point === 'current');
  // Links are opened only when all secondaries are shorted: no one is told to open one before.
  const lanes = (short?.lanes ?? []).filter((lane) => current(short, lane.id) !== undefined);
  let found = !lanes.every((lane) => current(short, lane.id)?.verdict === 'pass');
  return lanes.map((lane): BlockRow => {
    const fell = current(short, lane.id);
    const came = current(restore, lane.id);
    const back = came?.verdict === 'pass' && came.counting !== undefined;
    const isShorted = fell?.verdict === 'pass' && fell.counting !== undefined && !back;
    const ticked = opening?.confirmations.find((c) => c.id === lane.id.toLowerCase())?.confirmed === true;
    const isOpen = ticked && !closed;
    const isNext = !found && isShorted && !ticked;
    found ||= isNext;
    const figure = (back ? came : fell)?.counting?.figure ?? undefined;
    const failed = fell?.verdict === 'fail';
    return {
      lane: lane.id,
      isShorted,
      isOpen,
      isNext,
      figure,
      state: isOpen ? 'open' : isShorted ? 'shorted' : failed ? 'live' : 'carries',
      words: isOpen
        ? 'link open'
        : isNext
          ? 'open this link next'
          : isShorted
            ? 'shorted'
            : failed
              ? 'not shorted: leave its link closed'
              : back
                ? 'in service again'
                : 'in service',
    };
  });
}

/** Names of places that stand too near each other for a name each, px. */
const NEAR = 22;

/** Names beside their places: those that would lie over each other share one, at the place farthest right. */
export function together(
  places: readonly { readonly id: string; readonly x: number; readonly y: number }[],
): { name: string; x: number; y: number }[] {
  const groups: { name: string; x: number; y: number }[] = [];
  for (const p of places) {
    const near = groups.find((g) => Math.abs(g.x - p.x) < NEAR && Math.abs(g.y - p.y) < NEAR);
    if (near === undefined) {
      groups.push({ name: p.id, x: p.x, y: p.y });
    } else {
      near.name += `, ${p.id}`;
      near.x = Math.max(near.x, p.x);
    }
  }
  return groups;
}
